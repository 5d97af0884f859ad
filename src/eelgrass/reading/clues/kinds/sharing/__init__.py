"""Sharing and copying."""
