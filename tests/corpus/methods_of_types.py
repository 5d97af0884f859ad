"""Methods called by way of their type, which change what they are called on and are handed more."""
class Pile(list):
    def add(self, x, y):
        super().append(x)
        super().insert(0, y)
beds = [3, 1, 2]
pile = Pile([1])
list.append(pile, beds)
print(beds)
list.insert(pile, 0, beds)
pile.add(beds, pile)
d = {}
dict.setdefault(d, "a", beds)
dict.update(d, {"b": pile})
import heapq, random, bisect
random.seed(4)
heapq.heappush(beds, 0)
bisect.insort(beds, 2)
random.shuffle(beds)
list.extend(beds, beds)
print(len(beds))
