"""Kinds of wall other than still and smooth: one file each."""
