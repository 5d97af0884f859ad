"""Two runs side by side: their texts, their tide lines, their differences."""
