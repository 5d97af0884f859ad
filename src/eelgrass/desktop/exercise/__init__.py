"""The views of an exercise: solving it, making it, saying first, walking its route."""
