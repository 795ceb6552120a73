"""Compiled loops over faces and cells. They see arrays only.

Never ``fastmath`` here: it turns the gathers of short rows into vector gathers, three to five times slower
(measured). ``parts`` and ``ways`` are tuples whose lengths count the velocity components and the directions
of space in play: a length is known when a kernel is compiled, so that a plane flow pays for two of each.
``block`` is (first cell, end, first internal face, end): what one thread does (`numerics.spread`). Loops over
cells write to their own cells only. Loops over faces that add to cells do so where both lie in the block;
``across`` does the few faces left, one block after the other.

Arguments, the same everywhere (n_cells, n_faces with the n_internal ones first, n_boundary):

block : (4,) first cell, end, first internal face, end
across : whether the faces between blocks are done now
own : (n_faces,) owner
nei : (n_internal,) neighbour
bown : (n_boundary,) owner of boundary faces
S, span : (n_faces, 3) area out of the owner, m2; from end to end of a face of a plane, m
V : (n_cells,) m3
x : (n_cells, 3) centres, m
over : (n_faces,) area over normal distance, m
share : (n_internal,) weight of the owner in interpolation
skew : (n_internal,) row in so and sn, -1 for none
so, sn : (k, 3) from the centres to the feet on the normal of a face, m
sb, rb, normal : (n_boundary, 3) from the centre to the foot and to the face, m; unit normal
indptr, indices : (n_cells + 1,), (entries,) pattern of the matrix, the diagonal first
upper, lower : (n_internal,) slots of (owner, neighbour) and (neighbour, owner)
first_b, face_b : (n_cells + 1,), (n_boundary,) boundary faces of every cell
a, b : (entries,) matrix, m3/s; (n_cells, 3) right side, m4/s2
F, flux : (n_faces,) out of the owner, m3/s of the reference density
U, Ub : (n_cells, 3), (n_boundary, 3) velocity, m/s
p, pb, q : (n_cells,), (n_boundary,), (n_cells,) pressure over the reference density, its correction, m2/s2
nu : (n_faces,) viscosity over the reference density, m2/s
force : (n_cells, 3) body force over the reference density, m/s2; (0, 3) for none
drop, drop_b : (n_internal,), (n_boundary,) what body forces alone make of the pressure difference, m2/s2
g, gp, gq : (n_cells, 3, 3) or (n_cells, 3) gradients, g[cell, component, direction], 1/s; m/s2
M, Mp : (n_cells, 6) moments of `face_geometry.Stencil`
counts, counts_p : (n_boundary,) whether the value of a face counts
D, response : (n_cells,) what a pressure gradient does to the velocity, V / a, s
c : (n_faces,) coefficients of the pressure correction, m s
ratio : (n_faces,) density over the reference one; (0,) where it does not vary
bar : (n_internal,) flux of the interpolated velocity, m3/s
code : (n_boundary,) as in `boundary`
pressed : (n_boundary,) whether the pressure is given
parts, ways : tuple of the components of velocity, and of the directions of space, in play
planar : whether the mesh is one of a plane
forward : whether a sweep goes from the first cell to the last
"""

from __future__ import annotations

import numpy as np
from numba import njit

from mop_lantern.field.boundary import FREE, SLIP

_FREE = FREE
_SLIP = SLIP


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def gradients(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    first_b,
    face_b,
    x,
    rb,
    M,
    counts,
    U,
    Ub,
    g,
    Mp,
    counts_p,
    p,
    pb,
    force,
    drop_b,
    gp,
    parts,
    ways,
):
    """Least-squares gradients of velocity, g[cell, component, direction], and of pressure, the latter less
    what a body force (n_cells, 3; or none: empty) makes of it: exactly zero where they balance. Sums are
    named t, component first, 3 for the pressure: they stay in registers.
    """
    solid = len(ways) == 3
    third = len(parts) == 3
    forced = len(force) > 0
    for row in range(block[0], block[1]):
        c = np.uint64(row)
        t00 = 0.0
        t01 = 0.0
        t02 = 0.0
        t10 = 0.0
        t11 = 0.0
        t12 = 0.0
        t20 = 0.0
        t21 = 0.0
        t22 = 0.0
        t30 = 0.0
        t31 = 0.0
        t32 = 0.0
        inside = np.uint64(indptr[c + np.uint64(1)] - indptr[c] - 1)
        around = np.uint64(first_b[c + np.uint64(1)] - first_b[c])
        for k in range(inside + around):
            s0 = 0.0
            s1 = 0.0
            s2 = 0.0
            s3 = 0.0
            if k < inside:
                j = np.uint64(indices[np.uint64(indptr[c]) + np.uint64(1) + k])
                d0 = x[j, 0] - x[c, 0]
                d1 = x[j, 1] - x[c, 1]
                d2 = x[j, 2] - x[c, 2] if solid else 0.0
                s0 = U[j, 0] - U[c, 0]
                s1 = U[j, 1] - U[c, 1]
                s2 = U[j, 2] - U[c, 2] if third else 0.0
                s3 = p[j] - p[c]
                if forced:
                    s3 -= 0.5 * (
                        (force[j, 0] + force[c, 0]) * d0
                        + (force[j, 1] + force[c, 1]) * d1
                        + (force[j, 2] + force[c, 2]) * d2
                    )
            else:
                f = np.uint64(face_b[np.uint64(first_b[c]) + k - inside])
                d0 = rb[f, 0]
                d1 = rb[f, 1]
                d2 = rb[f, 2] if solid else 0.0
                if counts[f]:
                    s0 = Ub[f, 0] - U[c, 0]
                    s1 = Ub[f, 1] - U[c, 1]
                    s2 = Ub[f, 2] - U[c, 2] if third else 0.0
                if counts_p[f]:
                    s3 = pb[f] - p[c]
                    if forced:
                        s3 -= drop_b[f]
            square = 1.0 / max(d0 * d0 + d1 * d1 + d2 * d2, 1e-300)
            d0 = d0 * square
            d1 = d1 * square
            d2 = d2 * square
            t00 = t00 + d0 * s0
            t01 = t01 + d1 * s0
            t02 = t02 + d2 * s0
            t10 = t10 + d0 * s1
            t11 = t11 + d1 * s1
            t12 = t12 + d2 * s1
            t20 = t20 + d0 * s2
            t21 = t21 + d1 * s2
            t22 = t22 + d2 * s2
            t30 = t30 + d0 * s3
            t31 = t31 + d1 * s3
            t32 = t32 + d2 * s3
        xx = M[c, 0]
        xy = M[c, 1]
        xz = M[c, 2]
        yy = M[c, 3]
        yz = M[c, 4]
        zz = M[c, 5]
        g[c, 0, 0], g[c, 0, 1] = xx * t00 + xy * t01 + xz * t02, xy * t00 + yy * t01 + yz * t02
        g[c, 1, 0], g[c, 1, 1] = xx * t10 + xy * t11 + xz * t12, xy * t10 + yy * t11 + yz * t12
        gp[c, 0] = Mp[c, 0] * t30 + Mp[c, 1] * t31 + Mp[c, 2] * t32
        gp[c, 1] = Mp[c, 1] * t30 + Mp[c, 3] * t31 + Mp[c, 4] * t32
        if third:
            g[c, 2, 0], g[c, 2, 1] = xx * t20 + xy * t21 + xz * t22, xy * t20 + yy * t21 + yz * t22
        if solid:
            g[c, 0, 2], g[c, 1, 2], g[c, 2, 2] = (
                xz * t00 + yz * t01 + zz * t02,
                xz * t10 + yz * t11 + zz * t12,
                xz * t20 + yz * t21 + zz * t22,
            )
            gp[c, 2] = Mp[c, 2] * t30 + Mp[c, 4] * t31 + Mp[c, 5] * t32


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def scalar_gradient(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    first_b,
    face_b,
    x,
    rb,
    M,
    counts,
    p,
    pb,
    g,
    ways,
):
    """Least-squares gradient of a scalar."""
    solid = len(ways) == 3
    for row in range(block[0], block[1]):
        c = np.uint64(row)
        t0, t1, t2 = 0.0, 0.0, 0.0
        for k in range(np.uint64(indptr[c]) + np.uint64(1), np.uint64(indptr[c + np.uint64(1)])):
            j = np.uint64(indices[k])
            d0 = x[j, 0] - x[c, 0]
            d1 = x[j, 1] - x[c, 1]
            d2 = x[j, 2] - x[c, 2] if solid else 0.0
            step = (p[j] - p[c]) / (d0 * d0 + d1 * d1 + d2 * d2)
            t0 = t0 + d0 * step
            t1 = t1 + d1 * step
            t2 = t2 + d2 * step
        for k in range(np.uint64(first_b[c]), np.uint64(first_b[c + np.uint64(1)])):
            f = np.uint64(face_b[k])
            if counts[f]:
                d0 = rb[f, 0]
                d1 = rb[f, 1]
                d2 = rb[f, 2] if solid else 0.0
                step = (pb[f] - p[c]) / max(d0 * d0 + d1 * d1 + d2 * d2, 1e-300)
                t0 = t0 + d0 * step
                t1 = t1 + d1 * step
                t2 = t2 + d2 * step
        g[c, 0] = M[c, 0] * t0 + M[c, 1] * t1 + M[c, 2] * t2
        g[c, 1] = M[c, 1] * t0 + M[c, 3] * t1 + M[c, 4] * t2
        if solid:
            g[c, 2] = M[c, 2] * t0 + M[c, 4] * t1 + M[c, 5] * t2


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def momentum(  # type: ignore[no-untyped-def]  # noqa: C901 - one pass over the faces
    block,
    across,
    own,
    nei,
    S,
    F,
    nu,
    over,
    share,
    skew,
    so,
    sn,
    planar,
    span,
    V,
    U,
    g,
    gp,
    upper,
    lower,
    indptr,
    a,
    b,
    bar,
    parts,
    ways,
):
    """Assemble convection and diffusion over internal faces, and the pressure gradient: upwind implicit,
    second order deferred. ``bar`` gets the flux of the interpolated velocity.

    The convected value is the mean of linear upwind and linear interpolation, both exact for linear fields on
    skewed faces; diffusion carries the cross term of faces that are not square to the line between the cells.
    In planes the product of velocity and flux varies along a face (``span``, from end to end): its mean is
    the product of the means plus a twelfth of the product of the changes. Without that, shear oblique to the
    grid feels a false stress (own derivation; 13 % of the wall shear at 20 cells across and Re 1000, 2 % with
    it).
    """
    start, end, first, last = block
    if not across:
        for row in range(start, end):
            r = np.uint64(row)
            a[np.uint64(indptr[r])] = 0.0
            for i in range(3):
                b[r, i] = -V[r] * gp[r, i]
    for face in range(first, last):
        f = np.uint64(face)
        if (nei[f] >= end) != across:
            continue
        o = np.uint64(own[f])
        n = np.uint64(nei[f])
        flux = F[f]
        c = nu[f] * over[f]
        w = share[f]
        into = max(-flux, 0.0)
        out = max(flux, 0.0)
        a[np.uint64(upper[f])] = -(c + into)
        a[np.uint64(lower[f])] = -(c + out)
        a[np.uint64(indptr[o])] += c + into
        a[np.uint64(indptr[n])] += c + out
        off = skew[f]
        far = (1.0 - w if flux >= 0.0 else -w) / over[f]
        tilt = 0.0
        if planar:
            for i in range(len(parts)):
                for j in range(len(ways)):
                    tilt += S[f, i] * 0.5 * (g[o, i, j] + g[n, i, j]) * span[f, j]
            tilt /= 12.0
        total = 0.0
        for i in range(len(parts)):
            uo = U[o, i]
            un = U[n, i]
            foot_o, foot_n, ahead = 0.0, 0.0, 0.0
            if off >= 0:
                for j in range(len(ways)):
                    foot_o += g[o, i, j] * so[np.uint64(off), j]
                    foot_n += g[n, i, j] * sn[np.uint64(off), j]
            central = w * (uo + foot_o) + (1.0 - w) * (un + foot_n)
            if i < len(ways):
                total += central * S[f, i]
            if flux >= 0.0:
                for j in range(len(ways)):
                    ahead += g[o, i, j] * S[f, j]
                extra = 0.5 * (ahead * far + foot_o + central - uo)
            else:
                for j in range(len(ways)):
                    ahead += g[n, i, j] * S[f, j]
                extra = 0.5 * (ahead * far + foot_n + central - un)
            term = c * (foot_n - foot_o) - flux * extra
            if planar:
                change = 0.0
                for j in range(len(ways)):
                    change += 0.5 * (g[o, i, j] + g[n, i, j]) * span[f, j]
                term -= tilt * change
            b[o, i] += term
            b[n, i] -= term
        bar[f] = total


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def momentum_boundary(  # type: ignore[no-untyped-def]  # noqa: C901 - one pass over the faces
    bown,
    S,
    span,
    F,
    conduct,
    bend,
    sb,
    normal,
    code,
    U,
    Ub,
    g,
    indptr,
    a,
    b,
):
    """Add the boundary faces to the momentum equations.

    bown : (n_boundary,) cells. S, span : (n_boundary, 3) m2, m. F : (n_boundary,) m3/s. conduct, bend :
    (n_boundary,) m3/s, m4/s, friction of faces as `flow.walls` has it. sb, normal : (n_boundary, 3) m, -.
    code :
    (n_boundary,). U, g : of cells, (n_cells, 3) m/s, (n_cells, 3, 3) 1/s. Ub : (n_boundary, 3) m/s. a, b :
    matrix and right side that are added to.
    """
    for f in range(len(bown)):
        o = np.uint64(bown[f])
        flux = F[f]
        c = conduct[f]
        diagonal = indptr[o]
        if flux != 0.0:  # as inside: what enters and leaves must carry the same variation along the face
            tilt = 0.0
            for i in range(3):
                for j in range(3):
                    tilt += S[f, i] * g[o, i, j] * span[f, j]
            for i in range(3):
                for j in range(3):
                    b[o, i] -= tilt / 12.0 * g[o, i, j] * span[f, j]
        if code[f] == _FREE:
            if flux < 0.0:
                a[diagonal] += -flux
                for i in range(3):
                    b[o, i] += -flux * Ub[f, i]
            else:
                for i in range(3):
                    b[o, i] -= flux * (g[o, i, 0] * sb[f, 0] + g[o, i, 1] * sb[f, 1] + g[o, i, 2] * sb[f, 2])
        elif code[f] == _SLIP:
            through = 0.0
            for i in range(3):
                through += U[o, i] * normal[f, i]
            a[diagonal] += c
            for i in range(3):
                b[o, i] += c * (U[o, i] - through * normal[f, i])
        else:
            into = max(-flux, 0.0)
            a[diagonal] += c + into
            for i in range(3):
                foot = g[o, i, 0] * sb[f, 0] + g[o, i, 1] * sb[f, 1] + g[o, i, 2] * sb[f, 2]
                along = g[o, i, 0] * normal[f, 0] + g[o, i, 1] * normal[f, 1] + g[o, i, 2] * normal[f, 2]
                b[o, i] += (
                    (c + into) * Ub[f, i] - c * foot - bend[f] * along - max(flux, 0.0) * (Ub[f, i] - U[o, i])
                )


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def residual(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    a,
    b,
    U,
):
    """Give sum |b - A U| and sum |diagonal U| over the cells of the block and all components."""
    wrong, scale = 0.0, 0.0
    for row in range(block[0], block[1]):
        c = np.uint64(row)
        r0 = b[c, 0]
        r1 = b[c, 1]
        r2 = b[c, 2]
        for k in range(np.uint64(indptr[c]), np.uint64(indptr[c + np.uint64(1)])):
            j = np.uint64(indices[k])
            r0 -= a[k] * U[j, 0]
            r1 -= a[k] * U[j, 1]
            r2 -= a[k] * U[j, 2]
        wrong += abs(r0) + abs(r1) + abs(r2)
        d = a[np.uint64(indptr[c])]
        scale += d * (abs(U[c, 0]) + abs(U[c, 1]) + abs(U[c, 2]))
    return wrong, scale


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def relax(  # type: ignore[no-untyped-def]
    block,
    indptr,
    a,
    relaxation,
    diagonal,
    b,
    U,
):
    """Keep the plain diagonal, and relax the equations: a = diagonal / relaxation, b += what that holds
    back.
    """
    factor = (1.0 - relaxation) / relaxation
    for row in range(block[0], block[1]):
        c = np.uint64(row)
        d = np.uint64(indptr[c])
        diagonal[c] = a[d]
        a[d] = diagonal[c] / relaxation
        hold = factor * diagonal[c]
        for i in range(3):
            b[c, i] += hold * U[c, i]


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def sweep(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    a,
    b,
    U,
    far,
    forward,
):
    """Do a Gauss-Seidel sweep on three components at once; the diagonal is first in its row; ``far`` holds U
    of other blocks.
    """
    start = np.uint64(block[0])
    end = np.uint64(block[1])
    for step in range(block[1] - block[0]):
        c = start + np.uint64(step) if forward else end - np.uint64(1) - np.uint64(step)
        first = np.uint64(indptr[c])
        r0 = b[c, 0]
        r1 = b[c, 1]
        r2 = b[c, 2]
        for k in range(first + np.uint64(1), np.uint64(indptr[c + np.uint64(1)])):
            j = np.uint64(indices[k])
            if start <= j < end:
                r0 -= a[k] * U[j, 0]
                r1 -= a[k] * U[j, 1]
                r2 -= a[k] * U[j, 2]
            else:
                r0 -= a[k] * far[j, 0]
                r1 -= a[k] * far[j, 1]
                r2 -= a[k] * far[j, 2]
        d = 1.0 / a[first]
        U[c, 0], U[c, 1], U[c, 2] = r0 * d, r1 * d, r2 * d
