"""What came of it: readings, trust, traces, former grids."""
