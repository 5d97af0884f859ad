"""What the woven program calls: telling what happens."""
