"""Depths: the call frames with their scopes and values."""
