"""Input in loops, until the end of it."""
import sys
names = []
while True:
    try:
        name = input("name? ")
    except EOFError:
        print("no more")
        break
    if not name.strip():
        continue
    names.append(name)
    if name == "rest":
        names += [line.rstrip() for line in sys.stdin]
print(names, file=sys.stderr)
print(len(names))
