"""Kinds of node: one file each."""
