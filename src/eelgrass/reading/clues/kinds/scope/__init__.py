"""Names and where they are known."""
