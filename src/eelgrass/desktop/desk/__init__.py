"""The simulated desk on the screen: the program's windows as they were, and what was done there."""
