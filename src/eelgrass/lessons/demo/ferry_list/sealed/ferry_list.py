# Bay of Linnet: the little ferry takes eight people.
# An empty line says that nobody else is waiting.

SEATS = 8


def ask_party(number):
    answer = input("People in party " + str(number) + ": ")
    if answer == "":
        return 0
    return int(answer)


def fill_ferry():
    aboard = 0
    number = 1
    parties = []
    while aboard < SEATS:
        size = ask_party(number)
        if size == 0 or aboard + size > SEATS:
            break
        aboard = aboard + size
        parties.append(size)
        number = number + 1
    return parties


parties = fill_ferry()
print("aboard:", sum(parties), "of", SEATS)
print("free seats:", SEATS - sum(parties))
