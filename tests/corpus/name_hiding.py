"""One name in many scopes: built-in names hidden, loops that leave their name, parameters that shadow."""
len_before = len
tide = "module"


def len(thing):
    return len_before(thing) + 100


def outer(tide):
    def inner():
        tide = "inner"
        return tide

    for tide in [tide + "!", inner()]:
        pass
    return tide, inner()


class Bay:
    tide = "class"
    copied = [tide for _ in range(1)]

    def look(self):
        return tide, self.tide


print(len("reef"), outer("parameter"), Bay().look(), Bay.copied)
del len
print(len("reef"), tide)
for sum in range(2):
    print = print
try:
    sum([1])
except TypeError as wrong:
    print(wrong)
del sum
print(sum([1, 2]), [tide for tide in "ab"], tide)
