"""An angle of the stair core as one section by three standards, and a straight wall held against a hand calculation.

Forces are made up: N positive in tension, moments by the right hand about the centroid of the concrete.
"""

import numpy as np

from sandwich import Concrete, PlaneSection, SectionStrength, Steel, standard_named

# legs of 3.0 and 2.0 m, 250 mm thick; bars of 12 mm at both faces every 200 mm
outline = [(0, 0), (3000, 0), (3000, 250), (250, 250), (250, 2000), (0, 2000)]
bars = [(x, y) for x in range(50, 2951, 200) for y in (45, 205)]
bars += [(x, y) for y in range(350, 1951, 200) for x in (45, 205)]
angle = PlaneSection.of([outline], bars, np.full(len(bars), 113.1))
x, y = angle.centroid
print(f"concrete {angle.A / 1e6:.3f} m2, centroid {x:.0f}, {y:.0f} mm, bars {100 * angle.area.sum() / angle.A:.2f} %")

# gravity, wind from both sides, an earthquake: MN and MNm
forces = np.array([[-4.2, 0.3, 0.5], [-3.0, 0.8, 1.6], [-3.0, -0.8, -1.6], [-1.5, 1.4, -2.8]]) * [1e6, 1e9, 1e9]
for name in ("EN 1992-1-1:2004", "ACI 318-19", "IS 456:2000"):
    strength = SectionStrength(angle, standard_named(name).member_law(Concrete(30.0), Steel(500.0), "persistent"))
    found = strength.strength(*forces.T)
    print(
        f"{name}: at constant N {', '.join(f'{u:.2f}' for u in found.utilisation)}; "
        f"along the ray {', '.join(f'{u:.2f}' for u in found.along_ray)}"
    )

# a straight wall of 4.0 m with its bars in the ends, by ACI: the neutral axis by hand
h, b, f_c, f_y, ends, area = 4000.0, 200.0, 28.0, 420.0, (100.0, 3900.0), 2000.0
wall = PlaneSection.of([[(0, 0), (h, 0), (h, b), (0, b)]], [(e, b / 2) for e in ends], [area, area])
of = SectionStrength(
    wall, standard_named("ACI 318-19").member_law(Concrete(f_c), Steel(f_y), "persistent"), nominal=True
)
N = -2.0e6  # the bars in tension yield, those in compression too: what is left is carried by the block
a = -N / (0.85 * f_c * b) + area / b  # 0.85 f_c' b a + A_s (f_y - 0.85 f_c') = A_s f_y - N
M = 0.85 * f_c * b * a * (h - a) / 2 + area * (2 * f_y - 0.85 * f_c) * (h / 2 - ends[0])
found = of.strength(N, 0.0, 1.0)
print(
    f"by hand a = {a:.1f} mm, M_n = {M / 1e9:.3f} MNm; sandwich {found.moment[0] / 1e9:.3f} MNm, c {found.c[0]:.1f} mm"
)
