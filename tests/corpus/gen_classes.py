"""Iterators as classes, beside generators as methods."""
class Beds:
    def __init__(self, count):
        self.count = count
    def __iter__(self):
        for place in range(self.count):
            yield place
class Steps:
    def __init__(self):
        self.left = 3
    def __iter__(self):
        return self
    def __next__(self):
        if self.left == 0:
            raise StopIteration
        self.left -= 1
        return self.left
print([bed * 2 for bed in Beds(3)], list(Steps()))
steps = Steps()
first, *rest = steps
print(first, rest, [step for step in (item + 1 for item in Steps())])
class Asked:
    def __init__(self, left):
        self.left = left
        self.times = 0
    def __iter__(self):
        self.times += 1
        print("asked", self.times)
        return self
    def __next__(self):
        self.left -= 1
        if self.left < 0:
            raise StopIteration
        return self.left
late = (tide for tide in Asked(2))
print("made", list(late), sum(tide for tide in Asked(4) for _ in Asked(1)))
