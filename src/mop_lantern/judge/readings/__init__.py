"""Kinds of reading: one file each."""
