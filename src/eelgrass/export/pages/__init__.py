"""A recording as one HTML file, to step through in any browser."""
