"""Compiled loops for what the flow carries. Rules and symbols as in `kernels`, and these:

G : (n_faces,) diffusivity, m2/s
phi, phi_b : (n_cells,), (n_boundary,) the quantity carried
psi : (n_cells,) limiter, 0 to 1
gU : (n_cells, 3, 3) gradient of the velocity, 1/s
tilt : (n_internal,) change of the flux from end to end of a face, m3/s
"""

from __future__ import annotations

import numpy as np
from numba import njit

HOLDS = 0.9  # of the limiter: above it lets go


@njit(cache=True, error_model="numpy")
def upwind_matrix(  # type: ignore[no-untyped-def]
    own,
    nei,
    F,
    G,
    over,
    upper,
    lower,
    indptr,
    a,
):
    """Assemble first-order convection and plain diffusion over internal faces; the diagonal is first in its
    row.
    """
    a[:] = 0.0
    for f in range(len(nei)):
        o = np.uint64(own[f])
        n = np.uint64(nei[f])
        flux = F[f]
        c = G[f] * over[f]
        into = max(-flux, 0.0)
        out = max(flux, 0.0)
        a[upper[f]] = -(c + into)
        a[lower[f]] = -(c + out)
        a[indptr[o]] += c + into
        a[indptr[n]] += c + out


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def face_flux(  # type: ignore[no-untyped-def]
    block,
    own,
    nei,
    S,
    F,
    G,
    over,
    share,
    skew,
    so,
    sn,
    tilt,
    span,
    phi,
    g,
    psi,
    flux,
):
    """Second-order flux of the carried quantity through internal faces, convection and diffusion, skewness
    included.

    The convected value is upwind plus what linear upwind adds, held by the limiter; where that lets go, the
    mean of linear upwind and linear interpolation. One goes over into the other without a jump: cells that
    jump to and fro between iterations never settle. (Half and half wherever it is held, a puff came out a
    tenth further off.) ``tilt`` is how the volume flux changes from end to end of a face: its product with
    the change of phi adds a twelfth (as in `kernels.momentum`).
    """
    for f in range(block[2], block[3]):
        o = np.uint64(own[f])
        n = np.uint64(nei[f])
        w = share[f]
        po = phi[o]
        pn = phi[n]
        foot_o, foot_n = 0.0, 0.0
        if skew[f] >= 0:
            k = np.uint64(skew[f])
            foot_o = g[o, 0] * so[k, 0] + g[o, 1] * so[k, 1] + g[o, 2] * so[k, 2]
            foot_n = g[n, 0] * sn[k, 0] + g[n, 1] * sn[k, 1] + g[n, 2] * sn[k, 2]
        central = w * (po + foot_o) + (1.0 - w) * (pn + foot_n)
        if F[f] >= 0.0:
            ahead = foot_o + (g[o, 0] * S[f, 0] + g[o, 1] * S[f, 1] + g[o, 2] * S[f, 2]) * (1.0 - w) / over[f]
            hold = psi[o]
            free = max(hold - HOLDS, 0.0) / (1.0 - HOLDS)
            value = po + hold * (ahead + 0.5 * free * (central - po - ahead))
        else:
            ahead = foot_n - (g[n, 0] * S[f, 0] + g[n, 1] * S[f, 1] + g[n, 2] * S[f, 2]) * w / over[f]
            hold = psi[n]
            free = max(hold - HOLDS, 0.0) / (1.0 - HOLDS)
            value = pn + hold * (ahead + 0.5 * free * (central - pn - ahead))
        change = 0.0
        for j in range(3):
            change += 0.5 * (g[o, j] + g[n, j]) * span[f, j]
        both = min(min(psi[o], psi[n]), 1.0)
        flux[f] = F[f] * value + both * tilt[f] * change / 12.0 - G[f] * over[f] * (pn + foot_n - po - foot_o)


@njit(cache=True, error_model="numpy")
def face_tilt(  # type: ignore[no-untyped-def]
    own,
    nei,
    S,
    span,
    gU,
    tilt,
):
    """Change of the volume flux from end to end of every internal face."""
    for f in range(len(nei)):
        o = np.uint64(own[f])
        n = np.uint64(nei[f])
        total = 0.0
        for i in range(3):
            for j in range(3):
                total += S[f, i] * 0.5 * (gU[o, i, j] + gU[n, i, j]) * span[f, j]
        tilt[f] = total


@njit(cache=True, error_model="numpy")
def limiter(  # type: ignore[no-untyped-def]
    own,
    nei,
    bown,
    S,
    over,
    share,
    skew,
    so,
    sn,
    rb,
    phi,
    phi_b,
    counts,
    g,
    small,
    psi,
):
    """Hold reconstructed face values between those of a cell and its neighbours.

    Source: Venkatakrishnan, AIAA 93-0880 (smooth form), ``small`` the square of a change that may pass
    unheld.
    """
    n_cells = len(phi)
    low = phi.copy()
    high = phi.copy()
    for f in range(len(nei)):
        o = own[f]
        n = nei[f]
        low[o], high[o] = min(low[o], phi[n]), max(high[o], phi[n])
        low[n], high[n] = min(low[n], phi[o]), max(high[n], phi[o])
    for b in range(len(bown)):
        if counts[b]:
            o = bown[b]
            low[o], high[o] = min(low[o], phi_b[b]), max(high[o], phi_b[b])
    for c in range(n_cells):
        psi[c] = 1.0
    for f in range(len(nei) * 2 + len(bown)):
        if f < len(nei):
            c = own[f]
            d = 0.0
            for j in range(3):
                d += g[c, j] * (
                    (so[skew[f], j] if skew[f] >= 0 else 0.0) + S[f, j] * (1.0 - share[f]) / over[f]
                )
        elif f < 2 * len(nei):
            k = f - len(nei)
            c = nei[k]
            d = 0.0
            for j in range(3):
                d += g[c, j] * ((sn[skew[k], j] if skew[k] >= 0 else 0.0) - S[k, j] * share[k] / over[k])
        else:
            k = f - 2 * len(nei)
            c = bown[k]
            d = 0.0
            for j in range(3):
                d += g[c, j] * rb[k, j]
        room = (high[c] if d > 0.0 else low[c]) - phi[c]
        if d * d > small and abs(d) > 0.5 * abs(room):
            held = (room * room + small) * d + 2.0 * d * d * room
            base = room * room + 2.0 * d * d + room * d + small
            ramp = min(d * d / small - 1.0, 1.0)  # without a jump where the change may just pass
            psi[c] = min(psi[c], 1.0 - ramp * (1.0 - max(held / (d * base), 0.0)))
