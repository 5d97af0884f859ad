"""What changes inside objects, and how that is found and told."""
