"""The program's text, and what stands in its margins, beside and below it."""
