"""Devices inside the fluid: one file a kind."""
