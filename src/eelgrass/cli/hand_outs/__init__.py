"""Commands that write what is handed out."""
