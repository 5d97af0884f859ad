"""Breakpoints, notes and claims: where they hit in a recording."""
