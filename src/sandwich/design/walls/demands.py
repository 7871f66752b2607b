"""Demands on a section from combined forces: one for every pattern of signs, and those that can govern."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cached_property
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
FEW: Final = 12  # demands that are all looked at


@dataclass(frozen=True)
class Demand:
    """Forces on sections of one part, (k,) each.

    N tension positive [N]; V in the plane and across [N]; moments in the plane and out of it [N mm]; the combination
    (its number) and the station of each.
    """

    N: Floats
    V: Floats
    V_out: Floats
    M: Floats
    M_out: Floats
    combination: Ints
    station: Ints

    def picked(self, which: NDArray[np.bool_] | Ints) -> Demand:
        """Some of them."""
        return Demand(
            N=self.N[which], V=self.V[which], V_out=self.V_out[which], M=self.M[which], M_out=self.M_out[which],
            combination=self.combination[which], station=self.station[which],
        )  # fmt: skip

    @cached_property
    def corners(self) -> Ints:
        """Those that can govern bending with axial force."""
        return corners(self.N, self.M_out, self.M)


class Acting(NamedTuple):
    """Demands of one situation, and their numbers among all."""

    situation: str
    mine: Ints
    demand: Demand


def by_situation(demand: Demand, situations: NDArray[np.object_]) -> list[Acting]:
    """Demands apart by the situation of their combination, (k,) in `situations`."""
    of = situations[demand.combination]
    each = ((s, np.flatnonzero(of == s)) for s in dict.fromkeys(of))
    return [Acting(s, mine, demand.picked(mine)) for s, mine in each]


def demands(steady: Floats, either: Floats) -> Demand:
    """Demands of s stations under k combinations.

    Parameters
    ----------
    steady : ndarray, shape (s, k, 6)
        N, V1, V2, M1, M2, T with their signs [N, N mm].
    either : ndarray, shape (s, k, 6)
        Magnitudes that act with any sign; N and both moments are taken in all patterns, each shear at its most.

    Returns
    -------
    Demand
        One a station, combination and pattern.
    """
    parts = []
    s, k = np.meshgrid(np.arange(steady.shape[0]), np.arange(steady.shape[1]), indexing="ij")
    V = np.abs(steady[..., 1]) + either[..., 1]
    V_out = np.abs(steady[..., 2]) + either[..., 2]
    for i, signs in enumerate(itertools.product((1.0, -1.0), repeat=3)):
        # all stations of a combination alike: those that act together stand at the same place of their stations
        acts = np.broadcast_to(either.any((0, 2)) | (i == 0), s.shape)
        N, M_out, M = (steady[..., j] + sign * either[..., j] for j, sign in zip((0, 3, 4), signs, strict=True))
        parts.append([v[acts] for v in (N, V, V_out, M, M_out, k, s)])
    N, V, V_out, M, M_out, k, s = (np.concatenate([p[i] for p in parts]) for i in range(7))
    return Demand(
        N=N, V=V, V_out=V_out, M=M, M_out=M_out, combination=k.astype(np.int64), station=s.astype(np.int64),
    )  # fmt: skip


def corners(N: Floats, Mx: Floats, My: Floats) -> Ints:
    """Demands at the corners of the hull of all: where a section carries these it carries what lies between."""
    from scipy.spatial import ConvexHull, QhullError  # late: half of what a worked point takes to start

    points = np.stack([N, Mx, My], axis=1)
    size = np.maximum(np.abs(points).max(0), 1e-9)
    scaled = np.round(points / size, 7)
    order = np.lexsort(scaled.T)
    alike = (scaled[order[1:]] == scaled[order[:-1]]).all(1)
    first = np.sort(order[np.append(True, ~alike)])  # the first of those that are alike
    if len(first) <= FEW:
        return first
    flat = scaled[first]
    spread = np.ptp(flat, axis=0) > 1e-3
    try:
        hull = ConvexHull(flat[:, spread]) if spread.sum() > 1 else None
    except QhullError:
        return first
    if hull is None:
        own = flat[:, spread.argmax()]
        return np.asarray(first[np.unique([own.argmin(), own.argmax()])])
    return np.asarray(first[np.sort(hull.vertices)])
