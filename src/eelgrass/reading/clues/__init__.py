"""What looks like a usual mistake, with the moments of the run that show it."""
