"""Where a value came from, and what kept a line from running: dynamic slices of a recording."""
