"""Making an exercise, and what is still missing in one."""
