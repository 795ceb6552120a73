"""Sparse solves, acceleration and interpolation."""
