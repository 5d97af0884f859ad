"""Ends by exit with a message, inside a function, after output on both streams; arguments are used."""
import sys


def close(gate, reason):
    print("closing", gate)
    print("reason:", reason, file=sys.stderr)
    sys.exit("gate " + gate + " is stuck")


arguments = sys.argv[1:]
print(len(arguments), __name__, __doc__[:4])
close("north", arguments[0] if arguments else "none")
