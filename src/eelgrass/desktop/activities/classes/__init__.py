"""A class set at work."""
