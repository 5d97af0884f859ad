# Bay of Linnet: seahorses seen at each place.


def tally(sightings):
    counts = {}
    for place in sightings:
        counts[place] = counts[place] + 1
    return counts


def report(sightings):
    counts = tally(sightings)
    for place in counts:
        print(place, counts[place])


report(["reef", "pier", "reef", "mud bank"])
