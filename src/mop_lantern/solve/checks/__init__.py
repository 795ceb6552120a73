"""Checks of a finished answer: one file a kind; the contract stands in `solve.check`."""
