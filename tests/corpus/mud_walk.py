"""Ways out of loops and handlers: continue, break and return through finally and with, errors raised again."""


class Rope:
    def __init__(self, log, name):
        self.log = log
        self.name = name

    def __enter__(self):
        self.log.append("tie " + self.name)

    def __exit__(self, *error):
        self.log.append("untie " + self.name)


def walk(log, places):
    for place in places:
        if place == "creek":
            log.append("round " + place)
            continue
        with Rope(log, place):
            if place == "quicksand":
                return "stuck"
    return "home"


def search(beds):
    found = None
    for bed in beds:
        try:
            found = beds[bed] / bed
        except ZeroDivisionError:
            found = 0
            break
        finally:
            last = bed
    return found, last


def nested():
    try:
        try:
            raise KeyError("inner")
        except KeyError as error:
            raise ValueError("outer") from error
        finally:
            done = "tidy"
    except ValueError as error:
        return done, str(error), type(error.__cause__).__name__


def again(times):
    try:
        if times:
            again(times - 1)
        else:
            raise OSError("low water")
    except OSError:
        if times < 2:
            raise
        return times


log = []
print(walk(log, ["pier", "creek", "quicksand", "reef"]), walk(log, ["creek"]), log)
print(search({1: 2, 0: 1, 2: 4}), nested(), again(3))
again(1)
