"""The made-up Fernhill Observatory: an instrument floor with a round opening on columns and a curved drum wall.

Units kN, m. The floor lies at z = 4: inside the drum a ring from the opening to the wall, outside it a terrace
up to a square edge on eight columns. The drum stands on a fixed foot and has a shutter opening towards +x.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from tools.demo_model.shell import Floats, Ints, Model, column_spring, corner_resultants, pressure, solve

OPENING, DRUM, EDGE = 1.5, 6.0, 9.0
FLOOR, TOP = 4.0, 8.0
ROUND, INSIDE, OUTSIDE, COLUMN_RING = 72, 9, 6, 4
SHUTTER_HALF, SHUTTER_FROM, SHUTTER_TO = 6, 5.0, 7.0
STEP = 0.5
FLOOR_H, WALL_H, COLUMN = 0.28, 0.22, 0.40
E, NU, WEIGHT = 33e6, 0.2, 25.0


@dataclass(frozen=True)
class Observatory:
    """Model, groups of the elements, supports and cases."""

    model: Model
    group: NDArray[np.str_]
    fixed: Ints
    springs: list[tuple[int, Floats]]
    cases: dict[str, tuple[str, str, Floats]]


def _ring(fraction: float, k: int) -> tuple[float, float]:
    """Place on the terrace: from the drum's circle (0) to the square edge (1), at division k of the round."""
    angle = 2 * np.pi * k / ROUND
    side, along = divmod(k + ROUND // 8, ROUND // 4)
    t = EDGE * (2 * along / (ROUND // 4) - 1)
    turn = np.pi / 2 * side
    square = EDGE * np.cos(turn) - t * np.sin(turn), EDGE * np.sin(turn) + t * np.cos(turn)
    circle = DRUM * np.cos(angle), DRUM * np.sin(angle)
    return tuple(c + fraction * (s - c) for c, s in zip(circle, square, strict=True))  # type: ignore[return-value]


def _mesh(step: float) -> tuple[Floats, Ints, NDArray[np.str_]]:
    places: dict[tuple[str, int, int], int] = {}
    xyz: list[tuple[float, float, float]] = []

    def node(part: str, i: int, k: int, place: tuple[float, float, float]) -> int:
        return places.setdefault((part, i, k % ROUND), xyz.append(place) or len(xyz) - 1)  # type: ignore[func-returns-value]

    def known(part: str, i: int, k: int) -> int | None:
        return places.get((part, i, k % ROUND))

    def floor(i: int, k: int) -> int:
        """Node of the floor: i from 0 at the opening to INSIDE at the drum and on to the edge."""
        found = known("floor", i, k)
        if found is not None:
            return found
        if i <= INSIDE:
            r, angle = OPENING + (DRUM - OPENING) * i / INSIDE, 2 * np.pi * k / ROUND
            return node("floor", i, k, (r * np.cos(angle), r * np.sin(angle), FLOOR))
        return node("floor", i, k, (*_ring((i - INSIDE) / OUTSIDE, k % ROUND), FLOOR))

    def wall(j: int, k: int) -> int:
        """Node of the drum at height j steps; the one at the floor belongs to both."""
        if j * step == FLOOR:
            return floor(INSIDE, k)
        angle = 2 * np.pi * k / ROUND
        found = known("wall", j, k)
        return found if found is not None else node(
            "wall", j, k, (DRUM * np.cos(angle), DRUM * np.sin(angle), j * step)
        )  # fmt: skip

    corners, group = [], []
    for i in range(INSIDE + OUTSIDE):
        for k in range(ROUND):
            corners.append([floor(i, k), floor(i + 1, k), floor(i + 1, k + 1), floor(i, k + 1)])
            group.append("floor inside" if i < INSIDE else "terrace")
    for j in range(round(TOP / step)):
        for k in range(ROUND):
            shut = min(k, ROUND - 1 - k) < SHUTTER_HALF and SHUTTER_FROM <= j * step < SHUTTER_TO
            if not shut:
                corners.append([wall(j, k), wall(j, k + 1), wall(j + 1, k + 1), wall(j + 1, k)])
                group.append("drum below" if j * step < FLOOR else "drum above")
    return np.array(xyz), np.array(corners), np.array(group)


def build(step: float = STEP) -> Observatory:
    """Mesh with rings of the drum of a height, element axes (x along the first edge), supports and load cases."""
    xyz, corners, group = _mesh(step)
    p = xyz[corners]
    x = p[:, 1] - p[:, 0]
    z = np.cross(p[:, 2] - p[:, 0], p[:, 3] - p[:, 1])
    z /= np.linalg.norm(z, axis=1, keepdims=True)
    x -= np.sum(x * z, axis=1, keepdims=True) * z
    x /= np.linalg.norm(x, axis=1, keepdims=True)
    slab = np.char.startswith(group, "floor") | (group == "terrace")
    h = np.where(slab, FLOOR_H, WALL_H)
    model = Model(xyz, corners, h, np.stack([x, np.cross(z, x), z], axis=1), E, NU)
    foot = np.flatnonzero(xyz[:, 2] == 0.0)
    fixed = (6 * foot[:, None] + np.arange(6)).ravel()
    heads = [_ring(COLUMN_RING / OUTSIDE, k) for k in range(0, ROUND, ROUND // 8)]
    spring = column_spring(E, COLUMN, FLOOR, NU)
    springs = [(int(np.argmin(np.linalg.norm(xyz - [*c, FLOOR], axis=1))), spring) for c in heads]
    return Observatory(model, group, fixed, springs, _cases(model, group, slab))


def _cases(model: Model, group: NDArray[np.str_], slab: NDArray[np.bool_]) -> dict[str, tuple[str, str, Floats]]:
    """Kind, description and nodal forces of each case."""
    centre = model.xyz[model.corners].mean(1)
    outward = model.axes[:, 2]
    down = np.array([0.0, 0.0, -1.0])
    exposed = ~slab & (centre[:, 2] > FLOOR)

    def on(where: NDArray[np.bool_], q: float) -> Floats:
        return pressure(model, np.where(where[:, None], q * down, 0.0))

    def wind(direction: tuple[float, float]) -> Floats:
        """Pressure on the windward side, suction round the flanks: 1.6 kN/m2 times a smooth coefficient."""
        angle = np.arctan2(centre[:, 1], centre[:, 0]) - np.arctan2(-direction[1], -direction[0])
        coefficient = -0.55 + 0.25 * np.cos(angle) + 0.85 * np.cos(2 * angle) + 0.25 * np.cos(3 * angle)
        return pressure(model, np.where(exposed[:, None], -1.6 * coefficient[:, None] * outward, 0.0))

    dome = np.zeros(6 * len(model.xyz))
    rim = np.flatnonzero(model.xyz[:, 2] == TOP)
    dome[6 * rim + 2] = -25.0 * 2 * np.pi * DRUM / len(rim)
    return {
        "SW": ("permanent", "self weight, 25 kN/m3", pressure(model, WEIGHT * model.thickness[:, None] * down)),
        "FIN": ("permanent", "finishes on the floor and the terrace, 1.5 kN/m2", on(slab, 1.5)),
        "DOME": ("permanent", "dome on the rim of the drum, 25 kN/m", dome),
        "QI": ("imposed", "live load on the floor inside the drum, 10 kN/m2", on(group == "floor inside", 10.0)),
        "QT": ("imposed", "live load on the terrace, 5 kN/m2", on(group == "terrace", 5.0)),
        "WX": ("wind", "wind along +x on the drum above the floor", wind((1.0, 0.0))),
        "WY": ("wind", "wind along +y on the drum above the floor", wind((0.0, 1.0))),
    }


def results(o: Observatory) -> tuple[Floats, Floats]:
    """Corner resultants of all cases in element axes, (cases, e, 4, 8), and reactions (n, 6, cases), in kN, m."""
    loads = np.stack([q for _, _, q in o.cases.values()], axis=1)
    u, exerted = solve(o.model, loads, o.fixed, o.springs)
    return corner_resultants(o.model, u), exerted.reshape(-1, 6, loads.shape[1])
