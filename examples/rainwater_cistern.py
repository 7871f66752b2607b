"""The drum of the observatory as a cistern: crack widths before and after, the steel they ask for, one point by hand.

Usage: python rainwater_cistern.py [FOLDER]
"""

import shutil
import sys
import tempfile
from pathlib import Path

import numpy as np

from sandwich import check_job, explain_crack, run_job
from sandwich.core.numbers import digits
from sandwich.core.shown import SI
from sandwich.drawing.maps import draw_map, png
from sandwich.drawing.section import draw_section

folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(tempfile.mkdtemp()) / "cistern"
shutil.copytree(Path(__file__).parent / "cistern", folder)
result = run_job(folder / "job.toml", pictures=False)
wall, z = result.service.zones[0], result.zones[0]

for name, state in (("before", wall.before), ("after", wall.state)):
    width, over = np.nanmax(state.width, axis=0), int((state.use > 1.0).any(axis=1).sum())
    print(
        f"{name:6}  water side {width[0]:.3f} mm, air side {width[1]:.3f} mm, too wide at {over} of {len(z.h)} points"
    )
print(
    f"cracks count as through at {wall.state.through.sum()} points, up to {wall.state.head.max() / 1e3:.2f} m of water"
)

most = result.service.steel.sort_values("added [mm2/m]", ascending=False).drop_duplicates("layer")
print(most[["layer", "before [mm2/m]", "added [mm2/m]", "point"]].round(0).to_string(index=False))
print(result.bars[0].bars[["layer", "bars [mm]", "provided [mm2/m]"]].round(0).to_string(index=False))

# the widest crack by hand: ring tension alone, half of it a face, long-term
crack = result.service.cracks.iloc[0]
i = int(np.flatnonzero(z.labels == crack["point"])[0])
row = next(k for k, n in enumerate(result.combinations.service().names) if n == crack["combination"])
n_x = float(result.combinations.service().factors[row] @ z.cases[i, :, 0])
layer, a_s, phi = 0, wall.bars.area[i, 0], wall.bars.diameter[i, 0]
e = wall.bars.axes[i, layer]
cover = z.h[i] / 2 - e - phi / 2
sigma, E_s, f_ctm = n_x / 2 / a_s, 200e3, 0.3 * 30 ** (2 / 3)
rho = a_s / min(2.5 * (z.h[i] / 2 - e), z.h[i] / 2)
alpha = E_s / wall.E_short
eps = max((sigma - 0.4 * f_ctm / rho * (1 + alpha * rho)) / E_s, 0.6 * sigma / E_s)
spacing = 3.4 * cover + 0.425 * 0.8 * 1.0 * phi / rho
print(f"by hand: n_x {n_x:.0f} N/mm, {sigma:.0f} MPa, spacing {spacing:.0f} mm, width {spacing * eps:.3f} mm")
print(f"by the section: {crack['steel stress [MPa]']:.0f} MPa, spacing {crack['spacing of cracks [mm]']:.0f} mm, "
      f"width {crack['crack width [mm]']:.3f} mm of {crack['allowed [mm]']:.3f} mm")  # fmt: skip

for name, figure in result.figures.items():
    if "cracks" in name or "added" in name:
        d = figure.describe(SI)
        (folder / f"{name}.png").write_bytes(png(draw_map, d))
        print(f"drew {d.title}")
explained = explain_crack(folder / "job.toml", f"wall/{crack['point']}")
print(
    "explained: " + ", ".join(f"{q.symbol} {digits(q.value, 3)} {q.unit}".strip() for q in explained.sheet.answer[:3])
)
(folder / "section.png").write_bytes(png(draw_section, explained.section))
alone = check_job(folder / "job.toml", "cracks", pictures=False)
print(f"the check by itself: {alone.service.cracks['utilisation'].max():.3f} of what is allowed")
