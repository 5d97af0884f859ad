"""At the wrong depth, leaving early."""
