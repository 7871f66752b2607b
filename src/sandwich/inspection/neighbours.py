"""Do neighbours agree? Values at the two ends of each smooth edge, from the element on either side."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.core.connected import connected
from sandwich.core.resultants import rotate, turn_over
from sandwich.model.points import SmoothEdges

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
JUMP: Final = 0.6  # of the size of both sides: an edge that does not agree
SOME: Final = 0.15  # the same for an edge that another reading of one side mends
MENDED: Final = 0.3  # of that jump: what another reading of one side may leave
BLOCK: Final = 4_096  # edges looked at together
PARTS: Final = (slice(0, 3), slice(3, 6), slice(6, 8))  # n, m, v
LEVERS: Final = (1.0, 100.0, 1.0)  # mm, a rough arm by which moments are forces
NOISE: Final = 1e-6  # of the largest of them: what is less was rounded by the analysis


def _moments(values: Floats) -> Floats:
    out = values.copy()
    out[..., 3:6] *= -1.0
    return out


READINGS: Final[dict[str, Callable[[Floats], Floats]]] = {
    "turned over": turn_over,
    "turned by 90 degrees": lambda v: rotate(v, np.pi / 2),
    "turned by 180 degrees": lambda v: rotate(v, np.pi),
    "turned by 270 degrees": lambda v: rotate(v, -np.pi / 2),
    "with moments of the other sign": _moments,
    "turned over and by 90 degrees": lambda v: turn_over(rotate(v, np.pi / 2)),
}


@dataclass(frozen=True)
class Jumps:
    """Edges across which results do not agree.

    Attributes
    ----------
    edges, looked_at : int
        How many, and of how many.
    elements : ndarray of int
        Elements of the zone on the smaller side of them.
    reading : str
        What would make most of these edges agree, '' for nothing that is known.
    mended : int
        Edges that agree then.
    """

    edges: int
    looked_at: int
    elements: Ints
    reading: str
    mended: int


def jumps(smooth: SmoothEdges, corners: Ints, turned: Floats) -> Jumps:
    """Look for edges whose two elements do not agree at their common nodes.

    Parameters
    ----------
    smooth : SmoothEdges
        Pairs of elements of the zone and the nodes of the smooth edge between them.
    corners : ndarray of int, shape (e, 4)
        Node of each corner.
    turned : ndarray, shape (k, e, 4, 8)
        Results in the bar directions [N, mm].

    Returns
    -------
    Jumps
        Edges with a jump of more than most of the size of both sides, and those that another reading mends.
    """
    if not len(smooth):
        return Jumps(0, 0, np.empty(0, dtype=np.int64), "", 0)
    a, b, nodes = smooth.a, smooth.b, smooth.nodes
    size, whole = _size(turned), np.ones(len(smooth), dtype=bool)

    def side(of: Ints, at: Ints) -> tuple[Floats, NDArray[np.bool_]]:
        """Results on one side of some edges in each case, over their size; whether none is missing."""
        corner = (corners[of[at]][:, None, :] == nodes[at][:, :, None]).argmax(2)
        # the mean of both ends: what is left of the jumps of a sound mesh
        mean = (turned[:, of[at], corner[:, 0]] + turned[:, of[at], corner[:, 1]]).swapaxes(0, 1) / (2.0 * size)
        finite = np.isfinite(mean).all(axis=(1, 2))
        return np.nan_to_num(mean, copy=False), np.asarray(finite)

    jump, both = np.empty(len(smooth)), np.empty(len(smooth))
    for part in _blocks(np.arange(len(smooth))):
        (here, first), (there, second) = side(a, part), side(b, part)
        jump[part], both[part], whole[part] = _norm(here - there), _norm(here) + _norm(there), first & second
    loud = whole & (both > 0.2 * np.median(both))  # a gap is named by itself
    large = loud & (jump > JUMP * both)
    some = np.flatnonzero(loud & (jump > SOME * both))
    quiet = np.flatnonzero(whole & (jump > 0.02 * both))

    def left(change: Callable[[Floats], Floats], at: Ints) -> Floats:
        found = [np.empty(0)]
        for part in _blocks(at):
            (one, _), (other, _) = side(a, part), side(b, part)
            found.append(np.minimum(_norm(one - change(other * size) / size), _norm(change(one * size) / size - other)))
        return np.concatenate(found)

    reading, mended, bad = "", 0, large
    for name, change in READINGS.items():
        mends = some[left(change, some) < MENDED * jump[some]]
        if len(mends) > max(2, 0.5 * large.sum(), mended):
            # quiet edges too are on the side they are nearer to
            reading, mended, bad = name, len(mends), large.copy()
            bad[mends] = True
            bad[quiet[left(change, quiet) < 0.8 * jump[quiet]]] = True
    return Jumps(int(bad.sum()), len(smooth), _suspects(a, b, bad, len(corners)), reading, mended)


def _blocks(at: Ints) -> Iterator[Ints]:
    """Some edges at a time: those of a large mesh are not held by their results at once."""
    return (at[i : i + BLOCK] for i in range(0, len(at), BLOCK))


def _size(turned: Floats) -> Floats:
    """Root mean square of n, m and v in each case, (k, 8); 1 where nothing is, of noise that of the rest."""
    out = np.ones((len(turned), 8))
    each = np.array([sizes(case) for case in turned])
    whole = np.nanmax(each, initial=0.0)
    each = np.where(each <= NOISE * whole, whole, each)
    for i, (part, lever) in enumerate(zip(PARTS, LEVERS, strict=True)):
        out[:, part] = np.where(each[:, i] > 0.0, each[:, i] * lever, 1.0)[:, None]
    return out


def sizes(results: Floats) -> Floats:
    """Root mean square of n, of m over a lever arm, and of v [N/mm]; last axis (8,)."""
    each = zip(PARTS, LEVERS, strict=True)
    return np.array([np.sqrt(np.nanmean(results[..., part] ** 2)) / lever for part, lever in each])


def _norm(values: Floats) -> Floats:
    return np.asarray(np.sqrt(np.einsum("ekc,ekc->e", values, values)))


def _suspects(a: Ints, b: Ints, bad: NDArray[np.bool_], count: int) -> Ints:
    """The smaller side of the bad edges: parts that they cut off, coloured in turn across them; else all at them."""
    if not bad.any():
        return np.empty(0, dtype=np.int64)
    part = connected(count, a[~bad], b[~bad])
    across = np.unique(np.sort(np.stack([part[a[bad]], part[b[bad]]], 1), axis=1), axis=0)
    across = across[across[:, 0] != across[:, 1]]
    size = np.bincount(part)
    colour = np.zeros(len(size), dtype=np.int64)
    suspects: list[int] = []
    for seed in np.argsort(-size, kind="stable"):
        if colour[seed]:
            continue
        colour[seed], queue, seen = 1, [int(seed)], [int(seed)]
        while queue:
            p = queue.pop()
            for q in [*across[across[:, 0] == p, 1].tolist(), *across[across[:, 1] == p, 0].tolist()]:
                if not colour[q]:
                    colour[q] = -colour[p]
                    queue.append(q)
                    seen.append(q)
        sides = [[p for p in seen if colour[p] == c] for c in (1, -1)]
        suspects += min(sides, key=lambda side: sum(int(size[p]) for p in side)) if all(sides) else []
    return np.asarray(np.flatnonzero(np.isin(part, suspects)) if suspects else np.unique([a[bad], b[bad]]))
