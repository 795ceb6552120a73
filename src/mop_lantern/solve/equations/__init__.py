"""Equations of what is carried: one file each."""
