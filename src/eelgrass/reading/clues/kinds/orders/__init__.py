"""Searching and sorting."""
