"""bytearrays, changed in every way."""

import io


class Frame(bytearray):
    pass


data = bytearray(b"eelgrass in the bay")
data.append(33)
data.extend(b"..")
data[0] = 69
data[1:3] = b"E"
data.insert(0, 62)
data.pop()
data.pop(3)
data.remove(32)
del data[-1]
del data[2:4]
data.reverse()
data += b" again and again"
data *= 2
part = data
part.clear()
buffer = bytearray(24)
count = io.BytesIO(b"tide tables").readinto(buffer)
frame = Frame(b"abc")
frame.append(100)
frame.name = "first"
frame[0] += 1
both = [bytearray(2), frame]
both[0].extend(range(5))
print(data, buffer, count, frame, both)
