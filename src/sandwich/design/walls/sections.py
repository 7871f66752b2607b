"""Strength of sections in bending about any axis with axial force: surface, contours, curves, utilisations."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.mechanics.planesection import PlaneSection, States
from sandwich.mechanics.roots import changes, root
from sandwich.mechanics.roots import share as zero_share
from sandwich.mechanics.sectionsolve import meet_demands
from sandwich.mechanics.sectionsurface import leaves_axis, meet_surface
from sandwich.standards.interface import MemberLaw

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
WAYS: Final = 96  # directions of the surface that solutions start from
ROOT: Final = 1e-9  # of the size of the surface: a solution between bounds
STEP: Final = 0.02  # the same: more than any step of the surface
HALVINGS: Final = 36
CHORD: Final = 0.97  # of the surface: its chords lie no further inside


class Demands(NamedTuple):
    """Axial forces [N], tension positive, and moments [N mm] that act together, each (k,)."""

    N: Floats
    Mx: Floats
    My: Floats


@dataclass(frozen=True)
class Strength:
    """What a section carries against some demands, each (k,).

    Attributes
    ----------
    moment : ndarray
        Moment in the direction of that of the demand at its axial force [N mm], nan where it carries none of any size.
    utilisation : ndarray
        Moment over that [-], inf where there is none.
    along_ray : ndarray
        Demand over what is carried of it in proportion [-].
    theta, p : ndarray
        State at `moment`, see `mechanics.planesection`.
    c, eps_t, phi : ndarray
        Depth of the neutral axis [mm], strain of the most pulled bar [-], factor on the resistance [-] there.
    """

    moment: Floats
    utilisation: Floats
    along_ray: Floats
    theta: Floats
    p: Floats
    c: Floats
    eps_t: Floats
    phi: Floats


class SectionStrength:
    """Strength of one section by the laws of a standard.

    Parameters
    ----------
    section : PlaneSection
        Concrete and bars.
    law : MemberLaw
        Their laws, with the reduction of the resistance.
    net : bool
        Whether the concrete that bars displace is taken out.
    nominal : bool
        Whether the reduction and the limit of the axial force are left out.
    """

    def __init__(self, section: PlaneSection, law: MemberLaw, *, net: bool = True, nominal: bool = False) -> None:
        self.section, self.law, self.net = section, law, net
        self.reduction: Callable[[Floats], Floats] | None = None if nominal else law.reduction
        self.nominal = nominal

    def phi(self, eps_t: Floats) -> Floats:
        """Factor on the resistance by the strain of the most pulled bar [-]."""
        if self.reduction is None:
            return np.ones(np.shape(eps_t))
        return np.asarray(self.reduction(np.nan_to_num(eps_t, nan=-1.0)), dtype=float)

    def states(self, theta: ArrayLike, p: ArrayLike) -> States:
        """Resistance at strain planes, reduced where the standard reduces it."""
        s = self.section.states(theta, p, self.law.concrete, self.law.steel, net=self.net)
        phi = self.phi(s.eps_t)
        return States(phi * s.N, phi * s.Mx, phi * s.My, s.c, s.eps_t)

    @cached_property
    def compression(self) -> float:
        """Largest compression that is carried, negative [N]."""
        whole = self.section.squash(self.law.concrete, self.law.steel, net=self.net)
        if self.nominal or self.law.most == 1.0:
            return whole
        even = float(self.law.steel.at(np.array(self.law.concrete.eps_uniform)))
        excess = max(even - self.law.steel_at_most, 0.0) * float(self.section.area.sum())
        return float(self.phi(np.array(-1.0))) * self.law.most * (whole + excess)

    @cached_property
    def tension(self) -> float:
        """Largest tension that is carried [N]."""
        return float(self.phi(np.array(1.0))) * self.section.pull(self.law.steel)

    @cached_property
    def _turns(self) -> Floats:
        """Strains between which the factor on the resistance is linear, and the factor there."""
        if self.reduction is None:
            return np.array([0.0, 1.0, 1.0, 1.0])
        low, high = min(self.law.turns), max(self.law.turns)
        return np.array([low, high, *self.phi(np.array([low, high]))])

    @cached_property
    def _extents(self) -> Floats:
        return np.asarray(self.section.depth([0.0, np.pi / 2.0]))

    def _theta(self, way: Floats) -> Floats:
        """Directions that are even over a section as wide as it is deep."""
        wide, deep = self._extents
        return np.asarray(np.arctan2(np.sin(way) / deep, np.cos(way) / wide))

    def _places(self, theta: Floats) -> Floats:
        """Places from which solutions start in some directions, those among them where phi turns, (k, places)."""
        deep = np.concatenate([[0.0], np.geomspace(1e-3, 1.0, 40)])
        even = np.concatenate([deep, 2.0 - np.geomspace(1.0, 1e-3, 16)[1:], [2.0]])
        if self.reduction is None or not len(self.section.area):
            return np.asarray(np.broadcast_to(even, (len(theta), len(even))))
        d, h = self.section.reach(theta), self.section.depth(theta)
        eps_cu = self.law.concrete.eps_cu
        turns = [np.minimum(eps_cu / (eps_cu + eps) * d / h, 1.0) for eps in self.law.turns]
        return np.sort(np.column_stack([np.broadcast_to(even, (len(theta), len(even))), *turns]), axis=1)

    @cached_property
    def unreduced(self) -> SectionStrength:
        """Strength without the reduction and the limit of the axial force."""
        if self.nominal or (self.reduction is None and self.law.most == 1.0):
            return self
        return SectionStrength(self.section, self.law, net=self.net, nominal=True)

    @cached_property
    def _grid(self) -> tuple[Floats, States]:
        """Places and states of the surface by ways."""
        way = np.arange(WAYS)
        quarter = self.section.symmetric
        if quarter:  # the other three are its mirror images
            way = way[: WAYS // 4 + 1]
        theta = self._theta(way * 2.0 * np.pi / WAYS)
        places = self._places(theta)
        states = self.states(theta[:, None], places)
        if quarter:
            half = np.concatenate([way, way[-2::-1]])  # then back along them, but for the first and the last
            at = np.concatenate([half, half[1:-1]])
            x = np.where(np.arange(WAYS) <= WAYS // 2, 1.0, -1.0)[:, None]
            y = np.where(np.abs(np.arange(WAYS) - WAYS // 2) >= WAYS // 4, 1.0, -1.0)[:, None]
            places, states = places[at], States(*(v[at] for v in states))
            states = states._replace(Mx=x * states.Mx, My=y * states.My)
        return np.ascontiguousarray(places), states

    @cached_property
    def _sizes(self) -> tuple[float, float]:
        """Axial force and moment that residuals are held against."""
        _, s = self._grid
        return float(np.abs(s.N).max()), float(np.hypot(s.Mx, s.My).max())

    def at_axis(self, theta: ArrayLike, N: ArrayLike) -> States:
        """Resistance at axial forces with the neutral axis in given directions.

        Parameters
        ----------
        theta : array_like
            Direction towards the most compressed corner [rad].
        N : array_like
            Axial force [N]; broadcasts with `theta`.

        Returns
        -------
        States
            nan where the axial force is not carried; of several planes with one force that of the largest moment.
        """
        theta, N = np.broadcast_arrays(np.asarray(theta, dtype=float), np.asarray(N, dtype=float))
        way, force = theta.ravel(), N.ravel()
        places = self._places(way)
        grid = self.states(way[:, None], places)
        left = grid.N - force[:, None]
        crosses = changes(left)
        moment = np.hypot(grid.Mx, grid.My)
        share = zero_share(left)
        size = np.where(crosses, moment[:, :-1] * (1.0 - share) + moment[:, 1:] * share, -1.0)
        j = size.argmax(1)
        rows = np.arange(len(way))
        bounds, ends = (places[rows, j], places[rows, j + 1]), (left[rows, j], left[rows, j + 1])
        found = self.states(way, root(lambda p: self.states(way, p).N - force, bounds, ends, ROOT * self._sizes[0]))
        there = (size[rows, j] >= 0.0) & (force >= self.compression)
        return States(*(np.where(there, v, np.nan).reshape(theta.shape) for v in found))

    def by_chords(self, N: Floats, Mx: Floats, My: Floats) -> Floats:
        """Moments carried at the axial forces of demands (k,) by the chords of the surface [N mm], nan where none is.

        They lie up to 3 % below the surface where it is convex.
        """
        return self._start(Demands(N, Mx, My), along_ray=False)[4]

    def carries(self, N: ArrayLike, Mx: ArrayLike, My: ArrayLike) -> NDArray[np.bool_]:
        """Whether demands are carried, (k,): by the chords of the surface, and exactly where these do not tell.

        Parameters
        ----------
        N, Mx, My : array_like, shape (k,)
            As for `strength`.
        """
        d = Demands(*(np.array(v, dtype=float) for v in np.broadcast_arrays(np.atleast_1d(N), Mx, My)))
        size, reached = np.hypot(d.Mx, d.My), self.by_chords(*d)
        inside = np.clip(d.N, self.compression, self.tension) == d.N
        out = inside & (self._beside(d.N) <= 1.0) & (reached >= size)
        unsure = np.flatnonzero(~out & inside & ~(reached < CHORD * size))
        if len(unsure):
            out[unsure] = self.strength(*(v[unsure] for v in d), ray=False).utilisation <= 1.0
        return np.asarray(out)

    def strength(self, N: ArrayLike, Mx: ArrayLike, My: ArrayLike, *, ray: bool = True) -> Strength:
        """What the section carries against demands, all at once.

        Parameters
        ----------
        N, Mx, My : array_like, shape (k,)
            Axial force [N], tension positive, and moments about the centroid of the concrete [N mm].
        ray : bool
            Whether utilisations along the ray are wanted; else they are nan where they are not needed.

        Returns
        -------
        Strength
            Moments, utilisations and states.

        Raises
        ------
        ValueError
            If a demand is not finite.
        """
        d = Demands(*(np.array(v, dtype=float) for v in np.broadcast_arrays(np.atleast_1d(N), Mx, My)))
        wrong = np.flatnonzero(~np.isfinite(np.stack(d)).all(0))
        if len(wrong):
            raise ValueError(f"demand {wrong[0] + 1} of {len(d.N)} is not finite; finite forces and moments are wanted")
        size = np.hypot(d.Mx, d.My)
        way, p, moment, s = self._moments(d)
        with np.errstate(divide="ignore", invalid="ignore"):
            use = np.where(moment > 0.0, size / moment, np.inf)
        alone = self._beside(d.N)
        along_ray, wanted = np.full(size.shape, np.nan), np.flatnonzero((alone > 1.0) | (size == 0.0) | ray)
        if len(wanted):
            along_ray[wanted] = self._along_ray(Demands(*(v[wanted] for v in d)))
        # where a force by itself is not carried the moment has a minimum too: the ray tells
        use = np.where(size > 0.0, np.where((alone > 1.0) & (along_ray > 1.0), np.inf, use), 0.0)
        use = np.where((size == 0.0) & (along_ray > 1.0), np.inf, use)
        return Strength(
            moment=moment, utilisation=use, along_ray=along_ray, theta=self._theta(way), p=p, c=s.c, eps_t=s.eps_t,
            phi=self.phi(s.eps_t),
        )  # fmt: skip

    def _moments(self, d: Demands) -> tuple[Floats, Floats, Floats, States]:
        """Way, place, size of the moment carried at the axial force of each demand, and its state."""
        way, p = self._solve(d, along_ray=False)
        s = self.states(self._theta(way), p)
        ux, uy = _unit(d)
        inside = np.clip(d.N, self.compression, self.tension) == d.N
        return way, p, np.where(inside, s.Mx * ux + s.My * uy, np.nan), s

    def _along_ray(self, d: Demands) -> Floats:
        size = np.hypot(d.Mx, d.My)
        way, p = self._solve(d, along_ray=True)
        s = self.states(self._theta(way), p)
        ux, uy = _unit(d)
        with np.errstate(divide="ignore", invalid="ignore"):
            use = np.hypot(d.N, size) / np.hypot(s.N, s.Mx * ux + s.My * uy)
        lost = np.flatnonzero(~np.isfinite(use) & (size > 0.0))
        if len(lost):
            use[lost] = self._inwards(Demands(*(v[lost] for v in d)))
        use = np.where(size == 0.0, self._beside(d.N), use)
        return np.where(d.N < 0.0, np.maximum(use, d.N / self.compression), use)

    def _inwards(self, d: Demands) -> Floats:
        """Utilisation along rays by halving: for rays so near the axis without moments that no facet is met."""
        size = np.hypot(d.Mx, d.My)
        limit = np.where(d.N < 0.0, self.compression, self.tension)
        with np.errstate(divide="ignore", invalid="ignore"):
            high = np.where(d.N != 0.0, limit / d.N, 2.0 * self._sizes[1] / size)
        low = np.zeros(len(size))
        for _ in range(HALVINGS):
            middle = (low + high) / 2.0
            _, _, moment, _ = self._moments(Demands(*(middle * v for v in d)))
            held = moment >= middle * size
            low, high = np.where(held, middle, low), np.where(held, high, middle)
        return np.where(low > 0.0, 1.0 / np.maximum(low, 1e-300), np.inf)

    def _beside(self, N: Floats) -> Floats:
        """Axial forces over what is carried without a moment [-]."""
        pressed, pulled = self._alone
        tension = N / pulled if pulled > 0.0 else np.where(N > 0.0, np.inf, 0.0)
        return np.asarray(np.where(N < 0.0, N / pressed, tension))

    @cached_property
    def _alone(self) -> tuple[float, float]:
        """Compression and tension that are carried without a moment [N]."""
        least = self.section.squash(self.law.concrete, self.law.steel, net=self.net) * float(self.phi(np.array(-1.0)))
        area, bars = self.section.area, self.section.bars - self.section.centroid
        if np.abs(area @ bars).max(initial=0.0) <= 1e-9 * area.sum() * self._extents.max():
            return least, self.tension  # the bars pull and press in the centroid
        return self._exit(least), self._exit(self.tension)

    def _exit(self, limit: float) -> float:
        """Axial force at which the axis without moments leaves the surface, on the chords of its facets."""
        _, grid = self._grid
        return float(leaves_axis(*(np.ascontiguousarray(v) for v in grid[:3]), limit, HALVINGS))

    def contour(self, N: float, directions: ArrayLike) -> Floats:
        """Largest moments at an axial force in directions of the moment vector [rad], (k,) [N mm]."""
        way = np.asarray(directions, dtype=float)
        return self.strength(np.full(way.shape, N), np.cos(way), np.sin(way)).moment

    def _residual(self, d: Demands, s: States, *, along_ray: bool) -> tuple[Floats, Floats]:
        """What of a demand a state does not meet: in the force or along the ray, and across the moment's direction."""
        force, moment = self._sizes
        ux, uy = _unit(d)
        along, across = s.Mx * ux + s.My * uy, s.My * ux - s.Mx * uy
        if not along_ray:
            return (s.N - d.N) / force, across / moment
        size = np.hypot(d.Mx, d.My)
        scale = np.maximum(np.abs(d.N) * moment + size * force, 1e-300)
        return (s.N * size - d.N * along) / scale, across / moment

    def _solve(self, d: Demands, *, along_ray: bool) -> tuple[Floats, Floats]:
        """Way and place of the state that meets each demand, nan where none does."""
        way, p, low, high, _ = self._start(d, along_ray=along_ray)
        found = meet_demands(
            np.stack(d, axis=1), way, p, np.array(self._sizes), self._extents, self._turns, along_ray,
            2.0 * np.pi / WAYS, *self.section.for_kernels(self.law.concrete, self.law.steel, net=self.net),
        )  # fmt: skip
        way, p = found[:, 0].copy(), found[:, 1].copy()
        todo = np.flatnonzero(found[:, 2] == 0.0)
        if len(todo):  # where the block meets a bar there is a step, and no plane that meets the demand: it is found
            part = Demands(*(v[todo] for v in d))
            way[todo], p[todo] = self._bounded(part, low[todo], high[todo], along_ray=along_ray)
        return way, p

    def _start(self, d: Demands, *, along_ray: bool) -> tuple[Floats, Floats, Floats, Floats, Floats]:
        """The largest moment of the surface's facets that meets each demand: way, place, the ways around it, itself."""
        places, grid = self._grid
        found = meet_surface(places, grid.N, grid.Mx, grid.My, np.stack(d, axis=1), np.array(self._sizes), along_ray)
        step = 2.0 * np.pi / WAYS
        low = np.nan_to_num(found[:, 0]) * step
        return (found[:, 0] + found[:, 1]) * step, found[:, 2], low, low + step, found[:, 3]

    def _bounded(self, d: Demands, low: Floats, high: Floats, *, along_ray: bool) -> tuple[Floats, Floats]:
        """Solutions between bounds: of the way, and of the place for each way; nan where none is."""

        def place(way: Floats) -> tuple[Floats, Floats]:
            theta = self._theta(way)
            places = self._places(theta)
            grid = self.states(theta[:, None], places)
            one = Demands(*(v[:, None] for v in d))
            left, _ = self._residual(one, grid, along_ray=along_ray)
            ux, uy = (v[:, None] for v in _unit(d))
            ahead = np.where(grid.Mx * ux + grid.My * uy > 0.0, 1.0, 1e-3)
            size, share = ahead * np.hypot(grid.Mx, grid.My), zero_share(left)
            j = np.where(changes(left), size[:, :-1] * (1.0 - share) + size[:, 1:] * share, -1.0).argmax(1)
            rows = np.arange(len(j))
            bounds, ends = (places[rows, j], places[rows, j + 1]), (left[rows, j], left[rows, j + 1])
            p = root(lambda at: self._residual(d, self.states(theta, at), along_ray=along_ray)[0], bounds, ends, ROOT)
            return p, self._residual(d, self.states(theta, p), along_ray=along_ray)[1]

        way = root(lambda at: place(at)[1], (low, high), (place(low)[1], place(high)[1]), ROOT)
        p, _ = place(way)
        # what is further off than the concrete of a bar is no step: nothing was found
        left = np.abs(self._residual(d, self.states(self._theta(way), p), along_ray=along_ray)).max(0)
        return np.where(left < STEP, way, np.nan), np.where(left < STEP, p, np.nan)


def _unit(d: Demands) -> tuple[Floats, Floats]:
    """Direction of the moments; x where there is none."""
    size = np.hypot(d.Mx, d.My)
    safe = np.where(size > 0.0, size, 1.0)
    return np.where(size > 0.0, d.Mx / safe, 1.0), d.My / safe
