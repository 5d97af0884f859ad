"""Crabs with tags: classes, fields, inheritance, class fields, methods that change lists."""


class Crab:
    """A tagged crab."""

    legs = 8
    known = []

    def __init__(self, tag, place):
        self.tag = tag
        self.place = place
        self.moves = 0
        Crab.known.append(tag)

    def move(self, place):
        if place == self.place:
            return False
        self.place = place
        self.moves += 1
        return True

    def __repr__(self):
        return f"Crab({self.tag!r}, {self.place!r})"


class Hermit(Crab):
    def __init__(self, tag, place, shell=None):
        super().__init__(tag, place)
        self.shell = shell

    def move(self, place):
        moved = super().move(place)
        if moved and self.shell is None:
            self.shell = "whelk"
        return moved


def survey(crabs, places):
    moved = []
    for crab, place in zip(crabs, places):
        if crab.move(place):
            moved.append(crab)
    return moved


crabs = [Crab("mo", "reef"), Hermit("ti", "pier"), Crab("ka", "reef")]
moved = survey(crabs, ["pier", "mud", "reef"])
print(moved, Crab.known)
crabs[0].moves, crabs[1].moves = crabs[1].moves + 5, crabs[0].moves
setattr(crabs[2], "tag", "lu")
del crabs[1].shell
crabs.pop(0)
print([crab.moves for crab in crabs], crabs)
