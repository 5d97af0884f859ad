"""Decisions and truth values."""
