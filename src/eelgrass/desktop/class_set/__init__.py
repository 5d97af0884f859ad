"""A window for a class set: its groups as cards, one of them opened, and all hand-ins on all cases."""
