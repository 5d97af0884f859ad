"""A program's text, before it runs."""
