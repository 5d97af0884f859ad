"""Programs for small devices of the field station."""

#: By what is tried, a program, what is done at its board, and what it prints.
PROGRAMS: dict[str, tuple[str, tuple[str, ...], str]] = {
    "a lamp that a button switches": (
        "from machine import Pin\nimport time\n"
        "lamp, button = Pin(2, Pin.OUT), Pin(14, Pin.IN, Pin.PULL_UP)\n"
        "for _ in range(6):\n    lamp.value(not button.value())\n    print(lamp.value(), end=' ')\n"
        "    time.sleep_ms(100)\n",
        ("at 150 press 14", "at 350 release pin 14"),
        "0 0 1 1 0 0 ",
    ),
    "an interrupt counts presses": (
        "from machine import Pin\nimport utime\ncount = 0\n"
        "def pressed(pin):\n    global count\n    count += 1\n"
        "Pin('GP3', Pin.IN, Pin.PULL_DOWN).irq(pressed, Pin.IRQ_RISING)\n"
        "utime.sleep(1)\nprint(count)\n",
        ("at 100 press GP3", "at 200 release 3", "at 300 press 3", "at 1500 release 3"),
        "2\n",
    ),
    "a timer beside the loop": (
        "from machine import Timer\nimport time\nmade = []\n"
        "def rise(timer):\n    made.append(time.ticks_ms())\n"
        "tide = Timer(0)\ntide.init(period=300, mode=Timer.PERIODIC, callback=rise)\n"
        "Timer(1).init(period=500, mode=Timer.ONE_SHOT, callback=lambda its: made.append('once'))\n"
        "time.sleep(1)\ntide.deinit()\ntime.sleep(1)\nprint(made)\n",
        (),
        "[300, 'once', 600, 900]\n",
    ),
    "light and warmth": (
        "from machine import ADC, Pin\nimport dht, time\nlight, air = ADC(Pin(26)), dht.DHT22(Pin(4))\n"
        "def felt(its):\n    return its.temperature(), its.humidity()\n"
        "for _ in range(3):\n    air.measure()\n    print(light.read_u16(), light.read(), *felt(air))\n"
        "    time.sleep(1)\n",
        ("at 500 set 26 to 100%", "at 700 set temperature to -2.5", "at 1500 set 26 to 6553"),
        "32768 2048 20.0 50.0\n65535 4095 -2.5 50.0\n6553 409 -2.5 50.0\n",
    ),
    "a strip of lights": (
        "import neopixel\nfrom machine import Pin\nstrip = neopixel.NeoPixel(Pin(5), 4)\nstrip.fill((0, 0, 60))\n"
        "strip[2] = (255, 0, 0)\nstrip.write()\nprint(len(strip), strip[2], strip[3], list(strip))\n"
        "try:\n    strip[4] = (1, 2, 3)\nexcept IndexError as error:\n    print('none', error)\n",
        (),
        "4 (255, 0, 0) (0, 0, 60) [(0, 0, 60), (0, 0, 60), (255, 0, 0), (0, 0, 60)]\n"
        "none list assignment index out of range\n",
    ),
    "displays": (
        "from machine import I2C, Pin\nfrom ssd1306 import SSD1306_I2C\nfrom i2c_lcd import I2cLcd\n"
        "bus = I2C(0)\nscreen, letters = SSD1306_I2C(32, 16, bus), I2cLcd(bus, bus.scan()[0], 2, 8)\n"
        "screen.rect(0, 0, 8, 4, 1)\nscreen.line(0, 15, 31, 15, 1)\nscreen.text('eel', 8, 6)\nscreen.show()\n"
        "letters.putstr('high\\ntide')\nprint(screen.pixel(7, 3), screen.pixel(5, 2), screen.pixel(99, 0))\n",
        (),
        "1 0 0\n",
    ),
    "pulses": (
        "from machine import PWM, Pin\nhorn = PWM(Pin(15), freq=440)\nhorn.duty_u16(32768)\n"
        "print(horn.freq(), horn.duty_u16(), horn.duty())\nhorn.deinit()\nprint(horn)\n",
        (),
        "440 32768 511\nPWM(15, freq=0, duty_u16=0)\n",
    ),
    "modules of our own": (
        "from tidepost import Analog, Distance, Pin, Signal, sleep, ticks_ms\n"
        "gate = Signal(Pin(7, Pin.OUT), invert=True)\ngate.on()\nprint(gate.value(), gate.pin.value())\n"
        "sleep(0.25)\nprint(Distance().distance_cm(), ticks_ms() >= 250)\n",
        ("at 100 set distance to 12.5",),
        "1 0\n12.5 True\n",
    ),
}
#: It never ends of itself; nor does it sleep.
WITHOUT_END = (
    "from machine import Pin\nbutton, lamp, count = Pin(1, Pin.IN), Pin(2, Pin.OUT), 0\n"
    "while True:\n    if button.value():\n        lamp.on()\n        count += 1\n        while button.value():\n"
    "            pass\n        lamp.off()\n        print(count)\n"
)
