"""Work that both cores share: compiled loops over blocks of rows, one thread a block.

Blocks are runs of neighbouring rows, so that a loop writes within its own block only and the answer does not
hang on which thread is faster: nothing is shared, nothing is atomic. Kernels release the interpreter
(``nogil``). Little work is not worth spreading.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

WORTH = 20_000  # rows a block: below, handing out takes as long as the work
MOST = 8


def threads() -> int:
    """Give how many threads there are: the cores this process may use, or MOP_LANTERN_THREADS."""
    wanted = os.environ.get("MOP_LANTERN_THREADS", "")
    return max(1, min(MOST, int(wanted) if wanted.isdecimal() else len(os.sched_getaffinity(0))))


def bounds_of(rows: int) -> NDArray[np.int64]:
    """Give where the blocks of so many rows begin and end, (k + 1,); one block where there is little work."""
    count = max(1, min(threads(), rows // WORTH))
    return np.linspace(0, rows, count + 1).astype(np.int64)


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(MOST, thread_name_prefix="block")


def spread(kernel: Callable[..., Any], blocks: Sequence[tuple[int, ...]], *given: Any) -> list[Any]:
    """Call ``kernel(block, *given)`` for every block, at the same time; give what they return, in order."""
    if len(blocks) == 1:
        return [kernel(blocks[0], *given)]
    others = [_pool().submit(kernel, block, *given) for block in blocks[1:]]
    first = kernel(blocks[0], *given)
    return [first, *(other.result() for other in others)]


def rows_of(bounds: NDArray[np.int64]) -> list[tuple[int, int]]:
    """Give every block as (first row, end)."""
    return list(zip(bounds[:-1].tolist(), bounds[1:].tolist(), strict=True))


def rim_of(
    indptr: NDArray[np.int32], indices: NDArray[np.int32], bounds: NDArray[np.int64]
) -> NDArray[np.int32]:
    """Give the rows (k,) that a row of another block refers to."""
    if len(bounds) == 2:
        return np.zeros(0, np.int32)
    block = np.searchsorted(bounds[1:], np.arange(bounds[-1]), "right").astype(np.int8)
    across = np.repeat(block, np.diff(indptr)) != block[indices]
    return np.unique(indices[across]).astype(np.int32)
