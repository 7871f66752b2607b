"""Speed of the ultimate stage on the demo, as ratios in one run.

With shear and links against the same algorithm row by row without compilation (a process of its own, a few rows);
the joint design of 40 combinations against the envelope of their separate designs; bars in any directions a row
and limit analysis a point. One thread. Usage: python ultimate.py
"""

import os
import subprocess
import sys
import tempfile
import time
from dataclasses import replace
from pathlib import Path

import numpy as np

from sandwich.commands.start import copy_demo
from sandwich.core.section import BarLayers, BarLine
from sandwich.design.settings import LinkRule
from sandwich.design.ultimate import design_ultimate
from sandwich.mechanics import manylayers
from sandwich.mechanics.leaststeel import optimum_steel
from sandwich.mechanics.limit import load_factor
from sandwich.project.project import Project
from sandwich.standards.en1992.standard import EN1992

COMBINATIONS, SAMPLE, REPEATS = 40, 60, 2
THREE_WAY = tuple(BarLine(angle, 14.0) for angle in (0.0, 60.0, 120.0))


def seconds(function, repeats=REPEATS):
    """Minimum time of a few calls [s]."""
    times = []
    for _ in range(repeats):
        start = time.perf_counter()
        function()
        times.append(time.perf_counter() - start)
    return min(times)


def demo(folder):
    """Zones of the demo, their settings, factors and situations."""
    came = Project.of(copy_demo(Path(folder) / "demo")).load()
    ultimate = came.combinations.ultimate()
    standard = EN1992.recommended()
    return [(z, z.settings(standard)) for z in came.zones], ultimate.factors, ultimate.situations


def plain_seconds_a_row():
    """Time a row (point and combination) without compilation and one by one, in a process of its own [s]."""
    code = "from benchmarks.ultimate import plain; print(plain())"
    environment = {**os.environ, "NUMBA_DISABLE_JIT": "1", "PYTHONPATH": str(Path(__file__).parents[1])}
    done = subprocess.run(  # noqa: S603
        [sys.executable, "-W", "ignore", "-c", code], capture_output=True, text=True, check=True, env=environment
    )
    return float(done.stdout)


def linked(z, settings, factors, situations, points):
    """Design some points with links where shear asks for them."""
    rule = replace(settings, links=LinkRule())
    return design_ultimate(z.cases[points], factors, situations, z.h[points], rule, workers=1)


def plain():
    """Time a row of the drum with links, one after another, spread over points and combinations [s]."""
    with tempfile.TemporaryDirectory() as folder:
        zones, factors, situations = demo(folder)
    z, settings = zones[1]
    points = np.linspace(0, len(z.h) - 1, SAMPLE).astype(int)
    start = time.perf_counter()
    for i in range(len(points)):
        k = i % len(factors)
        linked(z, settings, factors[k : k + 1], situations[k : k + 1], points[i : i + 1])
    return (time.perf_counter() - start) / len(points)


def many_layers():
    """Time of a cone program over that of our own kernel, for the minimum steel of pressed sections."""
    rng, h, strength = np.random.default_rng(1), 250.0, 15.0
    rows = rng.normal(0.0, 1.0, (SAMPLE, 6)) * [500, 500, 200, 6e4, 6e4, 3e4] - [900, 600, 0, 0, 0, 0]
    e, angles = np.array([90.0, 78.0, -90.0, -78.0]), np.array([0.0, np.pi / 2] * 2)
    many = np.full(SAMPLE, h), np.tile(e, (SAMPLE, 1)), angles, np.full(SAMPLE, strength), np.full(SAMPLE, strength)
    own = seconds(lambda: manylayers.design(rows, *many))
    cone = seconds(lambda: [optimum_steel(r, h, e, angles, strength, compressed_bars=0.0, layers=60) for r in rows])
    return cone / own


def main():
    with tempfile.TemporaryDirectory() as folder:
        zones, factors, situations = demo(folder)
    z, settings = zones[1]
    everywhere = np.arange(len(z.h))
    linked(z, settings, factors, situations, everywhere[:2])
    compiled = seconds(lambda: linked(z, settings, factors, situations, everywhere)) / len(z.h) / len(factors)
    ratio = plain_seconds_a_row() / compiled
    print(f"three layers with shear and links against a plain Python loop: {ratio:.0f} times as fast")
    print(f"  ({compiled * 1e6:.1f} us a row with witness, bound, minimum steel and checks)")
    few, of = factors[:COMBINATIONS], situations[:COMBINATIONS]
    for z, settings in zones:
        both = [replace(settings, joint=t) for t in (False, True)]
        for s in both:
            design_ultimate(z.cases[:2], few, of, z.h[:2], s, workers=1)
        apart, joint = (seconds(lambda s=s, z=z: design_ultimate(z.cases, few, of, z.h, s, workers=1)) for s in both)
        print(f"{z.name}: {COMBINATIONS} combinations together take {joint / apart:.1f} times their envelope")
    z, settings = zones[0]
    skew = replace(settings, bars=BarLayers(30.0, 30.0, bottom=THREE_WAY, top=THREE_WAY))
    design_ultimate(z.cases[:2], factors, situations, z.h[:2], skew, workers=1)
    each = seconds(lambda: design_ultimate(z.cases, factors, situations, z.h, skew, workers=1), 1)
    print(f"three-way bars on both faces: {each / len(z.h) / len(factors) * 1e6:.0f} us a row (point and combination)")
    axes = settings.bars.axes(z.h[0])
    one = seconds(
        lambda: load_factor(z.cases[0].sum(0)[:6], z.h[0], axes, settings.bars.angles, np.full(4, 500.0), 10.56), 10
    )
    print(f"limit analysis in 40 layers: {one * 1e3:.0f} ms a point and combination")
    ratio = many_layers()
    print(f"minimum steel in 60 layers against a cone program in 60: {ratio:.0f} times as fast")


if __name__ == "__main__":
    main()
