"""Programs made up by hypothesis that change nested, shared containers of all kinds in every way."""

from __future__ import annotations

from hypothesis import strategies as st

_START = """\
import bisect, heapq, operator, random
from collections import Counter, OrderedDict, UserDict, UserList, defaultdict, deque
class Box:
    def __init__(self, items):
        self.items = items
        self.tags = {"reef"}
    def put(self, item):
        self.items.append(item)
        return self.items
class Pile(list):
    def __init__(self, items=()):
        super().__init__(items)
class Shelf(dict):
    def put(self, key, value):
        super().__setitem__(key, value)
class Tags(set):
    pass
def dry(*wet):
    yield from wet
    raise ValueError("dry")
def get(place):
    return rows[place]
rng = random.Random(3)
beds = [3, 1, 2]
pile = Pile([1, 2])
pool = UserList([4])
queue = deque([1, 2], 9)
shoots = {"mo": beds, 1: "one"}
counts = defaultdict(list)
tally = Counter("reef")
shelf = Shelf(k=beds)
order = OrderedDict(a=1, b=pile)
loose = UserDict(a=2)
tags = {1, 2}
marks = Tags("ab")
box = Box(beds)
rows = [beds, shoots, pile, queue]
wide = [n * 7 % 25 for n in range(25)]
heap = sorted(wide)
pond = deque(range(20))
ring = deque(range(20), 20)
deep = Pile(range(20))
seen = set(range(70))
sites = {n: [n] for n in range(20)}
depths = {n + 0.5: n for n in range(20)}
keep, drop, put, off, give, lose = beds.append, wide.pop, seen.add, tags.discard, sites.setdefault, shoots.pop
facts = vars(box)
"""
_LISTS = (
    "beds",
    "box.items",
    "rows[0]",
    "get(0)",
    "shoots['mo']",
    "shelf['k']",
    "pile",
    "counts['n']",
    "get(2)",
    "wide",
    "heap",
    "deep",
)
_DICTS = (
    "shoots",
    "rows[1]",
    "counts",
    "tally",
    "shelf",
    "order",
    "loose",
    "vars(box)",
    "get(1)",
    "order",
    "sites",
    "depths",
)
_SETS = ("tags", "marks", "box.tags", "shoots.setdefault('tags', set())", "seen")
_QUEUES = ("queue", "rows[3]", "pond", "ring")
_numbers = st.one_of(st.integers(-2, 5), st.integers(-22, 30)).map(str)
_values = st.one_of(_numbers, st.sampled_from(("'mo'", "'ray'", "2.0", "True", "None", "(1, 2)", "[7]", "beds", "box")))
_keys = st.sampled_from(("'mo'", "'k'", "'z'", "1", "1.0", "True", "2", "2.0", "(1, 2)", "None"))

_OF_LIST = (
    *("{o}.append({v})", "{o}.extend([{v}, {w}])", "{o}.insert({n}, {v})", "{o}.pop({n})", "{o}.remove({v})"),
    *("{o}.pop()", "{o}.sort(key=str)", "{o}.reverse()", "del {o}[{n}]", "del {o}[{n}:]", "{o}[{n}] = {v}"),
    *("{o}[{n}:{m}] = [{v}]", "{o}[::2] = []", "{o} += [{v}]", "{o}.extend(dry({v}, {w}))", "{o} += dry({v})"),
    *("heapq.heappush({o}, {n})", "heapq.heappop({o})", "heapq.heapreplace({o}, {n})", "heapq.heappushpop({o}, {n})"),
    *("heapq.heapify({o})", "bisect.insort({o}, {n})", "rng.shuffle({o})"),
    *("add = {o}.append; add({v})", "list(map({o}.append, [{v}]))", "operator.setitem({o}, 0, {v})", "{o}.clear()"),
    *("take = iter({o}.pop, {v}); next(take)", "{o}[0] += {n}", "list.append({o}, {v})", "box.put({v})"),
    *(
        "keep = {o}.append; keep({v})",
        "keep({v})",
        "list(map(keep, [{v}, {w}]))",
        "rest = map(keep, [{v}, {w}]); next(rest)",
    ),
    *("drop = {o}.pop", "drop()", "drop({n})", "list(map(drop, [{n}, {m}]))", "next(rest)"),
    *("{o}[9:] = []; {o} *= 2", "({o}, 1)[0].append({v})", "pair = [{o}]; pair[0].append({v})"),
)
_OF_DICT = (
    *("{o}[{k}] = {v}", "{o}.update({{{k}: {v}}})", "{o}.pop({k}, None)", "del {o}[{k}]", "{o}.setdefault({k}, {v})"),
    *("{o}[{k}]", "{o}[{k}] += {n}", "{o}.popitem()", "counts[{k}].append({v})", "{o} |= {{{k}: {v}}}"),
    *("put = {o}.__setitem__; put({k}, {v})", "shelf.put({k}, {v})", "wet = [one for one in counts[{k}]]"),
    *(
        "order.move_to_end('b')",
        "{o}.move_to_end({k}, last=False)",
        "{o}.popitem(last=False)",
        "tally.subtract({{{k}: 1}})",
        "box.__dict__['late'] = {v}",
        "setattr(box, 'more', {v})",
        "give, lose = {o}.setdefault, {o}.pop",
        "give = {o}.setdefault",
        "give({k}, {v})",
        "list(map(give, [{k}, {n}], [{v}, {w}]))",
        "lose({k}, None)",
        "list(map(lose, [{k}, {n}]))",
        "facts['late'] = {v}",
        "box.late = {v}",
        "facts = None",
        "facts = box.__dict__",
    ),
)
_OF_SET = (
    *("{o}.add({n})", "{o}.discard({n})", "{o}.remove({n})", "{o}.update([{n}, {m}])", "{o} |= {{{n}}}", "{o}.pop()"),
    *("{o} -= {{{n}}}", "{o}.intersection_update([{n}, 1, 2])", "{o} ^= {{{n}}}", "off = {o}.discard; off({n})"),
    *("put = {o}.add", "put({n})", "list(map(put, [{n}, {m}]))", "off({n})", "list(map(off, [{n}, {m}]))"),
)
_OF_QUEUE = (
    *("{o}.append({v})", "{o}.appendleft({v})", "{o}.popleft()", "{o}.pop()", "{o}.rotate({n})", "{o}.extend([{v}])"),
    *("{o}[0] = {v}", "{o}.extendleft([{v}])", "{o}.remove({v})", "{o}.insert({n}, {v})", "del {o}[{n}]"),
    *("{o}.rotate(-1)", "{o}.rotate()", "{o}.reverse()", "{o}.extend([{v}, {w}, {n}])", "{o} += [{v}]", "{o}.clear()"),
)
_KINDS = ((_LISTS, _OF_LIST), (_DICTS, _OF_DICT), (_SETS, _OF_SET), (_QUEUES, _OF_QUEUE))


@st.composite
def _changes(draw: st.DrawFn) -> list[str]:
    """One change, which may fail."""
    owners, forms = draw(st.sampled_from(_KINDS))
    form, owner = draw(st.sampled_from(forms)), draw(st.sampled_from(owners))
    if owner.endswith(")") and ("{o} " in form or form.endswith("{o} *= 2")):  # a call cannot be stored into
        form, owner = f"kept = {owner}; " + form, "kept"
    filled = form.format(
        o=owner,
        **{"v": draw(_values), "w": draw(_values), "n": draw(_numbers), "m": draw(_numbers), "k": draw(_keys)},
    )
    lines = filled.split("; ")
    return ["try:", *("    " + line for line in lines), "except Exception as error:", "    print(type(error).__name__)"]


@st.composite
def container_programs(draw: st.DrawFn) -> str:
    """A whole program: changes, some in a function, some in a loop."""
    lines: list[str] = []
    for _ in range(draw(st.integers(4, 14))):
        change = draw(_changes())
        if draw(st.integers(0, 4)) == 0:
            change = ["for turn in range(2):", *("    " + line for line in change)]
        lines += change
    return _START + "\n".join(lines) + "\nprint(len(beds), len(tags))\nend = 0\n"
