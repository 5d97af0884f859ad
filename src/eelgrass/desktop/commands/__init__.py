"""The table of actions, their keys, and what they do."""
