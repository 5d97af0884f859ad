"""Defaults and functions in functions."""
