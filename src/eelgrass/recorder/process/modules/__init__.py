"""The modules of a program: which are its own, how they are woven, and what else is put in their way."""
