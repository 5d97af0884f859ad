"""A program of two modules, with closures and unpacking."""
from stations import Station, counter, names

count = counter()
for name in names():
    station = Station(name)
    station.visits = count()
    print(station.label(), station.visits)
first, (second, *rest) = 1, (2, 3, 4)
names_of = [station_name.upper() for station_name in names() if len(station_name) > 4]
if (size := len(names_of)) > 1:
    print(size, first, second, rest, names_of)
from beds import Beds, first_of

beds = Beds()
beds.near["reef"].append("pier")
for other in beds.near["mud"]:
    print(other)
shallow = beds.deepest + beds.deepest
lone = first_of(beds.near, "sand")
print(dict(beds.near), vars(beds).keys(), shallow, lone)
from callbacks import each, once
from stores import seen, shoots, line, adding, dropping, popping, putting, ending, leaving

each(adding, [500, 501, 3])
each(dropping, [1, 2, 999])
each(putting, ["mud", "new"])
each(popping, ["k3", "k4"])
once(ending)
once(leaving)
print(len(seen), len(shoots), line)
