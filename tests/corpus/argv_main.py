"""What a program is told about itself, and the usual way to begin."""
import sys
def main(arguments):
    print(arguments[1:], __name__, __doc__.strip()[:4], sys.argv[0].endswith("argv_main.py"))
    if len(arguments) > 1:
        print("reason:", arguments[1])
    return 3
if __name__ == "__main__":
    sys.exit(main(sys.argv))
