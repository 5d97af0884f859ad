"""Changing what is being gone through, and what is used up."""
