"""Classes and their fields."""
