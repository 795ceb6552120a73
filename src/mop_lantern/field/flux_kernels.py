"""Compiled loops for the fluxes through faces: predicted, corrected, summed; rules as in `kernels`."""

from __future__ import annotations

import numpy as np
from numba import njit


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def interpolated_flux(  # type: ignore[no-untyped-def]
    block,
    own,
    nei,
    S,
    share,
    skew,
    so,
    sn,
    U,
    g,
    flux,
    ways,
):
    """Volume flux of the linearly interpolated velocity through internal faces, skewness included."""
    for face in range(block[2], block[3]):
        f = np.uint64(face)
        o = np.uint64(own[f])
        n = np.uint64(nei[f])
        w = share[f]
        total = 0.0
        off = skew[f]
        for i in range(len(ways)):
            uo = U[o, i]
            un = U[n, i]
            if off >= 0:
                for j in range(len(ways)):
                    uo += g[o, i, j] * so[np.uint64(off), j]
                    un += g[n, i, j] * sn[np.uint64(off), j]
            total += (w * uo + (1.0 - w) * un) * S[f, i]
        flux[f] = total


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def predicted_flux(  # type: ignore[no-untyped-def]
    block,
    own,
    nei,
    S,
    over,
    share,
    skew,
    so,
    sn,
    U,
    g,
    D,
    p,
    drop,
    gp,
    ratio,
    bar,
    keep,
    extra,
    flux,
    ways,
):
    """Predict the fluxes through internal faces: of the interpolated velocity, plus the difference between
    the mean pressure gradient and the one across the face, plus ``keep`` of what the former flux had over its
    interpolation ``bar``, plus ``extra`` (or none: empty). ``ratio``: of the density on faces, or empty.

    Source: Rhie and Chow, AIAA J. 21 (1983) 1525-1532, written for skewed faces.
    """
    for face in range(block[2], block[3]):
        f = np.uint64(face)
        o = np.uint64(own[f])
        n = np.uint64(nei[f])
        w = share[f]
        total = 0.0
        off = skew[f]
        po = p[o] + drop[f]
        pn = p[n]
        mean = 0.0
        for i in range(len(ways)):
            uo = U[o, i]
            un = U[n, i]
            if off >= 0:
                for j in range(len(ways)):
                    uo += g[o, i, j] * so[np.uint64(off), j]
                    un += g[n, i, j] * sn[np.uint64(off), j]
                po += gp[o, i] * so[np.uint64(off), i]
                pn += gp[n, i] * sn[np.uint64(off), i]
            total += (w * uo + (1.0 - w) * un) * S[f, i]
            mean += (w * gp[o, i] + (1.0 - w) * gp[n, i]) * S[f, i]
        plain = flux[f] / ratio[f] if len(ratio) else flux[f]
        total += (w * keep[o] + (1.0 - w) * keep[n]) * (plain - bar[f]) - (w * D[o] + (1.0 - w) * D[n]) * (
            over[f] * (pn - po) - mean
        )
        if len(extra):
            total += extra[f]
        flux[f] = total * ratio[f] if len(ratio) else total


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def correction_faces(  # type: ignore[no-untyped-def]
    block,
    own,
    nei,
    over,
    share,
    D,
    upper,
    lower,
    a,
    c,
):
    """Write the coefficients of the pressure correction of internal faces, and their places in the matrix."""
    for face in range(block[2], block[3]):
        f = np.uint64(face)
        o = np.uint64(own[f])
        n = np.uint64(nei[f])
        k = over[f] * (share[f] * D[o] + (1.0 - share[f]) * D[n])
        c[f] = k
        a[np.uint64(upper[f])] = -k
        a[np.uint64(lower[f])] = -k


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def correction_cells(  # type: ignore[no-untyped-def]
    block,
    indptr,
    first_b,
    face_b,
    over,
    D,
    pressed,
    inner,
    a,
    c,
):
    """Write the coefficients of boundary faces (from ``inner`` on), and the diagonal: what the row and they
    sum to.
    """
    for row in range(block[0], block[1]):
        total = 0.0
        for k in range(first_b[row], first_b[row + 1]):
            f = face_b[k]
            c[inner + f] = over[inner + f] * D[row] if pressed[f] else 0.0
            total += c[inner + f]
        for k in range(np.uint64(indptr[row] + 1), np.uint64(indptr[row + 1])):
            total -= a[k]
        a[indptr[row]] = total


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def divergence(  # type: ignore[no-untyped-def]
    block,
    across,
    own,
    nei,
    first_b,
    face_b,
    flux,
    out,
):
    """Sum face fluxes into cells (out positive)."""
    start, end, first, last = block
    inner = len(nei)
    if not across:
        for row in range(start, end):
            total = 0.0
            for k in range(first_b[row], first_b[row + 1]):
                total += flux[inner + face_b[k]]
            out[row] = total
    for face in range(first, last):
        f = np.uint64(face)
        if (nei[f] >= end) != across:
            continue
        out[np.uint64(own[f])] += flux[f]
        out[np.uint64(nei[f])] -= flux[f]


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def correct_flux(  # type: ignore[no-untyped-def]
    block,
    own,
    nei,
    first_b,
    face_b,
    c,
    q,
    flux,
):
    """Apply the pressure correction q to the face fluxes."""
    inner = len(nei)
    for face in range(block[2], block[3]):
        f = np.uint64(face)
        flux[f] -= c[f] * (q[np.uint64(nei[f])] - q[np.uint64(own[f])])
    for row in range(block[0], block[1]):
        for k in range(first_b[row], first_b[row + 1]):
            f = inner + face_b[k]
            flux[f] += c[f] * q[row]


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def correct_cells(  # type: ignore[no-untyped-def]
    block,
    response,
    gq,
    q,
    less,
    p,
    U,
    ways,
):
    """Apply the pressure correction q, less a level, and its gradient to pressure and velocity."""
    for row in range(block[0], block[1]):
        c = np.uint64(row)
        p[c] += q[c] - less
        for i in range(len(ways)):
            U[c, i] -= response[c] * gq[c, i]


@njit(cache=True, error_model="numpy", nogil=True)
def log_mean(  # type: ignore[no-untyped-def]
    block,
    own,
    nei,
    nu,
    face,
):
    """Write the logarithmic mean of two cells on their face: exact where the viscosity grows in proportion to
    the distance from a wall.
    """
    for f in range(block[2], block[3]):
        a = nu[own[f]]
        b = nu[nei[f]]
        ratio = b / a
        if 0.9 < ratio < 1.1:
            face[f] = 0.5 * (a + b)
        else:
            face[f] = (b - a) / np.log(ratio)


@njit(cache=True, error_model="numpy", nogil=True)
def gauss_gradient(  # type: ignore[no-untyped-def]
    block,
    across,
    own,
    nei,
    S,
    share,
    skew,
    so,
    sn,
    V,
    first_b,
    face_b,
    rb,
    pb,
    pressed,
    p,
    gp,
    gc,
    inner,
):
    """Gradient of the pressure that is a sum of forces on faces: what one cell gains its neighbour loses.

    rb : (n_boundary, 3) m. pressed : (n_boundary,) whether ``pb`` is given there. gp : the least-squares
    gradient, for feet and walls. gc : (n_cells, 3), written. inner : number of internal faces.
    """
    start, end, first, last = block
    if not across:
        for row in range(start, end):
            c = np.uint64(row)
            for i in range(3):
                gc[c, i] = 0.0
            for b in range(np.uint64(first_b[c]), np.uint64(first_b[c + np.uint64(1)])):
                f = np.uint64(face_b[b])
                value = pb[f]
                if not pressed[f]:
                    value = p[c] + gp[c, 0] * rb[f, 0] + gp[c, 1] * rb[f, 1] + gp[c, 2] * rb[f, 2]
                for i in range(3):
                    gc[c, i] += (value - p[c]) * S[np.uint64(inner) + f, i] / V[c]
    for face in range(first, last):
        f = np.uint64(face)
        if (nei[f] >= end) != across:
            continue
        o = np.uint64(own[f])
        n = np.uint64(nei[f])
        po = p[o]
        pn = p[n]
        if skew[f] >= 0:
            k = np.uint64(skew[f])
            po += gp[o, 0] * so[k, 0] + gp[o, 1] * so[k, 1] + gp[o, 2] * so[k, 2]
            pn += gp[n, 0] * sn[k, 0] + gp[n, 1] * sn[k, 1] + gp[n, 2] * sn[k, 2]
        value = share[f] * po + (1.0 - share[f]) * pn
        for i in range(3):
            gc[o, i] += (value - p[o]) * S[f, i] / V[o]
            gc[n, i] -= (value - p[n]) * S[f, i] / V[n]
