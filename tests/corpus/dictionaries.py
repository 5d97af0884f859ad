"""Dictionaries and sets and all that changes them."""
counts = dict(reef=1)
counts["mud"] = counts.setdefault("mud", 5) + 1
counts.update({"pier": 3}, north=4)
print(counts.pop("reef"), counts.popitem(), counts)
for name in list(counts):
    if counts[name] > 3:
        del counts[name]
merged = counts | {"ebb": 0}
merged |= {(1, 2): "tuple", None: "none", 2.5: "float", True: "true", b"x": "bytes"}
print(merged, merged.get("none", "missing"), "ebb" in merged)
marks = {3, 1}
marks.add(2)
marks.discard(9)
marks -= {1}
marks ^= {7, 3}
print(sorted(marks), marks & {2}, frozenset([1]) | marks)
nested = {"a": {"b": [1]}}
nested["a"]["b"].append(nested["a"])
nested["a"]["c"] = nested["a"]["b"][0]
print(nested["a"]["c"], len(nested["a"]["b"]))
counts.clear()
print(counts, {**counts, "x": 1}.items())
