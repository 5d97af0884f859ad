"""Building a trace from the events of a recorded program, chunk by chunk."""
