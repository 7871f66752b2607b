"""Checks along a tendon: decompression of the concrete around its duct, increase and range of its stress."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sandwich.core.resultants import rotate
from sandwich.design.sections import ServiceBars
from sandwich.design.settings import Settings
from sandwich.mechanics import cracked
from sandwich.mechanics.crack import along
from sandwich.mechanics.cracked import cracked_section

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class TendonRule:
    """What is checked: duct and distance around it [mm], modulus [MPa], situations."""

    duct: float
    within: float
    E_p: float
    decompression: str
    stress_from: str
    stress_to: str
    range_of: str | None


@dataclass(frozen=True)
class TendonStresses:
    """Along a tendon of n stations.

    Attributes
    ----------
    upper, lower : ndarray, shape (n, 2)
        Minimum and maximum concrete stress along the tendon at the upper and lower edge of the zone around the duct
        under the combinations of decompression [MPa], uncracked.
    most, by : ndarray, shape (n,)
        Maximum of them and its combination.
    across : ndarray, shape (n,)
        Maximum concrete stress across the tendon there, for information [MPa].
    increase, increase_by : ndarray, shape (n,)
        Maximum stress of the tendon under one situation over its minimum under the other [MPa], cracked section.
    range : ndarray, shape (n,)
        Range of its stress in a situation [MPa], nan without.
    """

    upper: Floats
    lower: Floats
    most: Floats
    by: Ints
    across: Floats
    increase: Floats
    increase_by: Ints
    range: Floats


def check_tendon(
    resultants: Floats, situations: list[str], prestress: Ints, h: Floats, *, height: Floats, angle: Floats,
    bars: ServiceBars, bar_angles: Floats, settings: Settings, rule: TendonRule,
) -> TendonStresses:  # fmt: skip
    """Stresses of concrete and tendon at stations along a tendon.

    Parameters
    ----------
    resultants : ndarray, shape (n, k, 8)
        Of the service combinations, in the bar directions, prestress among them [N, mm].
    situations : list of str, length k
        Situation of each.
    prestress : ndarray of int, shape (k,)
        Which combinations have the same prestress.
    h, height, angle : ndarray, shape (n,)
        Thickness, height of the axis over mid-depth [mm], direction from the x bars [rad].
    bars : ServiceBars
        Ordinary bars at the stations.
    bar_angles : ndarray, shape (n, b)
        Their directions [rad].
    settings, rule
        Materials; what is checked.

    Returns
    -------
    TendonStresses
        Arrays over the stations; nan where a cracked section has no state.

    References
    ----------
    EN 1992-1-1:2004, 7.3.1(5): decompression, the duct within concrete in compression; stresses of the uncracked
    section along the tendon. The tendon's strain is that of the cracked section at its depth, bonded, without its own
    help; combinations are held against each other where they have the same prestress.
    """
    of = np.array(situations, dtype=object)
    turned = rotate(resultants, angle[:, None])
    reach = rule.duct / 2.0 + rule.within
    edges = [np.clip(height + side * reach, -h / 2.0, h / 2.0) for side in (1.0, -1.0)]

    def stress(start: int, z: Floats, rows: Ints) -> Floats:
        n, m = turned[:, rows, start], turned[:, rows, 3 + start]
        return np.asarray(n / h[:, None] - 12.0 * m * z[:, None] / h[:, None] ** 3)

    decompressed = np.flatnonzero(of == rule.decompression)
    both = [stress(0, z, decompressed) for z in edges]
    worst = np.maximum(*both)
    by = worst.argmax(1)
    across = np.maximum(*(stress(1, z, decompressed).max(1) for z in edges))
    strain = _strains(resultants, h, height, angle, bars, bar_angles, settings)
    increase, increase_by = np.full(len(h), -np.inf), np.zeros(len(h), dtype=np.int64)
    swing = np.full(len(h), np.nan if rule.range_of is None else 0.0)
    for same in np.unique(prestress):
        base, top = (np.flatnonzero((of == s) & (prestress == same)) for s in (rule.stress_from, rule.stress_to))
        if len(base) and len(top):
            grows = strain[:, top].max(1) - strain[:, base].min(1)
            more = ~(grows <= increase)
            increase_by[more] = top[np.nan_to_num(strain[:, top]).argmax(1)][more]
            increase[more] = grows[more]
        if rule.range_of is not None and len(rows := np.flatnonzero((of == rule.range_of) & (prestress == same))):
            swing = np.maximum(swing, np.ptp(strain[:, rows], axis=1))
    return TendonStresses(
        upper=np.stack([both[0].min(1), both[0].max(1)], axis=1),
        lower=np.stack([both[1].min(1), both[1].max(1)], axis=1),
        most=worst[np.arange(len(h)), by],
        by=decompressed[by],
        across=across,
        increase=rule.E_p * increase,
        increase_by=increase_by,
        range=rule.E_p * swing,
    )


def _strains(
    resultants: Floats, h: Floats, height: Floats, angle: Floats, bars: ServiceBars, bar_angles: Floats,
    settings: Settings,
) -> Floats:  # fmt: skip
    """Strain of the cracked section along the tendon at its axis, (n, k); nan where there is no state."""
    state = cracked_section(
        resultants, h[:, None], bars.axes[:, None], bar_angles[:, None], np.nan_to_num(bars.area)[:, None],
        E_c=settings.standard.modulus(settings.concrete, 0.0), E_s=settings.steel.E_s,
    )  # fmt: skip
    strain = along(state.at(height[:, None] * np.ones(resultants.shape[1])), angle[:, None])
    return np.where(state.status == cracked.OK, strain, np.nan)
