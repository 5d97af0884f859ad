"""The tide line: the whole run at a glance."""
