"""Commands that ask something of a recording, or of a program that they run for it."""
