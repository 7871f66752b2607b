"""One point: design it by three layers and compare with a hand calculation of the stress block.

A slab strip of 250 mm under a moment of 60 kNm/m: the three-layer model with bars along x alone is the
rectangular stress block, m = f (d - f / (2 f_cd)).
"""

import math

from sandwich import BarLayers, Concrete, Section, Steel, design_points

section = Section(250.0, BarLayers(cover_bottom=30.0, cover_top=30.0), Concrete(30.0), Steel(500.0))
moment = 60e3  # N, that is kNm/m times 1000
design = design_points([[0.0, 0.0, 0.0, moment, 0.0, 0.0, 0.0, 0.0]], section)

d, f_cd, f_yd = 250.0 - 30.0 - 6.0, 30.0 / 1.5, 500.0 / 1.15
force = (d - math.sqrt(d * d - 2.0 * moment / f_cd)) * f_cd
print(f"by hand       {force / f_yd * 1e3:8.2f} mm2/m")
print(f"three layers  {design.steel['required [mm2/m]'].iloc[0]:8.2f} mm2/m")
print(f"certified     {bool(design.ultimate.certified[0])}, largest violation {design.ultimate.violation[0]:.1e}")
print()
for heading, step in design.explain("1").steps:
    if heading.startswith("Stress field"):
        values = ", ".join(f"{q.symbol} {q.value:.4g} {q.unit}" for q in step.results)
        print(f"{step.title}: {values}")
