"""What a student says, fills in and hands in."""
