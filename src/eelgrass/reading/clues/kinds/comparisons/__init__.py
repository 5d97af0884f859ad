"""Comparing what is of another kind."""
