"""What is on view, with all that is set on it: breakpoints, questions, texts, view options. No widgets here."""
