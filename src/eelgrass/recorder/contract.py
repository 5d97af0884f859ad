"""What the rooms of the recorder have to agree on: marks in woven text, limits, and which files are our own."""

from __future__ import annotations

import os

#: Marks a text constant of woven text that stands for a hook.
MARK = "\0eelgrass "
#: After the mark, stands for the `PlainType` of a place of the text.
FIELD = "field "
#: After the mark and before its number, stands for one event, where hooks are compiled.
EVENT = "event "
#: After the mark, stands for a list of a loop's own.
UNTOLD = "untold "

#: Texts from this length on are no values like others: so that a program that builds a long text, piece by piece,
#: does not fill the memory, they are cut once there have been many of them.
LONG = 1024

#: Modules by which a program comes to have threads. Names that are looked for in its text.
THREAD_MODULES = frozenset(
    ("threading", "_thread", "concurrent", "multiprocessing", "asyncio", "socketserver", "queue")
)

#: Modules whose threads can be made to take turns; and those that wait for the world outside, beside which none are.
TURN_MODULES = frozenset(("threading", "_thread", "concurrent"))
OUTSIDE_MODULES = frozenset(
    (
        *("asyncio", "multiprocessing", "socket", "socketserver", "select", "selectors", "subprocess", "signal"),
        *("http", "urllib", "xmlrpc", "ssl", "ftplib", "smtplib", "poplib", "imaplib", "telnetlib", "requests"),
        *("tkinter", "turtle", "pygame", "PyQt5", "PyQt6", "PySide2", "PySide6", "flask", "aiohttp", "trio", "anyio"),
        "faulthandler",
    )
)
#: Modules that show windows which can be simulated.
WINDOW_MODULES = frozenset(("tkinter", "turtle"))
#: Modules by which programs for small devices know what is on their board.
BOARD_MODULES = frozenset(
    (
        *("tidepost", "machine", "neopixel", "ssd1306", "framebuf", "i2c_lcd", "dht", "hcsr04", "micropython"),
        *("utime", "ujson", "urandom", "uos", "ure", "ustruct", "ucollections", "uasyncio", "ubinascii", "uio"),
    )
)
#: Names that say as much.
OUTSIDE_NAMES = frozenset(("ProcessPoolExecutor", "fork", "forkpty", "settrace", "setprofile"))

#: Libraries that change nothing of what they are handed, as far as anybody could see it.
HARMLESS = frozenset(
    (
        *("abc", "ast", "builtins", "calendar", "cmath", "collections", "colorsys", "copy", "dataclasses", "datetime"),
        *("decimal", "difflib", "enum", "fractions", "functools", "inspect", "itertools", "json", "math", "numbers"),
        *("os", "pathlib", "platform", "re", "statistics", "string", "sys", "textwrap", "time", "typing"),
        *("unicodedata", "base64", "csv", "glob", "hashlib", "html", "pprint", "secrets", "uuid", "zoneinfo"),
    )
)
#: Libraries of which only these functions change what they are handed.
CHANGING_ONLY = {"random": frozenset(("shuffle",)), "bisect": frozenset(("insort", "insort_left", "insort_right"))}

#: Built-in functions that may change what they are handed.
CHANGING = frozenset(("setattr", "delattr", "next", "exec", "eval"))

#: Methods of containers whose change follows from what they are called with first.
BY_KEY = frozenset(("add", "discard", "remove", "pop", "setdefault", "insert", "rotate"))
#: And those whose change follows from what they give.
BY_RESULT = frozenset(("popitem",))
#: Modules whose functions change what they are handed in ways of their own, which are known.
KNOWN_WAYS = frozenset(("heapq",))

#: Call frames of files that begin like this are the recorder's, not the program's; those of compiled modules have the
#: names that these had when they were compiled.
OUR_FILES = (os.path.join(os.path.dirname(__file__), ""), "src/eelgrass/recorder/")
