"""Functions that call themselves."""
