"""Sections in bending about any axis: all demands in one call against halving of each on a grid of fibres.

A core of 6 x 6 m with 200 bars; the demands are solved at constant axial force, so many are halved one by one and the
time of all is taken in proportion. Both are held against each other. Usage: python sections.py [DEMANDS]
"""

import sys
import time

import numpy as np

from sandwich import Concrete, PlaneSection, SectionStrength, Steel, standard_named

SIDE, THICK, STEP = 6000.0, 300.0, 75.0  # mm
HALVED = 3
TIMES = 40


def core():
    """A square core with 100 bars along each face of its walls."""
    place = np.linspace(0.0, 4.0, 100, endpoint=False)
    bars = []
    for cover in (50.0, THICK - 50.0):
        low, high = cover, SIDE - cover
        for side, along in zip(place.astype(int), low + (high - low) * (place % 1.0), strict=True):
            back = SIDE - along
            bars.append([(along, low), (high, along), (back, high), (low, back)][side])
    outline = [(0, 0), (SIDE, 0), (SIDE, SIDE), (0, SIDE)]
    inner = [(THICK, THICK), (SIDE - THICK, THICK), (SIDE - THICK, SIDE - THICK), (THICK, SIDE - THICK)]
    return PlaneSection.of([outline], bars, np.full(len(bars), 314.0), holes=[inner])


class Fibres:
    """The same section as fibres, and halving of the neutral axis within halving of its direction."""

    def __init__(self, section, law):
        x, y = (v.ravel() for v in np.meshgrid(*[np.arange(STEP / 2, SIDE, STEP)] * 2))
        wall = (np.minimum(x, SIDE - x) < THICK) | (np.minimum(y, SIDE - y) < THICK)
        self.xy = np.column_stack([x, y])[wall] - section.centroid
        self.bars, self.area, self.section, self.law = section.bars - section.centroid, section.area, section, law

    def state(self, theta, p):
        """Axial force and moments of a state."""
        law, plane = self.law, self.section.plane(theta, p, self.law.concrete)
        own, at_bars = (plane.strain + q @ np.array([plane.slope_x, plane.slope_y]) for q in (self.xy, self.bars))
        force = STEP**2 * law.concrete.at(own)
        bars = self.area * (law.steel.at(at_bars) - law.concrete.at(at_bars))
        x, y = force @ self.xy + bars @ self.bars
        return -force.sum() - bars.sum(), -y, x

    def place(self, theta, N):
        """Moments of the plane that carries an axial force."""
        low, high = 0.0, 2.0
        for _ in range(TIMES):
            middle = (low + high) / 2.0
            low, high = (middle, high) if self.state(theta, middle)[0] > N else (low, middle)
        return self.state(theta, high)[1:]

    def moment(self, N, way):
        """Moment that is carried in a direction of its vector."""
        low, high = way - np.pi, way  # the compressed corner lies a quarter turn behind it
        for _ in range(TIMES):
            middle = (low + high) / 2.0
            mx, my = self.place(middle, N)
            low, high = (middle, high) if np.sin(way - np.arctan2(my, mx)) > 0.0 else (low, middle)
        return np.hypot(*self.place(high, N))


def main(count):
    """Print the ratio of both ways, and how far they are apart."""
    section, law = core(), standard_named("EN 1992-1-1:2004").member_law(Concrete(30.0), Steel(500.0), "persistent")
    rng = np.random.default_rng(0)
    N, way = rng.uniform(-3e7, 5e6, count), rng.uniform(0.0, 2.0 * np.pi, count)
    size = rng.uniform(1e9, 5e10, count)
    start = time.perf_counter()
    found = SectionStrength(section, law).strength(N, size * np.cos(way), size * np.sin(way))
    together = time.perf_counter() - start
    fibres = Fibres(section, law)
    start = time.perf_counter()
    halved = np.array([fibres.moment(N[i], way[i]) for i in range(HALVED)])
    alone = (time.perf_counter() - start) / HALVED * count
    apart = np.abs(found.moment[:HALVED] / halved - 1.0).max()
    print(
        f"{count} demands on {len(section.area)} bars: {together:.2f} s with utilisations along the ray; halving each "
        f"on {len(fibres.xy)} fibres {alone:.0f} s, {alone / together:.0f} times; moments {100 * apart:.2f} % apart"
    )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000)
