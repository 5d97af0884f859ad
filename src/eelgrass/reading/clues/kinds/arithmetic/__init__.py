"""Whole numbers, floats and rounding."""
