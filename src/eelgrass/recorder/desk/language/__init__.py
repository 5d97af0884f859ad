"""Words of Tk: lists as text, numbers, colours, places in a text."""
