"""Correlations of one-dimensional flow: friction, losses, valves, orifices, heat exchange. Arrays in, arrays
out, SI.
"""
