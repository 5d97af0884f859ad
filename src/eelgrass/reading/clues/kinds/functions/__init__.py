"""Functions and what they give."""
