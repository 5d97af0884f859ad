"""Recordings as files: writing, reading, and believing nothing that is read."""
