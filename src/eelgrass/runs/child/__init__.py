"""The process that a program runs in: where it works, how it is started, watched and heard, what it leaves."""
