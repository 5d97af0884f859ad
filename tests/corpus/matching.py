"""Structural pattern matching with every kind of pattern."""
class Boat:
    __match_args__ = ("name", "berth")
    def __init__(self, name, berth):
        self.name = name
        self.berth = berth
LIMIT = type("Limit", (), {"most": 9})
def describe(thing):
    match thing:
        case None | True:
            return "nothing or true"
        case 0 | -1 | 2.5:
            return "a number of ours"
        case "reef" as place:
            return "place " + place
        case LIMIT.most:
            return "the limit"
        case []:
            return "empty"
        case [one]:
            return f"one {one}"
        case [first, second, *rest] if rest:
            return f"many {first} {second} {rest}"
        case (int(left), str() as right):
            return f"pair {left} {right}"
        case {"kind": "crab", "legs": legs, **others}:
            return f"crab {legs} {others}"
        case Boat("Tern", berth=berth):
            return f"tern at {berth}"
        case Boat(name=name, berth=[row, *_]):
            return f"{name} in row {row}"
        case str(text) | bytes(text):
            return f"text {text!r}"
        case _:
            return "something else"
things = [None, -1, 2.5, "reef", 9, [], ["x"], [1, 2, 3], (4, "b"), {"kind": "crab", "legs": 8, "tag": 1}]
for thing in [*things, Boat("Tern", 3), Boat("Auk", [2, 1]), b"mud", {"kind": "shrimp"}, [1, 2]]:
    print(describe(thing))
