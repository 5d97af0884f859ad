"""Weaving hooks into a program's syntax tree."""
