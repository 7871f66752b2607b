"""Plane sections of concrete with bars at any place: resultants at ultimate strain planes, by exact integration.

Axial force is positive in tension. Moments are components by the right hand about the centroid of the concrete:
M_x = int sigma y dA, M_y = -int sigma x dA, so that M_y presses the side of positive x. A state is a direction theta,
which points from the neutral axis to the most compressed corner, and a place p of the strain plane: p = 0 pulls all
bars, up to 1 the neutral axis lies p h from the most compressed corner, beyond it h / (2 - p); at 2 the strain is
uniform.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.mechanics.sectionstates import ABSCISSAE, NEAREST, UNIFORM, WEIGHTS, plane_resultants, section_states

Floats = NDArray[np.float64]
ALIKE: Final = 1e-6  # of an area or a size: rounding


@dataclass(frozen=True)
class ConcreteLaw:
    """Stress of concrete by its compressive strain, and the strain planes at which a section fails.

    Attributes
    ----------
    stress : float
        Largest stress [MPa].
    eps_c : float
        Strain from which on it acts [-]: end of the parabola, or of the part of a block without stress.
    eps_cu : float
        Strain at which the most compressed corner fails where a part of the section is pulled [-].
    eps_uniform : float
        Strain at which uniform compression fails [-]; planes that press the whole section turn about the depth that
        has it.
    n : float
        Exponent of the parabola, 0 for a block [-].
    """

    stress: float
    eps_c: float
    eps_cu: float
    eps_uniform: float
    n: float = 0.0

    def at(self, strain: Floats) -> Floats:
        """Stress at compressive strains [MPa]."""
        if self.n == 0.0:
            return np.where(strain >= self.eps_c, self.stress, 0.0)
        left = 1.0 - np.clip(strain / self.eps_c, 0.0, 1.0)
        return np.asarray(self.stress * (1.0 - left**self.n))


@dataclass(frozen=True)
class BarLaw:
    """Bars that are elastic up to their strength in tension and compression [MPa], with modulus E_s [MPa]."""

    strength: float
    E_s: float = 200_000.0

    def at(self, strain: Floats) -> Floats:
        """Stress at compressive strains, compression positive [MPa]."""
        return np.clip(self.E_s * strain, -self.strength, self.strength)


class States(NamedTuple):
    """Resultants of states, each of their shape.

    Axial force [N], moments [N mm], depth of the neutral axis [mm], strain of the most pulled bar, positive in tension,
    nan without bars [-].
    """

    N: Floats
    Mx: Floats
    My: Floats
    c: Floats
    eps_t: Floats


class Plane(NamedTuple):
    """Strain plane: compressive strain at the centroid [-] and its slope along x and y [1/mm]."""

    strain: Floats
    slope_x: Floats
    slope_y: Floats


@dataclass(frozen=True, eq=False)
class PlaneSection:
    """A section of concrete with bars.

    Attributes
    ----------
    rings : tuple of ndarray, each of shape (v, 2)
        Corners of the outlines and of the holes [mm]; outlines run with the left hand inside, holes the other way.
    bars : ndarray, shape (b, 2)
        Places of the bars [mm].
    area : ndarray, shape (b,)
        Area of each bar [mm2].
    """

    rings: tuple[Floats, ...]
    bars: Floats
    area: Floats

    @classmethod
    def of(
        cls,
        outlines: Sequence[ArrayLike],
        bars: ArrayLike = (),
        area: ArrayLike = (),
        *,
        holes: Sequence[ArrayLike] = (),
        trusted: bool = False,
    ) -> PlaneSection:
        """A section of outlines and holes, whichever way they run.

        Parameters
        ----------
        outlines, holes : sequence of array_like, each of shape (v, 2)
            Corners [mm]; outlines do not overlap.
        bars : array_like, shape (b, 2)
            Places of the bars [mm].
        area : array_like, shape (b,)
            Area of each bar [mm2].
        trusted : bool
            Whether outlines, holes and bars are known to lie as they have to, and are not looked at.

        Raises
        ------
        ValueError
            If an outline has no area, crosses itself or another one, a hole or a bar lies outside the concrete, or bars
            and areas do not fit each other.
        """
        rings = []
        for sign, given in ((1.0, outlines), (-1.0, holes)):
            for corners in given:
                ring = np.asarray(corners, dtype=float)
                if ring.ndim != 2 or ring.shape[1] != 2 or len(ring) < 3 or not np.isfinite(ring).all():
                    raise ValueError("an outline has three finite corners (x, y) or more [mm]")
                twice = _twice_area(ring)
                if twice == 0.0:
                    raise ValueError("an outline has no area; give its corners in order")
                rings.append(ring if twice * sign > 0.0 else ring[::-1])
        places, areas = np.asarray(bars, dtype=float).reshape(-1, 2), np.asarray(area, dtype=float).ravel()
        if len(places) != len(areas):
            raise ValueError(f"bars have {len(places)} places and {len(areas)} areas; each needs one of both")
        if not (np.isfinite(places).all() and np.isfinite(areas).all() and (areas > 0.0).all()):
            raise ValueError("a place or an area of a bar is not finite, or an area is not more than zero")
        found = cls(tuple(rings), places, areas)
        if not found.A > 0.0:
            raise ValueError("the section has no area: its holes are as large as its outline")
        if not trusted:
            _check_places(found.rings[: len(outlines)], found.rings[len(outlines) :], places)
        return found

    @cached_property
    def _moments(self) -> tuple[float, float, float, float, float, float]:
        """Area, first and second moments of the concrete about the origin."""
        out = np.zeros(6)
        for ring in self.rings:
            (x, y), (u, v) = ring.T, np.roll(ring, -1, axis=0).T
            cross = x * v - u * y
            out += [
                cross.sum() / 2.0, (cross * (x + u)).sum() / 6.0, (cross * (y + v)).sum() / 6.0,
                (cross * (x * x + x * u + u * u)).sum() / 12.0, (cross * (y * y + y * v + v * v)).sum() / 12.0,
                (cross * (x * v + 2.0 * x * y + 2.0 * u * v + u * y)).sum() / 24.0,
            ]  # fmt: skip
        return tuple(map(float, out))  # type: ignore[return-value]

    @property
    def A(self) -> float:
        """Area of the concrete, bars not taken out [mm2]."""
        return self._moments[0]

    @property
    def centroid(self) -> Floats:
        """Centroid of the concrete [mm]."""
        return np.array(self._moments[1:3]) / self.A

    @property
    def second_moments(self) -> tuple[float, float, float]:
        """Int y2 dA, int x2 dA, int x y dA about the centroid [mm4]."""
        (x, y), (_, _, _, xx, yy, xy) = self.centroid, self._moments
        return yy - self.A * y * y, xx - self.A * x * x, xy - self.A * x * y

    @cached_property
    def _edges(self) -> tuple[Floats, Floats]:
        """Both ends of all edges about the centroid."""
        rings = [r - self.centroid for r in self.rings]
        return np.concatenate(rings), np.concatenate([np.roll(r, -1, axis=0) for r in rings])

    @cached_property
    def symmetric(self) -> bool:
        """Whether it is a rectangle along x and y whose bars are their mirror images about both middles."""
        corners = np.abs(self._edges[0])
        if len(corners) != 4 or np.ptp(corners, axis=0).max() > 1e-9 * corners.max():
            return False
        bars = np.round(np.column_stack([self.bars - self.centroid, self.area]), 6)
        images = [bars * mirror for mirror in ((1.0, 1.0, 1.0), (-1.0, 1.0, 1.0), (1.0, -1.0, 1.0))]
        own, *others = (image[np.lexsort(image.T)] for image in images)
        return all(np.array_equal(own, other) for other in others)

    def depth(self, theta: ArrayLike) -> Floats:
        """Depth h along directions [mm]."""
        top, bottom = self._extent(np.asarray(theta, dtype=float))
        return np.asarray(top - bottom)

    def reach(self, theta: ArrayLike) -> Floats:
        """Distance of the most pulled bar from the most compressed corner along directions [mm]."""
        theta = np.asarray(theta, dtype=float)
        along = np.stack([np.cos(theta), np.sin(theta)], axis=-1) @ (self.bars - self.centroid).T
        return np.asarray(self._extent(theta)[0] - along.min(-1))

    def _extent(self, theta: Floats) -> tuple[Floats, Floats]:
        along = np.stack([np.cos(theta), np.sin(theta)], axis=-1) @ self._edges[0].T
        return along.max(-1), along.min(-1)

    def plane(self, theta: ArrayLike, p: ArrayLike, law: ConcreteLaw) -> Plane:
        """Strain planes of states."""
        theta, p = np.broadcast_arrays(np.asarray(theta, dtype=float), np.asarray(p, dtype=float))
        top, kappa, c = self._profile(theta, p, law)
        return Plane(kappa * (c - top), kappa * np.cos(theta), kappa * np.sin(theta))

    def _profile(self, theta: Floats, p: Floats, law: ConcreteLaw) -> tuple[Floats, Floats, Floats]:
        """Most compressed corner about the centroid, curvature and depth of the neutral axis of states."""
        top, bottom = self._extent(theta)
        h = top - bottom
        c = np.where(p <= 1.0, np.maximum(p, NEAREST) * h, h / np.maximum(2.0 - p, UNIFORM))
        pivot = (1.0 - law.eps_uniform / law.eps_cu) * h
        most = np.where(c <= h, law.eps_cu, law.eps_uniform * c / np.maximum(c - pivot, 1e-300))
        return top, most / c, c

    def states(
        self, theta: ArrayLike, p: ArrayLike, concrete: ConcreteLaw, steel: BarLaw, *, net: bool = True
    ) -> States:
        """Resultants of ultimate states.

        Parameters
        ----------
        theta : array_like
            Direction from the neutral axis to the most compressed corner [rad].
        p : array_like
            Place of the strain plane, 0 to 2 [-]; broadcasts with `theta`.
        concrete, steel : ConcreteLaw, BarLaw
            Their laws.
        net : bool
            Whether the concrete that bars displace is taken out.

        Returns
        -------
        States
            Resultants, of the shape of both.

        References
        ----------
        Plane sections remain plane; Green's theorem: int sigma dA = oint S dt with S the integral of sigma along s,
        int sigma t dA = oint S t dt, by Gauss's rule on each side between the strains where the law changes.
        """
        theta, p = np.broadcast_arrays(np.asarray(theta, dtype=float), np.asarray(p, dtype=float))
        places = np.ascontiguousarray(theta).ravel(), np.ascontiguousarray(p).ravel()
        found = section_states(*places, *self.for_kernels(concrete, steel, net=net))
        return States(*(np.ascontiguousarray(v).reshape(theta.shape) for v in found.T))

    def resultants(self, planes: ArrayLike, concrete: ConcreteLaw, steel: BarLaw, *, net: bool = True) -> Floats:
        """Resultants of any strain planes.

        Parameters
        ----------
        planes : array_like, shape (k, 3)
            Compressive strain at the centroid [-] and its slopes along x and y [1/mm].
        concrete, steel : ConcreteLaw, BarLaw
            Their laws; concrete past its ultimate strain keeps its stress.
        net : bool
            Whether the concrete that bars displace is taken out.

        Returns
        -------
        ndarray, shape (k, 3)
            N [N], M_x, M_y [N mm].
        """
        given = np.ascontiguousarray(np.atleast_2d(np.asarray(planes, dtype=float)))
        return np.asarray(plane_resultants(given, *self.for_kernels(concrete, steel, net=net)))

    def for_kernels(self, concrete: ConcreteLaw, steel: BarLaw, *, net: bool) -> tuple[object, ...]:
        """Edges, bars and laws as the kernels take them."""
        laws = np.array([concrete.stress, concrete.eps_c, concrete.eps_cu, concrete.eps_uniform, concrete.n])
        bars = np.ascontiguousarray(self.bars - self.centroid)
        return *self._edges, bars, self.area, laws, np.array([steel.strength, steel.E_s]), net, ABSCISSAE, WEIGHTS

    def squash(self, concrete: ConcreteLaw, steel: BarLaw, *, net: bool = True) -> float:
        """Axial force of uniform compression, negative [N]."""
        even = np.array([concrete.eps_uniform])
        sigma = float(concrete.at(even)[0])
        return -(sigma * self.A + float(self.area.sum()) * (float(steel.at(even)[0]) - (sigma if net else 0.0)))

    def pull(self, steel: BarLaw) -> float:
        """Axial force of all bars at their strength [N]."""
        return float(self.area.sum() * steel.strength)


def _twice_area(ring: Floats) -> float:
    (x, y), (u, v) = ring.T, np.roll(ring, -1, axis=0).T
    return float(np.sum(x * v - u * y))


def _check_places(outlines: Sequence[Floats], holes: Sequence[Floats], bars: Floats) -> None:
    """Refuse outlines and holes that cross, and what lies outside the concrete."""
    import shapely  # late: kernels at sections that are known do without

    solids, gaps = ([shapely.Polygon(r) for r in rings] for rings in (outlines, holes))
    if not all(p.is_valid for p in (*solids, *gaps)):
        raise ValueError("an outline or a hole crosses itself; give its corners in order")
    whole, empty = shapely.union_all(solids), shapely.union_all(gaps)
    for name, one, each in (("outlines", whole, solids), ("holes", empty, gaps)):
        if one.area < sum(p.area for p in each) * (1.0 - ALIKE):
            raise ValueError(f"{name} lie over each other; give one around all of them")
    if empty.difference(whole).area > ALIKE * whole.area:
        raise ValueError("a hole lies outside the outlines")
    off = shapely.distance(whole.difference(empty), shapely.points(bars))
    if len(off) and off.max() > ALIKE * np.ptp(np.concatenate(outlines), axis=0).max():
        x, y = bars[off.argmax()]
        raise ValueError(f"the bar at ({x:g}, {y:g}) lies {off.max():.3g} mm outside the concrete")
