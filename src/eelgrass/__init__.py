"""Eelgrass: record a program's whole run, and walk through it forward and back."""

__version__ = "0.1.0"
