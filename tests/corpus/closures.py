"""Closures: several alive at once, names of enclosing functions read, written and deleted."""
def make_counter(start, step=1):
    count = start
    def tick():
        nonlocal count
        count = count + step
        return count
    def reset():
        nonlocal count
        count = start
    return tick, reset
reef, reset_reef = make_counter(0)
mud, _ = make_counter(100, 10)
print(reef(), mud(), reef(), mud())
reset_reef()
print(reef())
def outer(names):
    total = 0
    def middle(extra):
        def inner(name):
            nonlocal total
            total += len(name) + extra
            return total
        return [inner(name) for name in names]
    return middle(1), total
print(outer(["pier", "mud"]))
def gone():
    tide = 1
    def look():
        return tide
    before = look()
    del tide
    try:
        look()
    except NameError as wrong:
        return before, str(wrong)
print(gone())
