"""Working out Python's expressions over the recorded state."""
