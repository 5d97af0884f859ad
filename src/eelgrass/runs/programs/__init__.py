"""What is a program, and what there is to say of it before it runs."""
