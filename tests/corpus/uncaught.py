"""An exception that nobody catches, from deep inside."""
class Gauge:
    def __init__(self, levels):
        self.levels = levels
    def mean(self):
        return sum(self.levels) / len(self.levels)
def report(gauges):
    return [gauge.mean() for gauge in gauges]
print("before")
try:
    print(report([Gauge([1, 2]), Gauge([3])]))
finally:
    print("always")
report([Gauge([4]), Gauge([])])
