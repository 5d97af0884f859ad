"""The hand-ins of a whole class: what was handed in, and which of them do the same."""
