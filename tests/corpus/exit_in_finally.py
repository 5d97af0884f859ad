"""SystemExit with a text, through finally and atexit."""
import atexit
atexit.register(print, "last of all")
def leave(reason):
    try:
        raise SystemExit(reason)
    finally:
        print("leaving")
print("before")
leave("the gate is shut")
