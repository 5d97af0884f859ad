"""Commands that judge answers to exercises."""
