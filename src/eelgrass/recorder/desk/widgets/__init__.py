"""What is at the desk: widgets of their kinds, items of canvases, and where they lie."""
