"""Groups of exceptions, chained causes, notes and re-raising."""
def check(levels):
    wrong = [ValueError(f"level {level}") for level in levels if level < 0]
    if wrong:
        wrong.append(KeyError("bed"))
        raise ExceptionGroup("bad readings", wrong)
try:
    check([1, -2, -3])
except* ValueError as group:
    print("values", len(group.exceptions))
except* KeyError as group:
    print("keys", group.exceptions)
try:
    try:
        int("mud")
    except ValueError as first:
        raise RuntimeError("no number") from first
except RuntimeError as second:
    second.add_note("seen at the pier")
    print(repr(second.__cause__), second.__notes__)
def again():
    try:
        [][1]
    except (IndexError, KeyError):
        raise
try:
    again()
except LookupError as wrong:
    print(type(wrong), wrong.__traceback__.tb_next.tb_frame.f_code.co_name)
class Storm(Exception):
    def __init__(self, force):
        super().__init__(force)
        self.force = force
    def __str__(self):
        return f"storm of force {self.force}"
try:
    raise Storm(9)
except Storm as storm:
    print(storm, storm.args)
assert 1 + 1 == 2, "never said"
try:
    assert not [1], "said"
except AssertionError as wrong:
    print(wrong)
