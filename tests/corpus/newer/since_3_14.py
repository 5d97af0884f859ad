"""Python 3.14: templates, handlers without brackets, annotations that are worked out late."""
import annotationlib
class Boat:
    crew: Person
    length: float = 3.5
    def meet(self, other: Boat) -> Person:
        return other
def asked(level: noisy("level")) -> noisy("result"):
    return level
def noisy(what):
    print("asked for", what)
    return int
boat = Boat()
print(asked(3), boat.meet(boat) is boat, annotationlib.get_annotations(Boat, format=annotationlib.Format.STRING))
class Person:
    pass
print(asked.__annotations__, Boat.__annotations__)
for text in ("12", "mud", None):
    try:
        print(int(text))
    except ValueError, TypeError:
        print("no number", text)
name, level = "reef", 2.75
said = t"{name!r:>8} at {level:.1f} m"
print(said.strings, [(its.expression, its.value, its.conversion, its.format_spec) for its in said.interpolations])
print(tuple(place * 2 for place in range(3)), all(place for place in (1, 0, 2)))
def left(levels):
    for level in levels:
        try:
            level /= 0
        except ZeroDivisionError:
            continue
        finally:
            levels = levels[1:]
    return levels
print(left([1, 2]))
tide: int
