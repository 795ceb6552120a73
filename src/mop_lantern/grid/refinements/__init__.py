"""Where a grid is made finer: one file a kind; the contract stands in `grid.refinement`."""
