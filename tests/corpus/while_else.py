"""while with else, break and continue, pass and nested loops."""
left = 3
while left:
    left -= 1
    if left == 1:
        continue
    print("left", left)
else:
    print("none left")
for bed in range(3):
    for row in range(3):
        if row == bed:
            break
        print(bed, row)
    else:
        print("no break", bed)
        continue
    pass
while True:
    try:
        left += 1
        if left > 2:
            break
    finally:
        print("turn", left)
for _ in []:
    pass
else:
    print("empty")
if left > 5:
    print("many")
elif left == 3:
    print("three")
else:
    print("few")
