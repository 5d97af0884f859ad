"""The tabs of the bench."""
