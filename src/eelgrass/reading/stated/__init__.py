"""What the text of a program states about its values, as claims to be offered."""
