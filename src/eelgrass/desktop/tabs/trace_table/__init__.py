"""The trace table: its cells, its columns, filling it in by hand, and taking it out of the window."""
