"""A bare table of resultants, no mesh: three methods side by side for the same points.

The points are made up: the floor of the Fernhill Observatory at the drum, at a column and in the field, and
the lintel over the shutter. N/mm is kN/m, N is kNm/m times 1000.
"""

import pandas as pd

from sandwich import BarLayers, Section, design_points

resultants = pd.DataFrame(
    [
        [5.0, -3.0, 2.0, -52e3, -14e3, 21e3, 60.0, 15.0],
        [0.0, 0.0, 0.0, -38e3, -35e3, 4e3, 90.0, 85.0],
        [8.0, 6.0, -1.0, 31e3, 27e3, -9e3, 3.0, 4.0],
        [140.0, -60.0, 35.0, 6e3, 2e3, -3e3, 12.0, 20.0],
    ],
    index=["at the drum", "at a column", "in the field", "shutter lintel"],
    columns=["nx", "ny", "nxy", "mx", "my", "mxy", "vx", "vy"],
)
section = Section(280.0, BarLayers(cover_bottom=30.0, cover_top=30.0, diameter_x=14.0, diameter_y=14.0))
columns = {}
for method in ("sandwich", "plate", "membrane"):
    design = design_points(resultants, section, method=method)
    columns[method] = design.steel.set_index(["point", "layer"])["required [mm2/m]"]
table = pd.DataFrame(columns)
print("required steel [mm2/m]; the plate leaves n out, the membrane leaves m out")
print(table.round(0).astype(int).to_string())
