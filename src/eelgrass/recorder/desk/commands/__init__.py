"""What a program asks of Tk, command by command."""
