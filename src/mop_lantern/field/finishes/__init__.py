"""What surfaces look like to heat that is radiated: one file a kind."""
