"""Comprehensions of every kind, nested ones and their scopes."""
levels = [3, 8, 5]
bed = "outside"
doubled = [bed * 2 for bed in levels]
print(bed, doubled, {level % 3 for level in levels}, {level: level * level for level in levels if level > 3})
def count(limit):
    marks = [(row, place) for row in range(limit) for place in [row + 1]]
    found = [limit + mark for mark, _ in marks if (last := mark) >= 0]
    return found, last
print(count(2))
grid = [[row * place for place in range(2)] for row in range(3)]
print(grid, [value for row in grid for value in row][:4])
class Chart:
    names = ["reef", "mud"]
    sizes = [len(name) for name in names]
print(Chart.sizes, [*levels, *(level for level in levels)])
