"""The manual: a page for each part of the window and way of working. Pictures are made by the tour."""
