"""The gate of trap 4, a small device: a beam that each eel breaks, a lamp, and a display."""

from tidepost import Characters, Pin, sleep

beam = Pin(14, Pin.IN)
lamp = Pin(2, Pin.OUT)
display = Characters()
eels = 0
is_broken = False

while True:
    was_broken = is_broken
    is_broken = beam.value()
    if is_broken:
        eels += 1
        print("eels:", eels)
        display.clear()
        display.putstr(f"eels: {eels}")
    lamp.value(is_broken)
    sleep(0.1)
