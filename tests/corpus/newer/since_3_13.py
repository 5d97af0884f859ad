"""Python 3.13: locals as they were, defaults of type parameters, copies by replacement."""
import copy
from dataclasses import dataclass
@dataclass
class Gauge[T = float]:
    site: str
    level: T
def look(level):
    before = locals()
    level += 1
    inner = 2
    after = locals()
    exec("level = 99; made = 1")
    return before, after, level, sorted(locals())
print(look(4))
gauge = copy.replace(Gauge("reef", 2.0), level=3.5)
print(gauge, [gauge.site for gauge in (gauge,)], Gauge.__type_params__)
def counted(names):
    seen = {}
    for name in names:
        seen[name] = seen.get(name, 0) + 1
        if any(count > 1 for count in seen.values()):
            return seen, locals()["name"]
    return seen, None
print(counted(["mud", "reef", "mud"]))
print(gauge.lvel)
