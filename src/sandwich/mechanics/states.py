"""States of strength of two outer layers, cracked or not, and which of them is consistent with a field.

The highest strengths come first; one cracked layer or the other is one level, of which the field with less steel wins.
"""

from __future__ import annotations

import math
from typing import Final

from sandwich.core.compiled import kernel
from sandwich.mechanics.fixedlayers import layers

STATES: Final = 4
_TENSION: Final = 1e-7  # of the size of the demand: below it a layer or a bar is not in tension


@kernel
def principal_minimum(cx, cy, q):
    """Smaller principal value of an in-plane tensor."""
    return 0.5 * (cx + cy) - math.sqrt((0.5 * (cx - cy)) ** 2 + q * q)


@kernel
def with_bars(a, b, c, share, j, along, f):
    """A tensor with those of bars added: share of tensor j, unit vectors and forces of each."""
    for i in range(f.size):
        g = share[j, i] * f[i]
        a += g * along[i, 0] * along[i, 0]
        b += g * along[i, 1] * along[i, 1]
        c += g * along[i, 0] * along[i, 1]
    return a, b, c


@kernel
def state(k):
    """Whether the bottom and the top layer are cracked in state k."""
    return k in (1, 3), k in (2, 3)


@kernel
def is_tried(k, sure_b, sure_t):
    """Whether a state is open where a layer is surely in tension."""
    cracked_b, cracked_t = state(k)
    return (cracked_b or not sure_b) and (cracked_t or not sure_t)


@kernel
def level_ends(k):
    """Whether state k begins a level of lower strengths."""
    return k in (1, 3)


@kernel
def cracked_layers(n, m, h, tb, tt, e, f):
    """Whether the bottom and the top layer are cracked: tension in the layer's demand or in a bar of its face."""
    _, _, nbx, ntx, nby, nty, qb, qt, scale = layers(n, m, h, tb, tt)
    tol = _TENSION * scale
    bottom = -principal_minimum(-nbx, -nby, qb) > tol
    top = -principal_minimum(-ntx, -nty, qt) > tol
    for i in range(len(e)):
        if f[i] > tol:
            bottom = bottom or e[i] > 0.1 * h
            top = top or e[i] < -0.1 * h
    return bottom, top


@kernel
def is_consistent(k, n, m, h, tb, tt, e, f):
    """Whether a field found with the strengths of state k cracks no layer that counts as whole."""
    cracked_b, cracked_t = state(k)
    is_b, is_t = cracked_layers(n, m, h, tb, tt, e, f)
    return (cracked_b or not is_b) and (cracked_t or not is_t)
