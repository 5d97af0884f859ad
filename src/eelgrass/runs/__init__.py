"""Starting, feeding, limiting and stopping recorded runs, from the parent's side."""
