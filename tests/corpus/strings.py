"""Texts: formatting, bytes, escapes, methods, slices."""
name, weight = "Ada\tb\u00e9", 4.25
print(f"{name!r:>12}|{weight:06.2f}|{weight!s}|{'nested ' + f'{1 + 1}'}|{name=}")
print("%s weighs %.1f" % ("Bo", 2), "{0}-{1:>4}".format("x", 3), "a,b,,c".split(","))
raw = rb"mud\n"
data = bytearray(b"abc")
data[0] = 122
data.extend(b"!")
print(raw, data, data.decode(), "reef".encode(), memoryview(b"xyz")[1])
print("sluice"[::-1], "sluice"[1:4], "-".join(reversed("pier")), "ab" * 2, "\N{BULLET}", len("e\u0301"))
long = "one " \
    "two"
print(long, """three
four""".splitlines(), str(b"x", "ascii"), ord("z"), chr(98), "x" < "y")
