"""A seed bank: exceptions of every plain kind, finally, with, chained errors, an error that ends the program."""


class Empty(Exception):
    pass


class Jar:
    def __init__(self, name, seeds):
        self.name = name
        self.seeds = seeds

    def __enter__(self):
        print("open", self.name)
        return self

    def __exit__(self, kind, error, trace):
        print("close", self.name, kind.__name__ if kind else None)
        return kind is Empty

    def take(self, number):
        if number > self.seeds:
            raise Empty(self.name)
        self.seeds -= number
        return number


def plant(jar, wanted):
    planted = 0
    try:
        for number in wanted:
            planted += jar.take(number)
    except Empty as empty:
        print("no more in", empty)
        return -planted
    else:
        planted *= 10
    finally:
        print("tidy", jar.name)
    return planted


def first_free(beds):
    for bed in beds:
        try:
            if beds[bed] == 0:
                return bed
        finally:
            last = bed
    return None


results = [plant(Jar("north", 9), [4, 5]), plant(Jar("pier", 3), [2, 2])]
print(results, first_free({"a": 2, "b": 0, "c": 1}))
with Jar("reef", 1) as jar:
    jar.take(2)
    print("not reached")
try:
    try:
        [][1]
    except IndexError as error:
        raise KeyError("bed") from error
except KeyError as error:
    message = str(error)
print(message)
jars = {"north": Jar("north", 1)}
print(jars["nowhere"].seeds)
