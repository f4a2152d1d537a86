"""The open workshop: document, undo, heads in stock, log entries."""
