"""The reading window: laying the views out, and wiring them to what they show."""
