"""Returns, breaks and continues inside try and finally."""
def stubborn():
    try:
        return "from try"
    finally:
        return "from finally"
def changed():
    level = 1
    try:
        return level
    finally:
        level = 2
def loops():
    seen = []
    for place in range(4):
        try:
            if place == 1:
                continue
            if place == 3:
                break
            seen.append(place)
        finally:
            seen.append("f")
    else:
        seen.append("else")
    return seen
def swallow():
    while True:
        try:
            1 / 0
        finally:
            break
    return "swallowed"
def nested():
    try:
        try:
            raise KeyError("a")
        except KeyError:
            raise ValueError("b") from None
        finally:
            print("inner")
    except ValueError as wrong:
        return repr(wrong), wrong.__suppress_context__
    else:
        return "else"
print(stubborn(), changed(), loops(), swallow(), nested())
