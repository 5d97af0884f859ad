"""What commands ask for in dialogs."""
