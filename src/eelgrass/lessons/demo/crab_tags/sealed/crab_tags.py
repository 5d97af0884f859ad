# Bay of Linnet: crabs seen at the reef on two days.
# Day two adds to day one; both lists are wanted.


def read_sightings(file_name):
    days = []
    with open(file_name) as file:
        for line in file:
            days.append(line.split())
    return days


def merge(seen, sightings):
    seen = list(seen)
    for tag in sightings:
        if tag not in seen:
            seen.append(tag)
    return seen


sightings = read_sightings("sightings.txt")
first_day = merge([], sightings[0])
second_day = merge(first_day, sightings[1])

new = len(second_day) - len(first_day)
print("first day:", len(first_day), "crabs")
print("second day:", new, "new crabs")
