"""Mop Lantern: model flow through passages, see it, judge it, revise the shape."""

import os

# vectors here are short: a second BLAS thread only waits, tenfold slower when another program needs its core
# (measured)
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
