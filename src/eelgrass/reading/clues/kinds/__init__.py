"""The kinds of clues, a module for each, in a folder for each family."""
