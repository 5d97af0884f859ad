"""A generator as a context, with an exception thrown through it."""
from contextlib import contextmanager
@contextmanager
def boat(name):
    print("casts off", name)
    try:
        yield name.upper()
    except KeyError as wrong:
        print("lost", wrong)
    finally:
        print("moors", name)
with boat("Kittiwake") as loud:
    print(loud)
with boat("Tern"):
    raise KeyError("oar")
try:
    with boat("Petrel") as other:
        raise OSError("fog")
except OSError as seen:
    print(seen)
