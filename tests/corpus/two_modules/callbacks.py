def each(give, things):
    for thing in things:
        give(thing)
def once(give):
    return give()
