"""A simulated board, for programs that are meant for a small device: pins, lights, a display, sensors, buttons."""
