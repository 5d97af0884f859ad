"""Tides: while loops, break, else, nested conditions, strings, slices, lists changed in place, C code that changes lists."""
import heapq
import random

levels = [3, 1, 4, 1, 5, 9, 2, 6]
low = 0
while low < len(levels) and levels[low] != 9:
    low += 1
else:
    print("while ended at", low)
for place in range(3):
    if levels[place] == 4:
        print("four at", place)
        break
else:
    print("no four")
levels[1:3] = [7, 7, 7]
levels.insert(0, -1)
levels.remove(9)
levels.reverse()
copy = levels[:]
same = levels
same.sort()
heap = []
for level in copy:
    heapq.heappush(heap, level)
random.seed(4)
random.shuffle(copy)
text = ""
for letter in "linnet":
    if letter in "aeiou":
        text += letter.upper()
    elif letter == "n":
        text = text + "-"
    else:
        text += letter
x = y = [0]
x += [1]
y = y + [2]
n = 3
while n:
    n -= 1
    if n == 1:
        continue
print(text, copy, levels, heap, x, y, n)
