"""Collecting and counting."""
