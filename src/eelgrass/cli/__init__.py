"""Every question about a recording from a shell."""
