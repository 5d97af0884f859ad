"""Running cases, and judging what came of them."""
