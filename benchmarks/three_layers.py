"""Speed of the three-layer design, as ratios in one run.

The rows are those of the demo, all its combinations at each of its points, repeated with a small scatter up to 2
million. Compared with the same kernels as a plain Python loop (a process without compilation, a sample of the
rows) and with copying the input into memory that has been touched. Usage: python three_layers.py [ROWS]
"""

import os
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np

from sandwich.commands.start import copy_demo
from sandwich.mechanics.superpose import superpose
from sandwich.mechanics.threelayer import OK, design
from sandwich.project.project import Project
from sandwich.standards.en1992.standard import EN1992

BLOCK, SAMPLE, REPEATS = 16_384, 1500, 5


def demo_rows(count, seed=1):
    """Rows of the demo with their sections, repeated with 5 % scatter."""
    rng = np.random.default_rng(seed)
    with tempfile.TemporaryDirectory() as folder:
        came = Project.of(copy_demo(Path(folder) / "demo")).load()
        factors = came.combinations.ultimate().factors
        rows, section, sections = [], [], []
        for i, z in enumerate(came.zones):
            s = EN1992.recommended().strengths(z.zone.concrete, z.zone.steel, "persistent")
            axes = z.zone.bars.layers().axes(z.h[0])
            sections.append([z.h[0], *axes, s.fc_cracked, s.fc_uncracked])
            combined = superpose(z.cases, factors).reshape(-1, 8)
            rows.append(combined)
            section.append(np.full(len(combined), i))
    rows, section = np.concatenate(rows), np.concatenate(section)
    pick = rng.integers(0, len(rows), count)
    return rows[pick] * rng.uniform(0.95, 1.05, (count, 8)), section[pick], np.array(sections)


def best_of(function, repeats=REPEATS):
    """Minimum time of a few calls [s]."""
    times = []
    for _ in range(repeats):
        start = time.perf_counter()
        function()
        times.append(time.perf_counter() - start)
    return min(times)


def plain_seconds_a_row(rows, section, sections):
    """Time a row of the same kernels without compilation, in a process of its own [s]."""
    code = (
        "import sys, time, numpy as np; from sandwich.mechanics.threelayer import design; d = np.load(sys.argv[1]);"
        "a = d['rows'], d['section'], d['sections']; t = time.perf_counter(); design(*a);"
        "print((time.perf_counter() - t) / len(a[0]))"
    )
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "sample.npz"
        np.savez(file, rows=rows, section=section, sections=sections)
        environment = {**os.environ, "NUMBA_DISABLE_JIT": "1"}
        done = subprocess.run(  # noqa: S603
            [sys.executable, "-W", "ignore", "-c", code, str(file)],
            capture_output=True, text=True, check=True, env=environment,
        )  # fmt: skip
    return float(done.stdout)


def main():
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 2_000_000
    rows, section, sections = demo_rows(count)
    workers = os.cpu_count() or 1
    slices = [slice(i, i + BLOCK) for i in range(0, count, BLOCK)]

    def whole():
        with ThreadPoolExecutor(workers) as pool:
            return list(pool.map(lambda s: design(rows[s], section[s], sections), slices))

    out = np.concatenate(whole())
    seconds = best_of(whole, 3)
    target = np.zeros_like(rows)
    copy = best_of(lambda: np.copyto(target, rows))
    plain = plain_seconds_a_row(rows[:SAMPLE], section[:SAMPLE], sections)
    print(f"{count} rows, {workers} threads, {np.mean(out[:, 12] == OK):.2%} designed")
    print(f"against a plain Python loop of the same kernels: {plain * count / seconds:.0f} times as fast")
    print(f"against copying the input:                       {seconds / copy:.0f} copies")
    print(f"leave by the 45-degree exit:                     {np.mean(out[:, 14] == 0):.1%}")
    print(f"rounds of the layer thickness:                   {out[:, 13].mean():.1f} a row")


if __name__ == "__main__":
    main()
