"""One list under several names, in itself, in a dictionary and in objects."""
beds = [1, 2]
same = beds
copy = beds[:]
same.append(3)
print(beds, copy, same is beds, copy == [1, 2])
grid = [[0] * 2] * 2
grid[0][1] = 7
print(grid)
beds.append(beds)
print(len(beds[-1]), beds)
store = {"beds": copy, "again": copy}
store["beds"].insert(0, 9)
print(store)
def extend(rows, more):
    rows += more
    rows = rows + ["new"]
    return rows
print(extend(copy, ["x"]), copy)
pair = (copy, [])
pair[1].append(pair[0])
print(pair)
