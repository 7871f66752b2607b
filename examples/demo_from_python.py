"""The demo from Python: run the job, look at the frames, draw a map, explain a point and a column, try a thicker floor.

Usage: python demo_from_python.py [FOLDER]
"""

import sys
import tempfile
from pathlib import Path

from sandwich import compare_methods, copy_demo, explain_loaded_area, explain_point, run_job, try_job
from sandwich.core.numbers import digits

folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(tempfile.mkdtemp()) / "fernhill"
job = copy_demo(folder)
result = run_job(job, pictures=False)

certificate = result.certificate
print(f"{certificate.certified} of {certificate.points} points certified, {certificate.failed} fail")
steel = result.steel.sort_values("required [mm2/m]", ascending=False)
print(steel[["zone", "point", "layer", "required [mm2/m]", "combination"]].head(8).to_string(index=False))

axes = result.plot("floor bottom x")
axes.figure.savefig(folder / "one_map.png")
print(f"drew floor bottom x to {folder / 'one_map.png'}")

worst = steel.iloc[0]
sheet = explain_point(job, f"{worst['zone']}/{worst['point']}")
for heading, step in sheet.steps:
    if heading == "Bars":
        print(f"{step.title}: {', '.join(f'{q.symbol} {digits(q.value)} {q.unit}' for q in step.results)}")

column = result.frame("punching").iloc[0]  # the worst first
print(f"{column['loaded area']}: {column['V [kN]']:.0f} kN, utilisation {column['utilisation']:.2f}")
for _, step in explain_loaded_area(job, column["loaded area"]).steps[-3:]:
    print(f"{step.title}: {', '.join(f'{q.symbol} {digits(q.value)} {q.unit}' for q in step.results)}")

trial = try_job(job, {"zones.floor.thickness": "320"})
print(trial.steel[["layer", "maximum before [mm2/m]", "maximum after [mm2/m]"]].round(0).to_string(index=False))
print(trial.note)

compared = compare_methods(job, "drum", pictures=False)
print(compared.summary.round(0).to_string(index=False))
