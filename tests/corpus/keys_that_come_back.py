"""Sets and dictionaries of which all keys go, and the same or others come back, many at once."""

beds = {number: f"bed {number}" for number in range(40)}
beds.clear()
beds |= {number: number * 2 for number in range(40)}
print(len(beds), beds[39])
beds = dict(beds)
for number in range(40):
    del beds[number]
print(beds)
beds.update((number, -number) for number in range(20, 60))
print(list(beds)[0], beds[59])
beds.popitem()
beds[20] = "again"
del beds[20]
beds[20] = "at the end"
print(list(beds)[-1])

seen = set(range(50))
seen &= {3}
seen.discard(3)
print(seen)
seen |= set(range(45, 90))
seen -= set(range(40, 89))
print(sorted(seen))
waiting = set()
for hour in range(60):
    waiting = {tide for tide in waiting if tide > hour}
    waiting.add(hour + 2)
    other = waiting
    other ^= {hour, hour + 1}
print(sorted(waiting), other is waiting)
