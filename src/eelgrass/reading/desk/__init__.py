"""The simulated desk of a program with windows: what it looked like at any step, and what called the program's code."""
