"""Threads: what each is doing, what it waits for, what it holds, and who waits for whom in a circle."""
