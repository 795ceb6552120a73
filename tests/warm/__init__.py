"""Workers for tests of the window without the seconds each takes to load the solvers: forked from one that
has loaded them. What runs in them is the worker of the program, unchanged.
"""
