"""Kinds of opening: one file each."""
