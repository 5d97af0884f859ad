"""Exercises as their files have them, and what is planned in them."""
