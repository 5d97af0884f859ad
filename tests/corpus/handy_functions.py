"""Functions as values: lambdas, closures, decorators, generators and comprehensions, which run as always."""
import functools


def counted(function):
    @functools.wraps(function)
    def wrapper(*args, **kwargs):
        wrapper.calls += 1
        return function(*args, **kwargs)

    wrapper.calls = 0
    return wrapper


@counted
def depth_at(hour, low=1):
    return low + (hour - 6) ** 2 / 10


def tides(days):
    for day in range(days):
        received = yield day * 24
        if received:
            yield received
    return "done"


def make_scales(factors):
    scales = []
    for factor in factors:
        def scale(value, factor=factor):
            return value * factor

        scales.append(scale)
    return scales


hours = [depth_at(hour) for hour in range(4, 9)]
shallow = {hour: depth for hour, depth in enumerate(hours, 4) if depth < 1.2}
by_depth = sorted(shallow, key=lambda hour: (shallow[hour], hour))
flow = tides(2)
first, second, third = next(flow), flow.send(5), next(flow)
rest = list(flow)
scaled = [scale(2) for scale in make_scales([1, 10])]
squares = {value * value for value in range(3)}
steps = map(lambda pair: pair[0] - pair[1], zip(hours, hours[1:]))
print(depth_at.calls, shallow, by_depth, first, second, third, rest, scaled, squares, sum(steps))
