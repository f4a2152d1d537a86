"""The air: outside the heads, in the shell, through holes, around the rim."""
