"""Exercises, cases and lessons."""
