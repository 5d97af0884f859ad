"""Operators of a class's own, in place and reflected, comparisons and truth."""
import functools


@functools.total_ordering
class Weight:
    def __init__(self, grams):
        self.grams = grams

    def __repr__(self):
        return f"Weight({self.grams})"

    def __matmul__(self, other):
        return Weight(self.grams * other.grams)

    def __imul__(self, by):
        self.grams *= by
        return self

    def __neg__(self):
        return Weight(-self.grams)

    def __bool__(self):
        return self.grams != 0

    def __lt__(self, other):
        return self.grams < other.grams

    def __eq__(self, other):
        return self.grams == other.grams

    def __hash__(self):
        return hash(self.grams)

    def __index__(self):
        return self.grams


ray, crab = Weight(3), Weight(2)
crab *= 4
print(ray @ crab, -ray, not Weight(0), ray < crab < Weight(9), max(ray, crab), [5, 6, 7, 8][ray], {ray: 1}[Weight(3)])
while ray:
    ray.grams -= 1
print("light" if not ray else "heavy", sorted([Weight(2), Weight(1)]), ray in [Weight(0)])
