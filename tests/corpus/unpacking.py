"""Star unpacking, nested targets, swaps and chained assignment."""
first, *middle, last = "sluice"
print(first, middle, last)
(row, (place, *rest)), [flag] = (1, (2, 3, 4)), [True]
print(row, place, rest, flag)
left, right = 1, 2
left, right = right, left
same = other = [left]
other.append(right)
print(same, [*same, *"ab"], {**{"tide": 1}, "ebb": 2}, (*same,))
beds = [0, 0, 0]
beds[0], beds[1:] = 5, [6, 7]
for index, (name, size) in enumerate([("reef", 3), ("mud", 4)]):
    beds[index] += size
print(beds)
def spread(one, /, two, *more, three=3, **others):
    return one, two, more, three, others
print(spread(*[1, 2, 4], **{"three": 9, "x": 1}), spread(1, two=2))
try:
    one, two = [1]
except ValueError as wrong:
    print(wrong)
