"""What happens at widgets, who hears of it, and what they do of themselves."""
