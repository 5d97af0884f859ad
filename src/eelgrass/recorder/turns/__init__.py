"""Threads that take turns as an order says: one is on at a time, and hands over at steps and where it has to wait."""
