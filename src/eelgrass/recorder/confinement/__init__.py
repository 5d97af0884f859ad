"""What keeps a program of a stranger from the machine that it runs on. Layers of Linux, each holding for itself."""
