"""Running the open program: what it is started with and may reach, its limits, its earlier runs."""
