"""The call stack as rows to be shown."""
