"""Objects that are a number or a text, and hold more besides."""
from datetime import date, datetime, timedelta
from decimal import Decimal
from enum import Enum, IntEnum
from fractions import Fraction
class Depth(float):
    unit = "m"
class Count(int):
    def __new__(cls, number, site):
        made = super().__new__(cls, number)
        made.site = site
        return made
class Name(str):
    __slots__ = ()
class Site(IntEnum):
    REEF = 1
    MUD = 2
class Tide(Enum):
    HIGH = "high"
depth = Depth(2.5)
deeper = Depth(depth + 1)
count = Count(3, "reef")
count.site = "mud"
count.noted = [Name("Smew"), Depth(0.5)]
count += 1
sites = {Site.REEF: Count(1, "reef"), Site.MUD: depth}
sites[Site.MUD] = deeper
high = Tide.HIGH
price = Decimal("1.50") * 3
day = date(2026, 5, 1)
later = day + timedelta(days=2)
moment = datetime(2026, 5, 1, 12, 30)
share = Fraction(1, 3)
rows = [(Depth(level), Name(str(level))) for level in (1, 2)]
print(depth, deeper, count, sites, high, price, later, moment, share, rows)
