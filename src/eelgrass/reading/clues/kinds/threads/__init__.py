"""Threads."""
