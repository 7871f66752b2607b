"""The demo's floor laid out: base meshes and rectangles against one mesh by the peak, marks, the plan of a face.

Usage: python bars_of_the_floor.py [FOLDER]
"""

import sys
import tempfile
from pathlib import Path

from sandwich import copy_demo, load_job, run_job

folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(tempfile.mkdtemp()) / "fernhill"
job = load_job(copy_demo(folder))
by_peak = run_job(job, pictures=False).frame("bars")
result = run_job(
    job.with_values({"zones.floor.layout.module": 0.5, "zones.floor.layout.rectangles": 4}), pictures=False
)

places, marks = result.frame("layout"), result.frame("bar schedule")
floor = places[places["zone"] == "floor"]
print(floor[["layer", "place", "bars [mm]", "marks", "number of bars", "mass [kg]"]].round(0).to_string(index=False))
for title, frame in (("one mesh by the peak", by_peak), ("laid out", result.frame("bars"))):
    print(f"{title}: {frame[frame['zone'] == 'floor']['mass [kg/m2]'].sum():.1f} kg/m2")
print(f"cut bars: {marks[marks['zone'] == 'floor']['mass [kg]'].sum():.0f} kg in {len(marks)} marks")

axes = result.plot("layout floor top")
axes.figure.savefig(folder / "plan.pdf")
print(f"drew the top bars to {folder / 'plan.pdf'}")
