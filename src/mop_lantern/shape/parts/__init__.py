"""The parts a shape is made of: one file a kind."""
