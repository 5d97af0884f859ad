"""The stations of the bay."""
ALL = ["pier", "sluice", "mud bank"]


class Station:
    def __init__(self, name):
        self.name = name

    def label(self):
        return "<" + self.name + ">"


def names():
    return list(ALL)


def counter():
    count = 0

    def increase():
        nonlocal count
        count += 1
        return count

    return increase
