"""What the ultimate design of points leaves: one record of arrays."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.transverse import ShearCheck
from sandwich.mechanics import threelayer

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
TOLERANCE: Final = 1e-6  # of max(|n|, |m|/h, 1 N/mm): largest violation a certified row may have
MATTERS: Final = 0.05  # share of the bar force above which a neglected force is reported


@dataclass(frozen=True)
class Ultimate:
    """Results of p points; combinations are counted in the order they were given, -1 for none.

    Attributes
    ----------
    a_s, a_s_ultimate, a_s_minimum : ndarray, shape (p, b)
        Required, by strength alone, and minimum area of each bar layer [mm2/mm]; nan where a point fails.
    a_s_envelope : ndarray, shape (p, b)
        Largest area of the designs of single combinations; the same as by strength unless that is a joint design.
    governing : ndarray of int, shape (p, b)
        Combination that asked for most steel.
    force : ndarray, shape (p, b)
        Bar force it asked for [N/mm].
    status, failing : ndarray of int, shape (p,)
        Status code of `threelayer` and the first combination that failed.
    layers, layers_by : ndarray, shape (p,)
        Thickness of both layers over the section's, and the combination.
    depth, depth_by : ndarray, shape (p,)
        Compressed depth over the one at which bars still yield, and the combination.
    neglected, neglected_by : ndarray, shape (p,)
        Force the method leaves out over the bar force (of compression, half its share of the section's strength),
        and the combination.
    violation : ndarray, shape (p,)
        Largest violation of the witness over max(|n|, |m|/h, 1 N/mm).
    bound, total : ndarray, shape (p,)
        Lower bound of the weighted area of any bars for the worst combination, or for all together in a joint
        design, and the weighted area by strength, before minimum steel [mm2/mm].
    gap : ndarray, shape (p,)
        Largest distance of a single combination's steel from its own lower bound, over the heaviest one's.
    cracking : ndarray, shape (p,)
        Largest criterion of cracking through the depth over the combinations; uncracked up to zero [-].
    turned, turned_by : ndarray, shape (p,)
        Use of the angle that compression in cracked layers may be turned by, and the combination; zero without a rule.
    pressed : ndarray, shape (p, b)
        Maximum force of bars that count in compression [N/mm], zero where none do.
    cells, tributary : ndarray, shapes (p, b), (p,)
        Cells over which bars were averaged, -1 for none, and the area of each point [mm2], zero without any.
    axial, axial_limit, axial_by : ndarray, shape (p,)
        Principal compression of the membrane forces and the one a section carries with the minimum eccentricity [N/mm],
        where they are nearest, and the combination.
    any_layers : ndarray of bool, shape (p,)
        Points whose bound and gap hold for any number of layers, and not only at the thicknesses found.
    even : ndarray of bool, shape (p,)
        Points with a combination whose layers fit with bars of equal weight alone.
    turn : ndarray, shape (p,)
        Angle from the bars of the zone to those of the top face [rad].
    shear : ShearCheck
        Transverse shear, and links where the zone allows them.
    """

    a_s: Floats
    a_s_ultimate: Floats
    a_s_minimum: Floats
    a_s_envelope: Floats
    governing: Ints
    force: Floats
    status: Ints
    failing: Ints
    layers: Floats
    layers_by: Ints
    depth: Floats
    depth_by: Ints
    neglected: Floats
    neglected_by: Ints
    violation: Floats
    bound: Floats
    total: Floats
    gap: Floats
    cracking: Floats
    turned: Floats
    turned_by: Ints
    pressed: Floats
    cells: Ints
    tributary: Floats
    axial: Floats
    axial_limit: Floats
    axial_by: Ints
    any_layers: NDArray[np.bool_]
    even: NDArray[np.bool_]
    turn: Floats
    shear: ShearCheck

    @property
    def certified(self) -> NDArray[np.bool_]:
        """Points whose every combination has a witness."""
        return np.asarray((self.status == threelayer.OK) & (self.violation <= TOLERANCE))


def joined(parts: list[Ultimate]) -> Ultimate:
    """Records of blocks of points as one."""
    joined: dict[str, Any] = {}
    for field in fields(Ultimate):
        values = [getattr(p, field.name) for p in parts]
        if field.name == "shear":
            names = [f.name for f in fields(ShearCheck)]
            joined["shear"] = ShearCheck(**{n: np.concatenate([getattr(v, n) for v in values]) for n in names})
        else:
            joined[field.name] = np.concatenate(values)
    return Ultimate(**joined)


def picked(u: Ultimate, order: Ints) -> Ultimate:
    """Points in another order."""
    arrays = {f.name: getattr(u, f.name)[order] for f in fields(Ultimate) if f.name != "shear"}
    shear = ShearCheck(**{f.name: getattr(u.shear, f.name)[order] for f in fields(ShearCheck)})
    return Ultimate(**arrays, shear=shear)
