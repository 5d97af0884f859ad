"""What runs in the child process: weaving hooks into a program, running it, writing what happens.

Standard library only, and nothing else of Eelgrass: a learner's program shares its process with this package.
"""
