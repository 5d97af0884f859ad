# Bay of Linnet: volunteers count eelgrass shoots in the beds.
# The report says how many shoots there are in all.


def total_shoots(counts):
    total = 0
    for bed in range(1, len(counts)):
        total = total + counts[bed]
    return total


def report(counts):
    total = total_shoots(counts)
    print("beds:", len(counts))
    print("shoots:", total)


report([12, 7, 9, 15])
