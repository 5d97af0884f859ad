"""Generators that are sent values, thrown into and closed."""
def gauge(start):
    level = start
    while True:
        try:
            change = yield level
            level = level + (change or 1)
        except ValueError as wrong:
            level = 0
            print("reset by", wrong)
        finally:
            print("passed on", level)
tide = gauge(4)
print(next(tide), tide.send(3), next(tide))
print(tide.throw(ValueError("storm")))
tide.close()
def short():
    yield 1
    return "ebb"
reader = short()
next(reader)
try:
    next(reader)
except StopIteration as end:
    print("ended with", end.value)
print(list(short()), next(short(), None))
