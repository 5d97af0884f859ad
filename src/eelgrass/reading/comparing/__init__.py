"""Two runs side by side: which statements are the same, and where what happened differs first."""
