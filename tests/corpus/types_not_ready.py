"""Objects of types that the interpreter has not made ready."""
def tide(): pass
places = tide.__code__.co_positions()
lines = tide.__code__.co_lines()
print(type(places).__mro__, len(list(places)) > 1, len(list(lines)) > 0)
