"""Turbulence closures, one file a kind."""
