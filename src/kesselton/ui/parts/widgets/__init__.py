"""Input fields, tables, cards, dialogs, theme."""
