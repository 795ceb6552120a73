"""Sources of heat and of species inside the space: one file a kind."""
