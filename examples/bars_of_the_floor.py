"""The demo's floor laid out: base meshes and rectangles, what they weigh beside what is required, marks, a plan.

Usage: python bars_of_the_floor.py [FOLDER]
"""

import sys
import tempfile
from pathlib import Path

from sandwich import copy_demo, load_job, run_job

folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(tempfile.mkdtemp()) / "fernhill"
quick = {"module": 1.0, "rectangles": 6, "seconds": 3.0}  # a coarse grid, and no long search for the last kilograms
job = load_job(copy_demo(folder)).with_values({f"zones.floor.layout.{key}": value for key, value in quick.items()})
result = run_job(job, pictures=False)

places, marks, bars = result.frame("layout"), result.frame("bar schedule"), result.frame("bars")
floor = places[places["zone"] == "floor"]
print(floor[["layer", "place", "bars [mm]", "marks", "number of bars", "mass [kg]"]].round(0).to_string(index=False))
bars = bars[bars["zone"] == "floor"]
print(f"provided: {bars['mass [kg/m2]'].sum():.1f} kg/m2, utilisation {bars['utilisation'].max():.2f}")
own = marks[marks["zone or wall"] == "floor"]
print(f"cut bars: {own['mass [kg]'].sum():.0f} kg in {own['mark'].nunique()} marks")

axes = result.plot("layout floor top")
axes.figure.savefig(folder / "plan.pdf")
print(f"drew the top bars to {folder / 'plan.pdf'}")
