"""Breakpoints, notes and claims: their list, the dialog of one, and what the notes say."""
