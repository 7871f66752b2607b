"""The access deck of the observatory: decompression around its ducts and the stress of its tendons, mid-span by hand.

Usage: python prestressed_deck.py [FOLDER]
"""

import shutil
import sys
import tempfile
from pathlib import Path

import numpy as np

from sandwich import run_job
from sandwich.core.shown import SI
from sandwich.drawing.diagram import draw_diagram
from sandwich.drawing.maps import png

folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(tempfile.mkdtemp()) / "deck"
shutil.copytree(Path(__file__).parent / "deck", folder)
result = run_job(folder / "job.toml", pictures=False)
state = result.tendons

columns = ["tendon", "concrete at the duct [MPa]", "at [m]", "combination", "increase [MPa]", "range [MPa]", "status"]
print(state.tendons[columns].round(2).to_string(index=False))
crossed = state.crossings[state.crossings["tendon"] == "main T3"].iloc[20]
print(
    f"main T3 crosses element {crossed['element']} from {crossed['from [m]']:.2f} to {crossed['to [m]']:.2f} m, "
    f"{crossed['below the top face [mm]']:.0f} mm below the top face"
)

# mid-span of the third tendon by hand, from the moments of its nearest point
laid, stresses = next((t, s) for t, s in state.found if t.name == "T3")
i = int(np.abs(laid.line.s - 7000.0).argmin())
zone, service = result.zones[0], result.combinations.service()
row = service.factors[stresses.by[i]]
n, m = (float(row @ zone.cases[laid.line.points[i, 0], :, c]) for c in (0, 3))
h, z = 600.0, laid.line.height[i] - 40.0 - 25.0
print(f"by hand: n {n:.0f} N/mm, m {m / 1e3:.0f} kNm/m, {n / h - 12 * m * z / h**3:.2f} MPa {z:.0f} mm from mid-depth")
print(f"along the tendon: {stresses.most[i]:.2f} MPa")

for diagram in (f.describe(SI) for name, f in result.figures.items() if name.startswith("tendons ")):
    (folder / "tendons.png").write_bytes(png(draw_diagram, diagram))
    print(f"drew {diagram.title}")
