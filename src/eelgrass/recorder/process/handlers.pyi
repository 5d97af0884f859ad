def keep_out_of_hooks() -> None:
    """From now on handlers that the program sets wait while a hook is at work."""
