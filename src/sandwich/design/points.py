"""Points by themselves: the library's door for arrays or a frame of resultants, without a job."""

from __future__ import annotations

import logging
from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
import pandas as pd
from numpy.typing import ArrayLike, NDArray

from sandwich.core import compiled
from sandwich.core.errors import check_choice, check_kind, check_number
from sandwich.core.resultants import COMPONENTS
from sandwich.core.section import Section
from sandwich.core.situations import check_ultimate
from sandwich.design.record import Ultimate
from sandwich.design.results import LAYER, REQUIRED, checks_frame, steel_frame
from sandwich.design.second_order import WAYS, added_moment, both_ways
from sandwich.design.settings import LinkRule, Settings
from sandwich.design.ultimate import design_ultimate
from sandwich.standards.interface import Standard
from sandwich.standards.registry import as_standard

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from sandwich.core.trace import Sheet

Floats = NDArray[np.float64]
log = logging.getLogger("sandwich")


@dataclass(frozen=True, repr=False)
class PointDesign:
    """Design of points: shows itself as a table, gives frames, explains a row."""

    labels: list[str]
    resultants: Floats
    combinations: list[str]
    situations: list[str]
    h: Floats
    settings: Settings
    ultimate: Ultimate

    @property
    def steel(self) -> pd.DataFrame:
        """One row a point and bar layer, units in the headings."""
        axes = self.settings.bars.axes(self.h)
        return steel_frame("points", self.labels, self.ultimate, self.combinations, axes, self.settings)

    @property
    def checks(self) -> pd.DataFrame:
        """One row a point and check, the worst first."""
        frame = checks_frame("points", self.labels, self.ultimate, self.combinations, self.h, self.settings)
        return frame.sort_values("utilisation", ascending=False, kind="stable", ignore_index=True)

    def frame(self, name: str = "steel") -> pd.DataFrame:
        """One of the tables 'steel' and 'checks'.

        Raises
        ------
        ValueError
            If there is no such table.
        """
        check_choice("name", name, ("steel", "checks"))
        return self.steel if name == "steel" else self.checks

    def plot(self, ax: Axes | None = None, *, most: int = 20) -> Axes:
        """Draw the required steel of the points with the most of it, one bar a layer.

        Parameters
        ----------
        ax : Axes, optional
            Where it is drawn; a figure of its own by default.
        most : int
            How many points.

        Returns
        -------
        Axes
            Steel [mm2/m] over points.
        """
        if ax is None:
            from matplotlib.figure import Figure

            ax = Figure(figsize=(10.0, 5.0), layout="constrained").add_subplot()
        wide = self.steel.pivot_table(index="point", columns=LAYER, values=REQUIRED, sort=False, dropna=False)
        wide = wide.loc[wide.sum(axis=1).sort_values(ascending=False, kind="stable").index[:most]]
        place, width = np.arange(len(wide)), 0.8 / max(len(wide.columns), 1)
        for i, layer in enumerate(wide.columns):
            ax.bar(place + (i + 0.5) * width - 0.4, wide[layer], width, label=str(layer))
        ax.set_xticks(place, [str(v) for v in wide.index])
        ax.set_xlabel("point")
        ax.set_ylabel(REQUIRED)
        ax.legend()
        return ax

    def explain(self, point: str, combination: str | None = None) -> Sheet:
        """Worked calculation of one point.

        Parameters
        ----------
        point : str
            A label.
        combination : str, optional
            Name of the combination; the one that needs most steel by default.

        Returns
        -------
        Sheet
            Steps with clause, symbols, values and units.

        Raises
        ------
        KeyError
            If there is no such point or combination.
        """
        from sandwich.design.worked import worked_point

        i = self.labels.index(str(point)) if str(point) in self.labels else _no(point, self.labels)
        axes = self.settings.bars.axes(self.h[i])
        return worked_point(
            self.resultants[i],
            self.combinations,
            self.situations,
            float(self.h[i]),
            axes=axes,
            settings=self.settings,
            combination=combination,
        ).of_combination()

    def __repr__(self) -> str:
        of = f"{len(self.labels)} points, {len(self.combinations)} combinations, {self.settings.standard.name}"
        fails = int((self.ultimate.failing >= 0).sum())
        return f"PointDesign({of}{f', {fails} fail' if fails else ''})"

    def _repr_html_(self) -> str:
        return str(self.steel.to_html(index=False, float_format="{:.0f}".format))

    def __str__(self) -> str:
        return str(self.steel.to_string(index=False, float_format="{:.0f}".format))


def _no(point: str, labels: list[str]) -> Any:
    raise KeyError(f"no point '{point}'; there are {', '.join(labels[:8])}")


def _points(resultants: ArrayLike | pd.DataFrame) -> tuple[Floats, list[str]]:
    """Resultants (p, k, 8) and labels of the points."""
    of: ArrayLike
    if isinstance(resultants, pd.DataFrame):
        lost = [c for c in COMPONENTS if c not in resultants]
        if lost:
            found = ", ".join(map(str, resultants.columns))
            raise ValueError(f"no column {', '.join(lost)} among {found}; {', '.join(COMPONENTS)} are wanted")
        labels, of = [str(v) for v in resultants.index], resultants[list(COMPONENTS)].to_numpy()
        twice = sorted(v for v, k in Counter(labels).items() if k > 1)
        if twice:
            raise ValueError(f"label '{twice[0]}' stands twice in the index; one row a point is wanted")
    else:
        labels, of = [], resultants
    try:
        array = np.asarray(of, dtype=float)
    except (TypeError, ValueError) as error:
        raise ValueError(f"resultants are not all numbers ({error}); (p, 8) or (p, k, 8) is wanted") from None
    if array.ndim == 2:
        array = array[:, None]
    if array.ndim != 3 or array.shape[2] != 8 or 0 in array.shape:
        raise ValueError(f"resultants have shape {array.shape}; (p, 8) or (p, k, 8), with a point or more, is wanted")
    return array, labels or [str(i + 1) for i in range(len(array))]


def design_points(
    resultants: ArrayLike | pd.DataFrame,
    section: Section,
    *,
    method: str = "sandwich",
    minimum: str = "none",
    vertical: str = "y",
    situation: str = "persistent",
    standard: Standard | str | None = None,
    joint: bool = False,
    links: float | None = None,
    uncracked: str = "report",
    compression_bars: bool = False,
    shear_steel: str = "cos2",
    minimum_eccentricity: bool | None = None,
    effective_length: float | None = None,
    creep: float = 2.0,
    workers: int = 1,
) -> PointDesign:
    """Design points from their resultants in the bar directions.

    Parameters
    ----------
    resultants : array_like, shape (p, 8) or (p, k, 8), or DataFrame
        nx ny nxy [N/mm], mx my mxy [N], vx vy [N/mm] of p points, for one or k combinations. A frame
        has these columns, and its index names the points.
    section : Section
        Thickness, bars and materials of all points.
    method : {'sandwich', 'plate', 'membrane'}
        Three layers, Wood-Armer, or in-plane forces alone.
    minimum : {'none', 'slab', 'wall'}
        Rule of minimum steel.
    vertical : {'x', 'y'}
        Vertical direction of a wall.
    situation : {'persistent', 'accidental', 'seismic'}
        Picks the partial factors.
    standard : Standard or str, optional
        A standard, or its name such as 'IS 456:2000'; EN 1992-1-1:2004 with the recommended values by default.
    joint : bool
        Minimum steel for all combinations together, and not the envelope of separate designs.
    links : float, optional
        Vertical links where the shear asks for them, with struts of this cot theta [-]; none by default.
    uncracked : {'report', 'exempt'}
        Whether points that stay uncracked in every combination get minimum steel alone.
    compression_bars : bool
        Whether bars may be in compression where the concrete would crush.
    shear_steel : {'cos2', 'cos4'}
        Ratio of tension steel in the direction of the shear.
    minimum_eccentricity : bool, optional
        Whether compression is checked with the minimum eccentricity; of walls by default.
    effective_length : float, optional
        Of a wall out of its plane [mm]: imperfection, minimum eccentricity and second order by the standard are added
        to the moments of the vertical direction, in each combination both ways; none by default.
    creep : float
        Effective creep ratio of that [-].
    workers : int
        Threads; 0 takes one a core.

    Returns
    -------
    PointDesign
        Frames `steel` and `checks`, and `explain`.

    Raises
    ------
    ValueError
        If the shape does not fit, a column is missing, a label stands twice, or a word or number is none that is known.
    TypeError
        If a section, a standard or a number is of another kind.

    Examples
    --------
    >>> from sandwich import Section, design_points
    >>> one = design_points([[0, 0, 0, 60e3, 0, 0, 0, 0]], Section(h=250.0))
    >>> one.steel["required [mm2/m]"].round(0).tolist()
    [667.0, 0.0, 0.0, 0.0]
    """
    check_kind("section", section, Section, "Section(250.0)")
    check_ultimate(situation)
    array, labels = _points(resultants)
    shape: tuple[int, ...] = array.shape
    k = shape[1]
    names = ["given"] if k == 1 else [f"given {i + 1}" for i in range(k)]
    if effective_length is not None:
        check_number("effective_length", effective_length, 1.0, 1e6, " mm")
        if method == "membrane":
            raise ValueError("effective_length adds moments, which method = 'membrane' leaves out; use another method")
    check_number("creep", creep, 0.0, 10.0)
    settings = Settings(
        bars=section.bars,
        concrete=section.concrete,
        steel=section.steel,
        standard=as_standard(standard),
        method=method,
        minimum=minimum,
        vertical=vertical,
        joint=joint,
        links=None if links is None else LinkRule(links),
        uncracked=uncracked,
        compression=compression_bars,
        shear_steel=shear_steel,
        eccentricity=minimum_eccentricity,
    )
    if compiled.is_cold():
        log.warning("compiling once; later calls start at once")
    h = np.full(len(array), section.h)
    if effective_length is not None:
        more = added_moment(array, [situation] * k, h, settings, effective_length, creep)
        if more.beyond.any():
            at = labels[int(more.beyond.any(1).argmax())]
            log.warning("%d points buckle or pass a limit of %s, %s first", more.beyond.any(1).sum(), more.clause, at)
        array, names = both_ways(array, more.moment, settings), [f"{n}{way}" for n in names for way in WAYS]
    situations = [situation] * len(names)
    result = design_ultimate(array, np.eye(len(names)), situations, h, settings, workers=workers)
    return PointDesign(
        labels=labels,
        resultants=array,
        combinations=names,
        situations=situations,
        h=h,
        settings=settings,
        ultimate=result,
    )
