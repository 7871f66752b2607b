"""A terrace column of the Fernhill Observatory beside a free edge: punching by three standards, one also by hand."""

from __future__ import annotations

import numpy as np
import shapely

from sandwich import Concrete, Steel
from sandwich.model.perimeter import Plan, rectangle
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.column import ColumnLoad
from sandwich.standards.en1992.standard import EN1992
from sandwich.standards.is456.standard import IS456
from sandwich.work.slab_column import column_on

H, D, C = 280.0, 236.0, 400.0  # mm: slab, effective depth, column
EDGE = 1000.0  # mm from the middle of the column to the edge of the terrace
V, RHO = 450e3, 0.006  # N, ratio of the top bars in both directions

slab = shapely.box(-1e4, -1e4, EDGE, 1e4)
load = ColumnLoad("persistent", V, np.zeros(2), RHO, RHO, 0.0)
for standard in (EN1992.recommended(), ACI318(), IS456()):
    column = column_on(Plan(slab, rectangle(C, C)), H, D, standard, beta=1.4, shear="links")
    p = standard.punching(Concrete(30.0), Steel(500.0), column, load)
    print(f"{standard.name}: {column.place}, perimeter {column.control.u:.0f} mm, {p.v_Ed:.3f} of {p.v_Rd_c:.3f} MPa")
    if p.reinforcement is not None and not p.reinforcement.why:
        rows = zip(p.reinforcement.distance, p.reinforcement.area, p.reinforcement.legs, strict=True)
        for distance, area, legs in rows:
            print(f"    {distance:.0f} mm from the face: {area:.0f} mm2 in {legs} legs or more")

# EN 1992-1-1 by hand: the perimeter runs to the edge at right angles, Figure 6.15
u_1 = 2 * (EDGE + C / 2) + C + np.pi * 2 * D
k = 1 + (200 / D) ** 0.5
resists = max(0.12 * k * (100 * RHO * 30) ** (1 / 3), 0.035 * k**1.5 * 30**0.5)
print(f"by hand: perimeter {u_1:.0f} mm, {1.4 * V / (u_1 * D):.3f} of {resists:.3f} MPa")
