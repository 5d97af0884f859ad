"""Numbers of every kind, the very large and the odd ones among them."""
import math
from decimal import Decimal
from fractions import Fraction
big = 2 ** 100
negative = -big
tiny = 5e-324
odd = [float("inf"), float("-inf"), -0.0, 1e16, 0.1 + 0.2, 9223372036854775807, 9223372036854775808, -9223372036854775809]
print(big, negative, tiny, odd, big % 7, big >> 90)
total = 0
for power in range(60, 68):
    total = total + 2 ** power
print(total, complex(1, -2) * 2j, 7 // -2, 7 % -2, round(2.5), divmod(-7, 3))
print(Decimal("1.10") + 1, Fraction(1, 3) * 3, math.isnan(float("nan")), 0x1F, 0b101, 1_000)
flag = True + True
print(flag, bool([]), int("12") + int(3.9), abs(-4), pow(2, 10, 1000), ~5, 6 ^ 3)
