"""A recursion without an end: the traceback tells how deep it went."""


def dive(depth):
    return dive(depth + 1) + 1


def careful(depth):
    if depth > 40:
        raise ValueError("too deep")
    careful(depth + 1)


try:
    careful(0)
except ValueError as error:
    print(error)
dive(0)
