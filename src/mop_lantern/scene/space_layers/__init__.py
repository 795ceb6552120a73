"""Kinds of layer of a space: one file each; those of a plane's layers that have the same name share its
button.
"""
