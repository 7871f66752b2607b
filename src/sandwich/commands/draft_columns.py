"""Columns of a draft: places that stand by themselves, from reactions or members of frames, with their sizes."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.model.mesh import Mesh
from sandwich.model.supports import UPRIGHT, over_feet, standing_alone
from sandwich.tables.corners import carrying
from sandwich.tables.meshing import locate
from sandwich.tables.read import ReadTable

Ints = NDArray[np.int64]
_PLACES: Final = 24  # columns that a draft lists
_METRES: Final = 10.0  # sizes below it are in m where nothing says so, others in mm
_TO_MM: Final = {"mm": 1.0, "cm": 10.0, "m": 1e3}
_NUMBER: Final = r"(\d+(?:[.,]\d+)?)"
_UNIT: Final = r"\s*(mm|cm|m)?\s*"
_NO_WALL: Final = r"(?<![\d.,x\u00d7*/])(?<![x\u00d7*/] )"  # of three numbers the last is that of a hollow section
_SIDES: Final = re.compile(rf"{_NO_WALL}{_NUMBER}{_UNIT}[x\u00d7*/]\s*{_NUMBER}{_UNIT}$", re.IGNORECASE)
_ROUND: Final = re.compile(rf"(?:\b(?:d|dia|diameter|phi)|[ø⌀])\s*[= ]?\s*{_NUMBER}{_UNIT}$", re.IGNORECASE)


@dataclass(frozen=True)
class Columns:
    """Alike columns: their places [m], where their force is, the lines of their size."""

    places: list[list[float]]
    force: str
    size: tuple[str, ...]


def columns_of(mesh: Mesh, of: Any, reactions: ReadTable | None, members: ReadTable | None) -> list[Columns]:
    """Nodes over supports or upright members that share no element with another such node, alike ones together.

    Parameters
    ----------
    mesh : Mesh
        The mesh.
    of : ndarray of bool or None
        Its elements that are looked at; all without.
    reactions, members : ReadTable or None
        Reactions, and members of frames with their sizes.
    """
    corners = mesh.corners if of is None else mesh.corners[of]
    none: Ints = np.empty(0, dtype=np.int64)
    supported = none if reactions is None else _nodes(mesh, carrying(reactions.frame)["node"].unique())
    size_of = _upright(mesh, members.frame) if members is not None else {}
    held = over_feet(mesh, corners, supported[supported >= 0])
    alone = standing_alone(corners, np.concatenate([held, np.array(list(size_of), dtype=np.int64)]))[:_PLACES]
    force = "reactions" if len(alone) and np.isin(alone, supported).all() else "integrated"
    alike: dict[tuple[str, ...], list[list[float]]] = {}
    for n in alone:
        place = [round(float(v) / 1e3, 4) + 0.0 for v in mesh.xyz[n]]
        alike.setdefault(_lines(size_of.get(int(n), "")), []).append(place)
    return [Columns(places, force, size) for size, places in alike.items()]


def _nodes(mesh: Mesh, names: Any) -> Ints:
    return np.asarray(locate(pd.Index(mesh.node_ids), pd.Series(names)))


def _upright(mesh: Mesh, members: pd.DataFrame) -> dict[int, str]:
    """Size of the upright member at each of their nodes; of several the one below."""
    ends = np.stack([_nodes(mesh, members[n]) for n in ("n1", "n2")], axis=1)
    sizes = members["size"].astype(str).to_numpy() if "size" in members else np.full(len(members), "")
    ends, sizes = ends[(ends >= 0).all(1)], sizes[(ends >= 0).all(1)]
    ends = np.take_along_axis(ends, np.argsort(mesh.xyz[ends, 2], axis=1), axis=1)
    stands = np.abs(np.diff(mesh.xyz[ends, :2], axis=1)[:, 0]).max(1, initial=0.0) <= UPRIGHT
    foot, head, sizes = ends[stands, 0], ends[stands, 1], sizes[stands]
    return {int(n): str(s) for of in (foot, head) for n, s in zip(of, sizes, strict=True)}


def _lines(size: str) -> tuple[str, ...]:
    """Lines of the job for a size as a table has it."""
    if found := _SIDES.search(size):
        first, unit, second, other = found.groups()
        c1, c2 = (_millimetres(v, other or unit) for v in (first, second))
        turned = "" if c1 == c2 else "; which way round is a guess, see along"
        return f"c1 = {c1:g}  # mm, from '{size}'{turned}", f"c2 = {c2:g}"
    if found := _ROUND.search(size):
        return (f"diameter = {_millimetres(*found.groups()):g}  # mm, from '{size}'",)
    return "c1 = 300  # mm; guess", "c2 = 300"


def _millimetres(number: str, unit: str | None) -> float:
    value = float(number.replace(",", "."))
    return value * (_TO_MM[unit.lower()] if unit else 1e3 if value < _METRES else 1.0)
