"""What goes on paper."""
