"""Curves of axial force and moment about an axis, with the points by which they are known."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.walls.sections import SectionStrength
from sandwich.mechanics.roots import changes, root

Floats = NDArray[np.float64]
POINTS: Final = 160


@dataclass(frozen=True)
class KeyPoint:
    """A point of a curve: its name, axial force [N], tension positive, and moment [N mm]."""

    name: str
    N: float
    M: float


@dataclass(frozen=True)
class InteractionCurve:
    """What a section carries about one axis: axial forces [N], moments [N mm], (q,), and its key points."""

    theta: float
    N: Floats
    M: Floats
    points: tuple[KeyPoint, ...]


def curve(strength: SectionStrength, theta: float) -> InteractionCurve:
    """Axial force and moment for one direction of the neutral axis, down to the largest compression that is carried.

    Parameters
    ----------
    strength : SectionStrength
        The section.
    theta : float
        Direction from the neutral axis to the most compressed corner [rad].

    Returns
    -------
    InteractionCurve
        From pure tension to pure compression; moments are positive where they press that corner.
    """
    places = np.concatenate([np.geomspace(1e-3, 1.0, POINTS), 2.0 - np.geomspace(1.0, 1e-4, POINTS // 2)[1:]])
    places = np.concatenate([[0.0], places])
    s = strength.states(np.full(places.shape, theta), places)
    M = _about(s.Mx, s.My, theta)
    limit = strength.compression
    N = np.maximum(s.N, limit)
    keep = np.maximum(s.N, limit) == s.N
    last = int(np.flatnonzero(keep)[-1])
    cut = N[: last + 1], M[: last + 1]
    if last + 1 < len(N):  # the cap
        share = (limit - s.N[last]) / (s.N[last + 1] - s.N[last])
        at = M[last] + share * (M[last + 1] - M[last])
        cut = np.append(cut[0], [limit, limit]), np.append(cut[1], [at, 0.0 if abs(at) > abs(M[-1]) else M[-1]])
    return InteractionCurve(theta, cut[0], cut[1], tuple(key_points(strength, theta)))


def _about(Mx: Floats, My: Floats, theta: float) -> Floats:
    """Moments that press the corner in a direction: M_x = -M sin, M_y = M cos."""
    return np.asarray(My * np.cos(theta) - Mx * np.sin(theta))


def key_points(strength: SectionStrength, theta: float) -> list[KeyPoint]:
    """Pure tension and bending, strains of the most pulled bar, the largest compression that is carried, and whole.

    Parameters
    ----------
    strength : SectionStrength
        The section.
    theta : float
        As for `curve`.
    """
    section, law = strength.section, strength.law
    h, d = float(section.depth(theta)), float(section.reach(theta))
    eps_y = law.steel.strength / law.steel.E_s
    found = [KeyPoint("pure tension", strength.tension, _at(strength, theta, 0.0).M)]
    places = np.linspace(1e-4, 1.0, 400)[None]
    s = strength.states(np.array([[theta]]), places)
    crosses = np.flatnonzero(changes(s.N)[0])
    if len(crosses):
        i = int(crosses[0])
        bounds = np.array([places[0, i]]), np.array([places[0, i + 1]])
        found_p = root(lambda v: strength.states(np.full(1, theta), v).N, bounds, (s.N[0, [i]], s.N[0, [i + 1]]), 1.0)
        found.append(KeyPoint("pure bending", 0.0, _at(strength, theta, float(found_p[0])).M))
    for name, eps in (("balanced", eps_y), ("half yield", eps_y / 2.0), ("zero steel stress", 0.0)):
        p = law.concrete.eps_cu / (law.concrete.eps_cu + eps) * d / h
        at = _at(strength, theta, p)
        if strength.compression <= at.N:
            found.append(KeyPoint(name, at.N, at.M))
    whole = strength.section.squash(law.concrete, law.steel, net=strength.net) * float(strength.phi(np.array(-1.0)))
    if strength.compression > whole * (1.0 - 1e-9):
        found.append(KeyPoint("cap", strength.compression, 0.0))
    found.append(KeyPoint("pure compression", whole, _at(strength, theta, 2.0).M))
    return found


def _at(strength: SectionStrength, theta: float, p: float) -> KeyPoint:
    s = strength.states(np.array([theta]), np.array([p]))
    return KeyPoint("", float(s.N[0]), float(_about(s.Mx, s.My, theta)[0]))
