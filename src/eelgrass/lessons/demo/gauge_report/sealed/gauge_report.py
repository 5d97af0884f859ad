# Bay of Linnet: which tide gauges stand high today?
# A reading above 9 is a fault and does not count.


def load(file_name):
    stations = {}
    with open(file_name) as file:
        for line in file:
            name, rest = line.split(":")
            readings = []
            for word in rest.split():
                readings.append(float(word))
            stations[name] = readings
    return stations


def mean_level(levels):
    total = 0
    good = 0
    for level in levels:
        if level > 9:
            continue
        total = total + level
        good = good + 1
    return total / good


def report(stations):
    for name in stations:
        mean = mean_level(stations[name])
        if mean > 2.4:
            print(name, "high")


gauges = load("gauges.txt")
report(gauges)
