"""The stair and lift core from section forces alone, panels and openings as tables; then held against its cuts.

Usage: python core_from_forces.py [FOLDER]
"""

import sys
import tempfile
from pathlib import Path

import pandas as pd

from sandwich import copy_demo, explain_wall, run_job
from sandwich.core.numbers import digits

folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(tempfile.mkdtemp())
from_mesh = run_job(copy_demo(folder / "fernhill").parent / "core" / "job.toml", pictures=False)

# what another program would give: forces of parts and whole sections by case, in kN and kNm under names of its own
forces = from_mesh.frame("wall forces")
used = forces["case"].isin(["SW", "FG", "FQ", "WX", "WY", "EX", "EY", "RX", "RY"])
names = {"N [kN]": "P", "V1 [kN]": "V2", "V2 [kN]": "V3", "M1 [kNm]": "M2", "M2 [kNm]": "M3", "T [kNm]": "T"}
table = (
    forces.loc[used, ["storey", "part", "at", "place [m]", "case", *names]]
    .rename(columns=names | {"place [m]": "place"})
    .round(6)
)
own = folder / "by forces"
own.mkdir(parents=True, exist_ok=True)
table.to_csv(own / "forces.csv", index=False)

(own / "panels.csv").write_text(
    "panel,x1,y1,x2,y2,thickness\nA,0,0,6.4,0,0.25\nB,0,0,0,4,0.25\nC,2.4,0,2.4,4,0.25\nD,6.4,0,6.4,4,0.25\nE,0,4,6.4,4,0.25\n"
)
floors = [0.0, 3.2, 6.4, 9.6, 12.8, 16.0]
doors = [f"A,{a},{b},{z},{z + 2.4}" for z in floors[:-1] for a, b in ((0.4, 1.6), (3.6, 5.2))]
windows = [f"B,1.2,2.4,{z + 0.8},{z + 2.4}" for z in floors[1:-1]]
(own / "openings.csv").write_text("panel,from,to,bottom,top\n" + "\n".join([*doors, *windows]) + "\n")
kinds = pd.DataFrame(
    {
        "case": ["SW", "FG", "FQ", "WX", "WY", "EX", "EY", "RX", "RY"],
        "kind": ["permanent", "permanent", "imposed", "wind", "wind", *["seismic"] * 4],
        "category": ["", "", "C", *[""] * 6],
        "direction": ["", "", "", "", "", "x", "y", "x", "y"],
        "signed": [*["yes"] * 7, "no", "no"],
    }
)
kinds.to_csv(own / "cases.csv", index=False)
(own / "job.toml").write_text("""
title = "Stair and lift core by section forces"
[input]
cases = "cases.csv"
units = { length = "m", thickness = "m", force = "kN", couple = "kN*m" }
[zones.core]
f_ck = 30
f_yk = 500
[rules]
code = "EN 1990:2002"
situations = ["persistent", "seismic"]
[actions.wind]
both_ways = true
[cases.EX]
action = "lateral forces"
[cases.EY]
action = "lateral forces"
[cases.RX]
action = "spectra"
[cases.RY]
action = "spectra"
[storeys]
levels = [0, 3.2, 6.4, 9.6, 12.8, 16]
names = ["ground", "first", "second", "third", "fourth"]
[walls.core]
zones = ["core"]
panels = "panels.csv"
openings = "openings.csv"
forces = { file = "forces.csv", columns = { N = "P", V1 = "V2", V2 = "V3", M1 = "M2", M2 = "M3" } }
cover = 30
rule = { diameters = [10, 12, 16, 20], spacing_min = 100, spacing_max = 200, spacing_step = 50 }
seismic = { ductility = "DCM", q_0 = 3.0, T_1 = 0.16, T_C = 0.5 }
""")
by_forces = run_job(own / "job.toml", pictures=False)

keys = ["storey", "part", "check"]
both = from_mesh.frame("wall checks").merge(by_forces.frame("wall checks"), on=keys, suffixes=("", " by forces"))
difference = (both["utilisation"] - both["utilisation by forces"]).abs().max()
print(f"{len(both)} checks of {both.groupby(keys[:2]).ngroups} parts from cuts and from section forces")
print(f"utilisations differ by less than 1e-6: {'yes' if difference < 1e-6 else difference}")
bars = from_mesh.frame("wall bars").merge(by_forces.frame("wall bars"), on=["storey", "panel", "part"])
columns = ("vertical [mm]", "horizontal [mm]", "each end [mm]", "ties of ends [mm]", "each chord [mm]", "links [mm]")
same = all((bars[f"{c}_x"].astype(str) == bars[f"{c}_y"].astype(str)).all() for c in columns)
print(f"the same bars in all parts: {'yes' if same else 'no'}")
whole = by_forces.frame("wall sections")
print(
    whole[["storey", "section", "at", "utilisation", "combination", "N [kN]"]].head(3).round(3).to_string(index=False)
)
apart = whole["utilisation"].sort_values().to_numpy() - from_mesh.frame("wall sections")["utilisation"].sort_values()
print(f"and those of whole sections: {'yes' if abs(apart).max() < 1e-6 else abs(apart).max()}")

worst = by_forces.frame("wall checks").iloc[0]
sheet = explain_wall(own / "job.toml", f"{worst['storey']} {worst['part']}").sheet
print(f"{worst['storey']} {worst['part']}: {', '.join(f'{q.symbol} {digits(q.value)}' for q in sheet.answer[:3])}")
