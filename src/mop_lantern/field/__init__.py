"""The field core: finite volumes on any mesh. Kinds here are declarations; the kernels are loaded by the
solver only.
"""
