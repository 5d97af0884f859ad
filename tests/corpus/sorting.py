"""Sorting by hand, with swaps, slices and indexes that run along."""
def swap_sort(stock):
    for end in range(len(stock) - 1, 0, -1):
        changed = False
        for place in range(end):
            if stock[place] > stock[place + 1]:
                stock[place], stock[place + 1] = stock[place + 1], stock[place]
                changed = True
        if not changed:
            return place
def insertion(stock):
    for place in range(1, len(stock)):
        held = stock[place]
        while place > 0 and stock[place - 1] > held:
            stock[place] = stock[place - 1]
            place -= 1
        stock[place] = held
def merged(stock):
    if len(stock) < 2:
        return stock
    half = len(stock) // 2
    left, right = merged(stock[:half]), merged(stock[half:])
    result = []
    while left and right:
        result.append(left.pop(0) if left[0] <= right[0] else right.pop(0))
    return result + left + right
first, second = [4, 2, 7, 1], [3.5, 1, 2]
print(swap_sort(first), first)
insertion(second)
print(second, merged([5, 3, 8, 1, 9]))
