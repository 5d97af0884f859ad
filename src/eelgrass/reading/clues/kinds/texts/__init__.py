"""Text that is not prepared."""
