"""Trace tables and the passes of loops, worked out cell by cell."""
