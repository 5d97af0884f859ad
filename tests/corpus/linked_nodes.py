"""Linked nodes: made, walked, reversed, cut, and one in a ring."""
class Node:
    def __init__(self, value, following=None):
        self.value = value
        self.following = following
def chain(values):
    head = None
    for value in reversed(values):
        head = Node(value, head)
    return head
def listed(head):
    found, seen = [], []
    while head is not None and not any(head is other for other in seen):
        seen.append(head)
        found.append(head.value)
        head = head.following
    return found
def turned(head):
    before = None
    while head:
        head.following, before, head = before, head, head.following
    return before
head = chain(["pier", "reef", "mud"])
print(listed(head))
head = turned(head)
print(listed(head))
head.following.following.following = head
print(listed(head))
head.following = None
print(listed(head))
