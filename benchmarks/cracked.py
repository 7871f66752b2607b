"""Speed of the cracked section against a general root finder on the same equations, as a ratio in one run.

The root finder (SciPy's `root`, method 'hybr') is given the six equations of equilibrium of one point after another, by
400 layers in NumPy, as many as bring its bars within 0.01 MPa of ours, and starts from the same uncracked section.
Usage: python cracked.py [ROWS]
"""

import sys
import time
from concurrent.futures import ThreadPoolExecutor

import numpy as np
from scipy.optimize import root

from sandwich.mechanics.cracked import OK, cracked_section

H, E_C, E_S, LAYERS, SAMPLE = 300.0, 11_000.0, 200_000.0, 400, 300
THREADS = 2
AXES, ANGLES = np.array([110.0, 98.0, -112.0, -98.0]), np.radians([0.0, 90.0, 0.0, 90.0])
AREA = np.array([1.1, 0.8, 0.9, 1.2])
SIDES = np.array([1.0, 1.0, 1.0, 2.0 / H, 2.0 / H, 2.0 / H])


def section(u):
    """Resultants (6,) [N/mm, 2 m/h] of strains u = (eps, kappa h/2)."""
    z = ((np.arange(LAYERS) + 0.5) / LAYERS - 0.5) * H
    eps = u[:3] - (2.0 * z / H)[:, None] * u[3:]
    mean, radius = (eps[:, 0] + eps[:, 1]) / 2, np.hypot((eps[:, 0] - eps[:, 1]) / 2, eps[:, 2] / 2)
    low, high = np.minimum(mean - radius, 0.0), np.minimum(mean + radius, 0.0)
    with np.errstate(invalid="ignore", divide="ignore"):
        half = np.where(radius > 0.0, (high - low) / (2.0 * radius), 0.0)
    both, other = (low + high) / 2, half * (eps[:, 0] - eps[:, 1]) / 2
    n = E_C * np.stack([both + other, both - other, half * eps[:, 2] / 2], axis=1)
    along = np.stack([np.cos(ANGLES) ** 2, np.sin(ANGLES) ** 2, np.cos(ANGLES) * np.sin(ANGLES)], axis=1)
    pull = np.concatenate([along, (2.0 * AXES / H)[:, None] * along], axis=1)
    return np.concatenate([n.sum(0), -(2.0 * z / H) @ n]) * H / LAYERS + (AREA * E_S * (pull @ u)) @ pull


def main():
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 200_000
    rng = np.random.default_rng(5)
    loads = rng.normal(size=(rows, 6)) * np.array([200.0] * 3 + [2e4] * 3)
    cracked_section(loads[:2], H, AXES, ANGLES, AREA, E_c=E_C)
    start = time.perf_counter()
    state = cracked_section(loads, H, AXES, ANGLES, AREA, E_c=E_C)
    own = (time.perf_counter() - start) / rows
    start = time.perf_counter()
    with ThreadPoolExecutor(THREADS) as pool:
        list(pool.map(lambda part: cracked_section(part, H, AXES, ANGLES, AREA, E_c=E_C), np.array_split(loads, 20)))
    both = (time.perf_counter() - start) / rows
    assert np.all(state.status == OK)
    start = time.perf_counter()
    found = [root(lambda u, r=r: section(u) - r * SIDES, r * SIDES / (E_C * H)) for r in loads[:SAMPLE]]
    general = (time.perf_counter() - start) / SAMPLE
    solved = np.array([f.success for f in found])
    along = np.stack([np.cos(ANGLES) ** 2, np.sin(ANGLES) ** 2, np.cos(ANGLES) * np.sin(ANGLES)], axis=1)
    u = np.stack([f.x for f in found])
    stress = E_S * np.einsum("bi,pbi->pb", along, u[:, None, :3] + (2.0 * AXES / H)[:, None] * u[:, None, 3:])
    apart = np.abs(stress - state.bar_stress[:SAMPLE])[solved].max()
    print(f"cracked section against scipy.optimize.root a point: {general / own:.0f} times as fast,")
    print(
        f"  on two cores {general / both:.0f} times, {1 / both:.0f} points a second ({own * 1e6:.1f} us a point on one)"
    )
    print(f"  (the root finder settled {solved.mean():.0%} of its points, bars {apart:.3f} MPa apart at most)")


if __name__ == "__main__":
    main()
