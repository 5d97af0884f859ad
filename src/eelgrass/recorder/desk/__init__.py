"""A simulated desk: what stands in for the windows of a program where there is no screen, or where they are to repeat.

The standard library's own `tkinter` and `turtle` run on it unchanged; only what they call in C, the interpreter of Tk's
commands, is answered here, as far as beginners' programs go. Time is simulated, and what a person does is a script.
"""
