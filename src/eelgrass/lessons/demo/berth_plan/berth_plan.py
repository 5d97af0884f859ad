# Bay of Linnet: which berth does a boat get?
# A berth fits when it is at least as long as the boat.

LENGTHS = {"Kittiwake": 6, "Old Moor": 11, "Sandpiper": 4}


def berth_for(boat, berths):
    length = LENGTHS[boat]
    for number in range(len(berths)):
        if berths[number] >= length:
            return number
        else:
            return None


for boat in LENGTHS:
    print(boat, "berth:", berth_for(boat, [4, 9, 12]))
