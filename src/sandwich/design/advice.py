"""What would help where a point fails or a check is exceeded: each remedy is found by designing with it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Final

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from sandwich.core.section import BarLayers, Concrete
from sandwich.core.shown import Measure, Sentence
from sandwich.core.status import Status, is_status
from sandwich.design.record import Ultimate
from sandwich.design.results import STRUTS, checks_frame
from sandwich.design.settings import LinkRule, Settings
from sandwich.design.ultimate import design_ultimate

Floats = NDArray[np.float64]
STEP: Final = 10.0  # mm of thickness
GRADES: Final = (20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 60.0, 70.0, 80.0, 90.0)  # MPa, cylinder
REMEDY: Final = "remedy"
NOTHING: Final = "none: three times the thickness and f_ck 90 MPa do not help"


def advice(
    case: Floats, factors: Floats, situations: list[str], h: float, settings: Settings, check: str | None = None,
    *, support: NDArray[np.int64] | None = None,
) -> Sentence:  # fmt: skip
    """Remedies of one point, each found by a design with it.

    Parameters
    ----------
    case : ndarray, shape (c, 8)
        Resultants of each case at the point [N, mm].
    factors, situations
        Combinations, as in `design_ultimate`.
    h : float
        Thickness [mm].
    settings : Settings
        What it was designed with.
    check : str, optional
        The check that is exceeded; without it the point fails.
    support : ndarray of int, shape (1,), optional
        As in `design_ultimate`.

    Returns
    -------
    Sentence
        Remedies in words; the resultants stay those of the analysis.
    """

    def design(s: Settings, thick: float) -> Ultimate | None:
        try:
            return design_ultimate(case[None], factors, situations, np.array([thick]), s, support=support, workers=1)
        except ValueError:  # a bar axis outside the section
            return None

    def passes(s: Settings, thick: float) -> Ultimate | None:
        u = design(s, thick)
        if u is None or u.failing[0] >= 0:
            return None
        if check is not None:
            rows = checks_frame("", ["point"], u, [""] * len(situations), np.array([thick]), s).set_index("check")
            asked = rows.index.intersection([check, STRUTS])
            if not is_status(rows.loc[asked, "status"], Status.OK, Status.LINKS).all():
                return None
        return u

    found = list(_remedies(passes, h, settings, check))
    return Sentence.joined(", or ", found) if found else Sentence(NOTHING)


def _remedies(
    passes: Callable[[Settings, float], Ultimate | None], h: float, settings: Settings, check: str | None
) -> Iterator[Sentence | str]:
    if check is not None and "shear" in check and settings.links is None:
        u = passes(replace(settings, links=LinkRule()), h)
        if u is not None:
            yield Sentence("links of {}", Measure(float(u.shear.a_sw[0]) * 1e6, "mm2/m2", ".0f"))
    if check is not None and "neglected" in check:
        yield "method three layers" if passes(replace(settings, method="sandwich"), h) else "three layers fail too"
        return
    bars = settings.bars
    if bars.layout != "both" and not bars.lines:
        both: BarLayers = replace(bars, layout="both")
        if passes(replace(settings, bars=both), h):
            yield "bars on both faces"
    low, high = 0, int(np.ceil(2.0 * h / STEP))
    if passes(settings, h + high * STEP):
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if passes(settings, h + middle * STEP) else (middle, high)
        yield Sentence("{} of thickness", Measure(h + high * STEP, "mm", "g"))
    for grade in GRADES:
        if grade > settings.concrete.cylinder and passes(replace(settings, concrete=Concrete(grade)), h):
            yield Sentence("f_ck {}", Measure(grade, "MPa", "g"))
            break


def with_advice(
    frame: pd.DataFrame, ask: Callable[[str, str, str | None], Sentence | str], point: str, check: str | None = None
) -> pd.DataFrame:
    """A table of exceeded checks or failing points with what would help its named point."""
    said = [ask(str(r["zone"]), str(r[point]), str(r[check]) if check else None) for _, r in frame.iterrows()]
    return frame.assign(**{REMEDY: np.array(said, dtype=object)})
