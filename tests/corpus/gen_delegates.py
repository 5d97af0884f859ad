"""Generators that hand on to others, woven and built in."""
def shore(name, count):
    for place in range(count):
        got = yield name + str(place)
        if got:
            print("note", got)
    return count * 10
def walk():
    first = yield from shore("reef", 2)
    second = yield from shore("mud", 1)
    yield from ["pier", "sluice"]
    yield from map(str.upper, ["north"])
    return first + second
route = walk()
print(next(route), route.send("wet"), list(route))
def outer():
    total = yield from walk()
    print("total", total)
for stop in outer():
    if stop == "pier":
        break
