"""Questions kept in view: their answers at a step and over the whole run."""
