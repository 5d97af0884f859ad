from collections import defaultdict
from functools import cached_property
from reading import look
class Beds:
    def __init__(self):
        self.near = defaultdict(list)
    @cached_property
    def deepest(self):
        return len(self.near)
def first_of(table, key):
    return look(table, key)
