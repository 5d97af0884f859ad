# Bay of Linnet: how often did the water rise from one reading to the next?


def rises(levels):
    count = 0
    place = 0
    while place < len(levels) - 1:
        if levels[place + 1] > levels[place]:
            count = count + 1
        place = place + 1
    return count


print("rises:", rises([21, 25, 24, 30, 31]))
