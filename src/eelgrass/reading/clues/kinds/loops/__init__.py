"""Loops and bounds."""
