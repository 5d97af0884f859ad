"""What to draw of a value."""
