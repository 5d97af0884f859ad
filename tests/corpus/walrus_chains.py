"""Assignment expressions, chained comparison, conditional expressions, short circuits."""
levels, flag = [4, 0, 7], 1
if (count := len(levels)) > 2:
    print("count", count)
while (level := levels.pop()) > 0:
    print("level", level, 0 < level <= 7 < 9)
def noisy(value):
    print("asked", value)
    return value
print(noisy(1) < noisy(5) < noisy(3) < noisy(9), noisy(0) and noisy(1), noisy(0) or noisy(2))
print("deep" if noisy(False) else "shallow", not noisy(""), None is None is not flag)
print([mark for tide in range(5) if (mark := tide * tide) % 2], mark)
print(1 if levels else 2 if count else 3, (lambda: (inner := 5) + inner)())
