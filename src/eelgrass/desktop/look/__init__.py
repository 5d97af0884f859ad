"""Colours, fonts, shapes and small widgets that all views share."""
