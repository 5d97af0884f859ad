"""Questions about a recording. Nothing here knows of windows."""
