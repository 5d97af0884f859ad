def look(table, key):
    found = table[key]
    found = list(found)
    return found
