"""What is open and what belongs to it: program, runs, cases, texts, and their files. No widgets here."""
