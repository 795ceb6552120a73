"""Fluids: one file a kind."""
