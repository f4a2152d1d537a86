"""The list of drums, and adding one."""
