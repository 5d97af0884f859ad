"""A recording as data: columns, values, objects and slot histories; building, saving and loading them."""
