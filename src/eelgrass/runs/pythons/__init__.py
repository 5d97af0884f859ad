"""Which Pythons there are, and which runs a program."""
