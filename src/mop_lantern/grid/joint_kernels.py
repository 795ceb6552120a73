"""Compiled loop that pairs the wall of two regions."""

from __future__ import annotations

from numba import njit


@njit(cache=True, error_model="numpy")
def overlaps(  # type: ignore[no-untyped-def]
    near_key,
    near_free,
    far_key,
    far_free,
    one,
    other,
    shared,
):
    """Lay the areas of equal keys end to end on either side and pair what overlaps.

    near_key, far_key : (n,), (m,) int, ascending. near_free, far_free : m2 still without a partner, what is
    paired is taken from them. one, other, shared : (n + m,) rows of near and far, and m2, of every pair.
    Returns how many pairs there are.
    """
    i = 0
    j = 0
    count = 0
    while i < len(near_key) and j < len(far_key):
        if near_key[i] < far_key[j]:
            i += 1
        elif near_key[i] > far_key[j]:
            j += 1
        else:
            size = min(near_free[i], far_free[j])
            if size > 0.0:
                one[count] = i
                other[count] = j
                shared[count] = size
                count += 1
            near_first = near_free[i] <= far_free[j]
            near_free[i] -= size
            far_free[j] -= size
            if near_first:
                i += 1
            else:
                j += 1
    return count
