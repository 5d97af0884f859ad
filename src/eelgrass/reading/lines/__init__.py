"""What single lines and statements did, and how they came to their results."""
