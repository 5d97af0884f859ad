# Bay of Linnet: the highest of the tide levels that are typed in.
# An empty line ends them.


def highest(levels):
    top = levels[0]
    for level in levels:
        if level > top:
            top = level
    return top


levels = []
while True:
    answer = input("level in cm: ")
    if answer == "":
        break
    levels.append(int(answer))
print("highest:", highest(levels))
