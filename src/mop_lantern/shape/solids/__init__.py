"""Kinds of part of a space: one file each."""
