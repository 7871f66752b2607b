"""Given bars on cracked sections: points under combinations as rows, and the cracks of their faces."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sandwich.design.settings import Settings
from sandwich.mechanics.crack import FaceBars, FaceCrack, crack_of_face
from sandwich.mechanics.cracked import CrackedState, cracked_section

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ServiceBars:
    """Bars as they are looked at: area (p, b) [mm2/mm], axes (p, b) below mid-depth, diameters (b,) or (p, b) [mm].

    Bars that are only required have not been laid at a spacing yet, and count as close to each other. Where bars of
    several diameters make a layer, `diameter` is the equivalent one, `one` the mean area of a bar (p, b) [mm2] and
    `cover` that to its bars (p, b) [mm], nan where it follows from axis and diameter.
    """

    area: Floats
    axes: Floats
    diameter: Floats
    laid: bool = True
    one: Floats = None  # type: ignore[assignment]  # made from the diameter
    cover: Floats = None  # type: ignore[assignment]

    def __post_init__(self) -> None:
        shape = self.area.shape
        object.__setattr__(self, "diameter", np.broadcast_to(self.diameter, shape).copy())
        if self.one is None:
            object.__setattr__(self, "one", np.pi * self.diameter**2 / 4.0)
        if self.cover is None:
            object.__setattr__(self, "cover", np.full(shape, np.nan))

    @property
    def spacing(self) -> Floats:
        """Spacing of the bars (p, b) [mm], inf where there are none."""
        with np.errstate(divide="ignore"):
            return np.asarray(np.where(self.area > 0.0, self.one / self.area, np.inf))

    def part(self, at: Any) -> ServiceBars:
        """The same for some points."""
        return ServiceBars(
            self.area[at], self.axes[at], self.diameter[at], self.laid, self.one[at], self.cover[at]
        )  # fmt: skip

    def finer(self, own: NDArray[np.bool_], diameter: float) -> ServiceBars:
        """The same areas in bars of a diameter [mm] at most, in the layers `own` (b,)."""
        finer = np.where(own, np.minimum(self.diameter, diameter), self.diameter)
        one = np.where(finer < self.diameter, np.pi * finer**2 / 4.0, self.one)
        return replace(self, diameter=finer, one=one, cover=np.where(own, np.nan, self.cover))


@dataclass(frozen=True)
class Sections:
    """Cracked sections of p points under k combinations in one state of the concrete, as rows p x k."""

    state: CrackedState
    rows: Floats
    h: Floats
    axes: Floats
    angles: Floats
    area: Floats
    spacing: Floats
    diameter: Floats
    cover: Floats
    laid: bool
    E_c: float

    def picked(self, rows: NDArray[np.bool_]) -> Sections:
        """Some of the rows."""
        s = self.state
        state = CrackedState(s.strain[rows], s.curvature[rows], s.bar_stress[rows], s.status[rows], s.residual[rows])
        return Sections(
            state=state,
            rows=self.rows[rows],
            h=self.h[rows],
            axes=self.axes[rows],
            angles=self.angles[rows],
            area=self.area[rows],
            spacing=self.spacing[rows],
            diameter=self.diameter[rows],
            cover=self.cover[rows],
            laid=self.laid,
            E_c=self.E_c,
        )

    def face(self, side: int, settings: Settings) -> FaceCrack:
        """The cracks of one face."""
        own = np.isin(settings.bars.sides, (0, side)) & np.isfinite(self.axes)
        area, E_s = np.where(own, self.area, 0.0), settings.steel.E_s
        cover = self.h[:, None] / 2.0 - side * np.nan_to_num(self.axes) - self.diameter / 2.0
        cover = np.where(np.isfinite(self.cover), self.cover, cover)
        stress = np.nan_to_num(self.state.bar_stress)
        layers = FaceBars(
            area=area,
            stress=stress,
            strain=stress / E_s,
            diameter=self.diameter,
            cover=cover,
            spacing=self.spacing,
            angle=self.angles,
            laid=self.laid,
            names=tuple(settings.names),
        )
        found = crack_of_face(self.state, self.rows, self.h, self.axes, layers, side, E_c=self.E_c, E_s=E_s)
        curtain = settings.bars.sides == 0
        if not curtain.any():
            return found
        # pulled through its whole depth, a section has its curtain for both faces
        half = np.where(curtain & (found.x <= 0.0)[:, None], 0.5, 1.0)
        return replace(found, bars=replace(layers, area=layers.area * half))


def sections_of(
    combined: Floats, h: Floats, bars: ServiceBars, settings: Settings, turn: Floats, creep: float
) -> Sections:
    """Cracked sections of points (p, k, 8) with the modulus of a creep coefficient."""
    p, k, _ = combined.shape
    rows = combined[..., :6].reshape(p * k, 6)
    angles = settings.bars.angles + np.where(settings.bars.sides < 0, turn[:, None], 0.0)
    thick, axes, angles, area, spacing, diameter, cover = (
        np.repeat(v, k, 0) for v in (h, bars.axes, angles, bars.area, bars.spacing, bars.diameter, bars.cover)
    )
    E_c = settings.standard.modulus(settings.concrete, creep)
    state = cracked_section(rows, thick, axes, angles, area, E_c=E_c, E_s=settings.steel.E_s)
    return Sections(
        state=state,
        rows=rows,
        h=thick,
        axes=axes,
        angles=angles,
        area=area,
        spacing=spacing,
        diameter=diameter,
        cover=cover,
        laid=bars.laid,
        E_c=E_c,
    )
