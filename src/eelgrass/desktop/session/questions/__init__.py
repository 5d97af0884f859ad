"""What is asked of a run: questions that are kept, trails, clues."""
