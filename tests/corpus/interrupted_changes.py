"""Changes in a statement that an exception ends, and calls that are held for a frame."""
import asyncio
t = ([1],)
try:
    t[0] += [2]
except TypeError as error:
    print(error)
xs = [0]
def gen():
    yield 1
    yield 2
    raise ValueError("dry")
try:
    xs.extend(gen())
except ValueError:
    after = len(xs)
class Row:
    def __init__(self):
        self.rows = []
        self.empty = []
row = Row()
def f():
    try:
        row.empty.pop()
    except IndexError:
        return 5
row.rows.append(f())
row.rows.append(7)
print(xs, t, row.rows)
def broken(rows):
    rows.append(9)
    rows[0] = rows.missing
try:
    broken(row.rows)
except AttributeError:
    print(row.rows)
class Tide:
    def __init__(self):
        self.a = []
    async def fill(self, name):
        for number in range(3):
            self.a.append(await wait(name, number))
async def wait(name, number):
    await asyncio.sleep(0)
    return name, number
async def main():
    tide = Tide()
    other = Tide()
    await asyncio.gather(tide.fill("x"), other.fill("y"), tide.fill("z"))
    return tide, other
tide, other = asyncio.run(main())
print(tide.a, other.a)
def turns(rows):
    rows.append((yield))
    rows.append((yield))
one, two = [], []
a, b = turns(one), turns(two)
next(a), next(b)
a.send(1)
b.send(2)
for it, value in ((a, 3), (b, 4)):
    try:
        it.send(value)
    except StopIteration:
        print(one, two)
table = {"k": [1]}
try:
    table["k"] += 5
except TypeError:
    print(table)
try:
    row.rows += gen()
except ValueError:
    print(row.rows)
try:
    xs[1:2] = gen()
except ValueError:
    print(xs)
try:
    row.rows.sort(key=lambda value: value.nothing)
except AttributeError:
    print(len(row.rows))
class Log(list):
    def extend(self, entries):
        super().extend(entries)
    def fill(self, entries):
        list.extend(self, entries)
class Book(dict):
    def update(self, pairs):
        super().update(pairs)
log, book = Log(), Book()
def pairs():
    yield "a", 1
    yield "b", 2
    raise ValueError("dry")
grow, fill = log.extend, log.fill
for call, given in ((log.extend, gen()), (book.update, pairs()), (grow, gen()), (fill, gen()), (xs.extend, gen())):
    try:
        call(given)
    except ValueError:
        print(log, book)
try:
    log.extend(gen())
except ValueError:
    print(log, xs)
end = 0
