"""Moving through a recording: lines, visits, passes, calls."""
