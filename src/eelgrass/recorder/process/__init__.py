"""The child process around the woven program: order, limits, streams, imports, the end."""
