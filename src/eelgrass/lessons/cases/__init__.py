"""What a program is run on, and one call of it alone."""
