"""Containers of the standard library, and C code that changes what it is handed."""
import copy
import itertools
from collections import Counter, OrderedDict, defaultdict, deque

sightings = ["crab", "goby", "crab", "seahorse", "goby", "crab"]
tally = Counter(sightings)
tally.update(["goby"])
by_letter = defaultdict(list)
for animal in sightings:
    by_letter[animal[0]].append(animal)
line = deque([1, 2, 3], maxlen=4)
line.append(4)
line.appendleft(0)
line.rotate(1)
order = OrderedDict(a=1, b=2)
order.move_to_end("a")
nest = [[1, 2], [3]]
shallow, deep = nest[:], copy.deepcopy(nest)
nest[0].append(9)
pairs = dict(zip("abc", itertools.count(1)))
pairs |= {"d": 4}
pairs.pop("a")
names = set(sightings) - {"goby"}
names ^= {"eel", "crab"}
words = "the tide turns at the sluice".split()
words.sort(key=len, reverse=True)
words[::2] = [word.upper() for word in words[::2]]
buffer = bytearray(b"reef")
buffer += b"!"
text = ""
for number, word in enumerate(words):
    text += word[0] * number
print(tally.most_common(2), dict(by_letter), list(line), list(order), nest, shallow, deep, pairs, sorted(names), words, text)
