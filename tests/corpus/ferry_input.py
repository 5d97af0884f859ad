"""Reads more input than there is: prompts, input, an exception at the end of input that nobody catches."""
import sys

total = 0
for number in range(1, 4):
    line = input(f"Party {number}? ")
    total += int(line)
    print("aboard", total)
rest = sys.stdin.readline().strip()
print("note:", rest, file=sys.stderr)
while True:
    answer = input("More? ")
    if answer == "no":
        break
print("never said")
