"""What is true at a step: frames, scopes, names, values."""
