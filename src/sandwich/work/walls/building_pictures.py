"""What the picture of a building shows: drift, displacement and second order up its height, both ways."""

from __future__ import annotations

from typing import Final

import numpy as np

from sandwich.core.shown import Shown
from sandwich.drawing.wall_records import BuildingDescription, Steps
from sandwich.standards.interface.building import DRIFT, SECOND_ORDER
from sandwich.work.walls.building import CheckedBuilding
from sandwich.work.walls.sway import WAYS

TOP: Final = "design displacement [mm]"


def storeys_up(of: CheckedBuilding, shown: Shown) -> BuildingDescription:
    """Drift and second order of each storey with their limits, displacements of the floors."""
    by, small = shown.factor("m"), shown.factor("mm")
    heights = {s.storey.name: (by * s.storey.low / 1e3, by * s.storey.high / 1e3) for s in of.motion.storeys}
    measures = []
    drift = f"drift of the storey [{shown.unit('mm')}]"
    for name, quantity, scale in ((DRIFT, drift, small), (SECOND_ORDER, "coefficient of second order [-]", 1.0)):
        demand: dict[str, Steps] = {}
        limit: Steps = []
        for c in of.checks:
            if c.check is not None and c.name == name:
                demand.setdefault(c.way, []).append((*heights[c.storey], scale * c.check.demand))
                limit.append((*heights[c.storey], scale * c.check.capacity))
        if demand:
            measures.append((quantity, demand, limit))
    moved: dict[str, list[tuple[float, float]]] = {}
    base = next((s.storey for s in of.motion.storeys if not s.storey.basement), of.motion.storeys[0].storey)
    for way in WAYS:
        rows = of.storeys[of.storeys["direction"] == way]
        points = [(small * float(u), heights[str(s)][1]) for s, u in zip(rows["storey"], rows[TOP], strict=True)]
        if points and np.isfinite([p[0] for p in points]).all():
            moved[way] = [(0.0, by * base.low / 1e3), *points]
    last = of.motion.storeys[-1].storey.name
    return BuildingDescription(
        title="Building: drift, second order and displacement by storey",
        note="governing combination of each storey; displacements are those by the design earthquake",
        levels=[(s, low) for s, (low, _) in heights.items()] + [("", heights[last][1])], measures=measures,
        moved=moved, displacement=f"displacement of the floor [{shown.unit('mm')}]",
        height=f"height [{shown.unit('m')}]",
    )  # fmt: skip
