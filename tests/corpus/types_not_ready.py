"""Objects of types that the interpreter has not made ready."""


def tide(day):
    return day + 1


places = tide.__code__.co_positions()
lines = tide.__code__.co_lines()
kinds = [type(its).__mro__ for its in (places, lines)]
print(kinds)
print(iter(places) is places)
print(iter(lines) is lines)
print(tide(2))
