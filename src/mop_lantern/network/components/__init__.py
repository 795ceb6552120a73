"""Kinds of component: one file each."""
