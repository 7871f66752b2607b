"""Bars that are not at right angles: the terrace of the made-up Fernhill Observatory along its skew edge.

Two directions 60 degrees apart against three, four combinations each by itself and all together, and the load that the
bars of the joint design carry by limit analysis. N/mm is kN/m, N is kNm/m times 1000.
"""

import numpy as np

from sandwich import BarLayers, BarLine, Concrete, Section, Steel, design_points
from sandwich.mechanics.limit import load_factor

load = np.array(
    [
        [12.0, -8.0, 15.0, 46e3, 18e3, -22e3, 35.0, 20.0],
        [-20.0, 4.0, -6.0, 15e3, 41e3, 9e3, 18.0, 42.0],
        [5.0, 5.0, 0.0, -24e3, -9e3, 12e3, 20.0, 10.0],
        [30.0, 22.0, -10.0, 8e3, 6e3, 2e3, 5.0, 5.0],
    ]
)[None]
layouts = {
    "two directions": (BarLine(0.0, 14.0), BarLine(60.0, 14.0)),
    "three directions": (BarLine(0.0, 14.0), BarLine(60.0, 14.0), BarLine(120.0, 14.0)),
}
for name, lines in layouts.items():
    section = Section(280.0, BarLayers(30.0, 30.0, bottom=lines, top=lines), Concrete(30.0), Steel(500.0))
    apart = design_points(load, section).ultimate
    joint = design_points(load, section, joint=True)
    steel, envelope = joint.ultimate.total[0] * 1e3, apart.total[0] * 1e3
    print(f"{name}: envelope {envelope:.0f} mm2/m; together saves {1 - steel / envelope:.1%}")
    print(joint.steel[["layer", "envelope [mm2/m]", "required [mm2/m]"]].round(0).to_string(index=False))
    bars = section.bars
    f_yd, fc = 500.0 / 1.15, 0.6 * (1 - 30.0 / 250.0) * 20.0
    factors = [
        load_factor(row[:6], 280.0, bars.axes(280.0), bars.angles, joint.ultimate.a_s[0] * f_yd, fc).lower
        for row in load[0]
    ]
    print(f"limit analysis, all concrete as cracked: the section carries {min(factors):.2f} times its load")
