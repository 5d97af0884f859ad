"""Exceptions."""
