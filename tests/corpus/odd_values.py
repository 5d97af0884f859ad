"""Values that are hard to show: huge and special numbers, odd text, shared and circular lists, methods that would make noise."""


class Noisy:
    __slots__ = ("level", "spare")

    def __init__(self, level):
        self.level = level

    def __repr__(self):
        print("repr was called")
        return "noisy"

    def __eq__(self, other):
        print("== was called")
        return False

    def __hash__(self):
        print("hash was called")
        return 1

    def __len__(self):
        print("len was called")
        return 0

    def __getattribute__(self, name):
        if name != "level":
            print("getattribute", name)
        return object.__getattribute__(self, name)


huge = 7**60
negative = -(2**63)
special = [float("inf"), -0.0, 1e-320, 3 + 4j]
odd = "tab\tquote'\"\u2028\ud800"
raw = b"\x00\xff"
circle = [1, 2]
circle.append(circle)
table = {1: "int", "1": "text", 1.5: None, True: "one", (1, "a"): [1]}
noisy = Noisy(3)
noisy.level = 4
shelf = [noisy, noisy]
shelf[0] = Noisy(shelf[1].level + 1)
empty = [(), [], {}, set(), "", frozenset({2})]
odd_bytes = bytearray(b"ab")
nothing = None
nested = ((1, (2, (3, (4, (5, (6,)))))),)
print(huge, negative, special, ascii(odd), raw, circle, table, empty, nested)
