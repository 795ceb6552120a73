"""Compiled loops of the transport of turbulence: a pair of quantities that are never negative, carried by
their logarithms. Rules and symbols as in `kernels`, and these:

phi, L : (n_cells,) a quantity and its logarithm
one, two, g1, g2 : (n_cells,) two fields and their gradients (n_cells, 3)
gL : (n_cells, 3) gradient of the logarithm, 1/m
G : (n_cells,) diffusivity, m2/s
G_face : (n_faces,) the same on faces
phi_b : (n_boundary,) what enters
open_ : (n_boundary,) whether fluid crosses
r : (n_cells,) what a cell gains a second, m3 times the quantity
make, lose, pull : (n_cells,) what is made in m3 and second; the share lost, 1/s; what counts for the diagonal
held : (n_cells,) whether the value is by law
d : (n_cells,) correction
far : (n_cells,) correction of cells of other blocks
S2 : (n_cells,) square of the shear rate, 1/s2
radius : (n_cells,) m from the axis; (0,) without one
nu : (n_cells,) viscosity over the density
face : (n_faces,) the same on faces, written
weight : (n_cells,) of the present value in time, m3/s; (0,) steady
relaxation : of the equation, 0 to 1
gain : (n_cells,) what a cell has gained in the time step, a second; (0,) steady
"""

from __future__ import annotations

import numpy as np
from numba import njit

STEEPEST = 1.0  # of a logarithm from a cell to its face: a value never changes more than e-fold
LEAST_LEFT = 0.2  # of a quantity, after a step


@njit(cache=True, error_model="numpy", nogil=True)
def pair_gradients(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    x,
    M,
    one,
    two,
    g1,
    g2,
    ways,
):
    """Least-squares gradients of two fields at once, from inside values only."""
    solid = len(ways) == 3
    for row in range(block[0], block[1]):
        c = np.uint64(row)
        s0, s1, s2, t0, t1, t2 = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
        for k in range(np.uint64(indptr[c]) + np.uint64(1), np.uint64(indptr[c + np.uint64(1)])):
            j = np.uint64(indices[k])
            d0 = x[j, 0] - x[c, 0]
            d1 = x[j, 1] - x[c, 1]
            d2 = x[j, 2] - x[c, 2] if solid else 0.0
            square = 1.0 / (d0 * d0 + d1 * d1 + d2 * d2)
            a = (one[j] - one[c]) * square
            b = (two[j] - two[c]) * square
            s0 += d0 * a
            s1 += d1 * a
            s2 += d2 * a
            t0 += d0 * b
            t1 += d1 * b
            t2 += d2 * b
        g1[c, 0] = M[c, 0] * s0 + M[c, 1] * s1 + M[c, 2] * s2
        g1[c, 1] = M[c, 1] * s0 + M[c, 3] * s1 + M[c, 4] * s2
        g2[c, 0] = M[c, 0] * t0 + M[c, 1] * t1 + M[c, 2] * t2
        g2[c, 1] = M[c, 1] * t0 + M[c, 3] * t1 + M[c, 4] * t2
        if solid:
            g1[c, 2] = M[c, 2] * s0 + M[c, 4] * s1 + M[c, 5] * s2
            g2[c, 2] = M[c, 2] * t0 + M[c, 4] * t1 + M[c, 5] * t2


@njit(cache=True, error_model="numpy", nogil=True)
def shear(  # type: ignore[no-untyped-def]
    block,
    g,
    U,
    radius,
    S2,
):
    """Square of the shear rate, 2 S:S; turning as one body shears nothing."""
    around = len(radius) > 0
    for row in range(block[0], block[1]):
        c = np.uint64(row)
        twist = U[c, 2] / radius[c] if around else 0.0
        xy = g[c, 0, 1] + g[c, 1, 0]
        xz = g[c, 0, 2] + g[c, 2, 0]
        yz = g[c, 1, 2] + g[c, 2, 1] - twist
        total = xy * xy + xz * xz + yz * yz
        total += 2.0 * (g[c, 0, 0] ** 2 + g[c, 1, 1] ** 2 + g[c, 2, 2] ** 2)
        if around:
            total += 2.0 * (U[c, 1] / radius[c]) ** 2
        S2[c] = total


@njit(cache=True, error_model="numpy", nogil=True)
def carry(  # type: ignore[no-untyped-def]  # noqa: C901 - one pass over the faces
    block,
    across,
    own,
    nei,
    S,
    F,
    G_face,
    over,
    share,
    skew,
    so,
    sn,
    phi,
    L,
    gL,
    upper,
    lower,
    indptr,
    a,
    r,
):
    """Assemble the first-order matrix and the second-order residual of one quantity over internal faces.

    The convected value is that of upwind times a power of e: half of what linear upwind and linear
    interpolation of the logarithm add, held within one. Diffusion runs between the feet on the normal.
    """
    start, end, first, last = block
    if not across:
        for row in range(start, end):
            c = np.uint64(row)
            a[np.uint64(indptr[c])] = 0.0
            r[c] = 0.0
    for face in range(first, last):
        f = np.uint64(face)
        if (nei[f] >= end) != across:
            continue
        o = np.uint64(own[f])
        n = np.uint64(nei[f])
        flux = F[f]
        c = G_face[f] * over[f]
        w = share[f]
        into = max(-flux, 0.0)
        out = max(flux, 0.0)
        a[np.uint64(upper[f])] = -(c + into)
        a[np.uint64(lower[f])] = -(c + out)
        a[np.uint64(indptr[o])] += c + into
        a[np.uint64(indptr[n])] += c + out
        foot_o, foot_n = 0.0, 0.0
        if skew[f] >= 0:
            k = np.uint64(skew[f])
            foot_o = gL[o, 0] * so[k, 0] + gL[o, 1] * so[k, 1] + gL[o, 2] * so[k, 2]
            foot_n = gL[n, 0] * sn[k, 0] + gL[n, 1] * sn[k, 1] + gL[n, 2] * sn[k, 2]
        central = w * (L[o] + foot_o) + (1.0 - w) * (L[n] + foot_n)
        if flux >= 0.0:
            ahead = gL[o, 0] * S[f, 0] + gL[o, 1] * S[f, 1] + gL[o, 2] * S[f, 2]
            extra = 0.5 * (ahead * (1.0 - w) / over[f] + foot_o + central - L[o])
            value = phi[o]
        else:
            ahead = gL[n, 0] * S[f, 0] + gL[n, 1] * S[f, 1] + gL[n, 2] * S[f, 2]
            extra = 0.5 * (-ahead * w / over[f] + foot_n + central - L[n])
            value = phi[n]
        value *= np.exp(min(max(extra, -STEEPEST), STEEPEST))
        po = phi[o]
        pn = phi[n]
        if skew[f] >= 0:
            po *= np.exp(min(max(foot_o, -STEEPEST), STEEPEST))
            pn *= np.exp(min(max(foot_n, -STEEPEST), STEEPEST))
        spread = c * (pn - po)
        r[o] += spread - flux * (value - phi[o])
        r[n] += flux * (value - phi[n]) - spread


@njit(cache=True, error_model="numpy", nogil=True)
def carry_open(  # type: ignore[no-untyped-def]
    bown,
    F,
    open_,
    phi,
    phi_b,
    indptr,
    a,
    r,
):
    """Add what enters through open boundary faces; what leaves leaves as it is."""
    for f in range(len(bown)):
        if open_[f] and F[f] < 0.0:
            c = bown[f]
            a[indptr[c]] -= F[f]
            r[c] -= F[f] * (phi_b[f] - phi[c])


@njit(cache=True, error_model="numpy", nogil=True)
def settle(  # type: ignore[no-untyped-def]
    block,
    indptr,
    V,
    phi,
    make,
    lose,
    pull,
    weight,
    gain,
    held,
    relaxation,
    a,
    r,
    d,
):
    """Add what is made and lost, relax, and clear the correction; give sum |r| and sum |diagonal phi| of the
    block.
    """
    wrong, scale = 0.0, 0.0
    timed = len(weight) > 0
    for row in range(block[0], block[1]):
        c = np.uint64(row)
        d[c] = 0.0
        if held[c]:
            continue
        diagonal = np.uint64(indptr[c])
        r[c] += V[c] * (make[c] - lose[c] * phi[c])
        a[diagonal] += V[c] * pull[c]
        if timed:
            r[c] -= gain[c]
            a[diagonal] += weight[c]
        wrong += abs(r[c])
        scale += a[diagonal] * phi[c]
        a[diagonal] /= relaxation
    return wrong, scale


@njit(cache=True, error_model="numpy", nogil=True)
def sweep_one(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    a,
    r,
    held,
    d,
    far,
    forward,
):
    """Do a Gauss-Seidel sweep on the correction; held cells are skipped."""
    start = np.uint64(block[0])
    end = np.uint64(block[1])
    for step in range(block[1] - block[0]):
        c = start + np.uint64(step) if forward else end - np.uint64(1) - np.uint64(step)
        if held[c]:
            continue
        first = np.uint64(indptr[c])
        left = r[c]
        for k in range(first + np.uint64(1), np.uint64(indptr[c + np.uint64(1)])):
            j = np.uint64(indices[k])
            left -= a[k] * (d[j] if start <= j < end else far[j])
        d[c] = left / a[first]


@njit(cache=True, error_model="numpy", nogil=True)
def correct_one(  # type: ignore[no-untyped-def]
    block,
    d,
    phi,
    L,
):
    """Add the correction and renew the logarithm: a quantity never loses more than most of itself."""
    for row in range(block[0], block[1]):
        c = np.uint64(row)
        phi[c] = max(phi[c] + d[c], LEAST_LEFT * phi[c])
        L[c] = np.log(phi[c])
