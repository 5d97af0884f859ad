"""The program's objects: their numbers, and what is in them."""
