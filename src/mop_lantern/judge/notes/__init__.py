"""Kinds of margin note: one file each."""
