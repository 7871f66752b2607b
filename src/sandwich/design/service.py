"""The service stage: stresses, crack width, compressed depth and minimum steel against cracking of given bars.

Every service combination is put on the cracked section with the short-term and with the long-term modulus; the worst
of both counts. Clauses come from the standard; here is only their order.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, fields, replace
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.crack_limits import width_allowed
from sandwich.design.sections import Sections, ServiceBars, sections_of
from sandwich.design.settings import Settings
from sandwich.design.ultimate import cracking_of
from sandwich.mechanics import cracked
from sandwich.mechanics.crack import along, principal
from sandwich.mechanics.superpose import superpose
from sandwich.standards.cracks import OWN_LIMIT, FirstCracks, StressLimits
from sandwich.standards.interface import Tightness

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
SIDES: Final = (1, -1)  # bottom, top
ROWS: Final = 40_000  # sections in memory at once
NO_BARS: Final = 10  # beside the codes of `cracked`: the ultimate design gives no bars to look at
BAD: Final = {
    cracked.NOT_CONVERGED: "the cracked section did not settle",
    cracked.NO_EQUILIBRIUM: "no equilibrium: tension where no bars are",
    cracked.NOT_FINITE: "resultants that are not finite numbers",
    NO_BARS: "the ultimate design fails: no bars to look at",
}


@dataclass(frozen=True)
class ServiceRule:
    """What a zone asks of its service state.

    Attributes
    ----------
    widths : dict
        Crack width allowed at the bottom and at the top by situation, each across the x and across the y bars [mm].
    creep : float
        Creep coefficient of long-term loading [-].
    load_durations : tuple of bool
        Whether the long-term state counts, for each state that is looked at.
    simplified : bool
        Whether the check without a width stands beside.
    simplified_rules : bool
        Whether that check is the rule of the standard itself, and not one of two ways.
    minimum_reinforcement : {'none', 'bending', 'tension', 'restraint'}
        How the first cracks are expected to come.
    fct_eff_ratio : float
        Tensile strength then, over f_ctm [-].
    uncracked : {'report', 'exempt'}
        Whether points that stay uncracked in every service combination need no crack width.
    imposed : bool
        Whether bars are stressed by imposed deformations alone.
    add_reinforcement : bool
        Whether steel is added where a limit is passed.
    concrete_stress, steel_stress : float
        Own limits beside those of the standard [MPa], inf without.
    """

    widths: dict[str, tuple[tuple[float, float], tuple[float, float]]]
    creep: float = 2.0
    load_durations: tuple[bool, ...] = (False, True)
    simplified: bool = True
    simplified_rules: bool = False
    minimum_reinforcement: str = "none"
    fct_eff_ratio: float = 1.0
    uncracked: str = "report"
    imposed: bool = False
    add_reinforcement: bool = False
    concrete_stress: float = np.inf
    steel_stress: float = np.inf

    def limits(self, settings: Settings, situation: str) -> StressLimits:
        """Stresses allowed in a situation: those of the standard, or the zone's own where they are less."""
        found = settings.standard.stress_limits(settings.concrete, settings.steel, situation, imposed=self.imposed)
        if self.concrete_stress < found.concrete:
            found = replace(found, concrete=self.concrete_stress, concrete_clause=OWN_LIMIT)
        if self.steel_stress < found.steel:
            found = replace(found, steel=self.steel_stress, steel_clause=OWN_LIMIT)
        return found


@dataclass(frozen=True)
class Service:
    """Results of p points; faces are bottom and top, combinations are counted in the order given, -1 for none.

    Attributes
    ----------
    status, failing : ndarray of int, shape (p,)
        OK of `cracked`, or why a point has no results, and the first combination without.
    width, limit, use : ndarray, shape (p, 2)
        Crack width and the one allowed [mm], and their ratio, where that is largest; nan where no limit is asked.
    width_by, long : ndarray, shape (p, 2)
        Combination and whether it is the long-term state.
    theta, strain, spacing, depth, stress : ndarray, shape (p, 2)
        Of that crack: direction of its normal from x [rad], mean strain across it [-], maximum spacing of cracks and
        compressed depth along the normal [mm], maximum bar stress at the face [MPa].
    simplified_demand, simplified_capacity, simplified_use : ndarray, shape (p, 2)
        The check without a width, where it is used most, with its combination `simplified_by`.
    compressed : ndarray, shape (p,)
        Depth that stays compressed in every combination that has a limit [mm].
    head : ndarray, shape (p,)
        Head of water [mm], zero where there is none.
    through : ndarray of bool, shape (p,)
        Whether cracks count as through the thickness.
    concrete, concrete_limit, concrete_use : ndarray, shape (p,)
        Compression and the one allowed [MPa], and their ratio, where that is largest (`concrete_by`, `concrete_long`).
    steel, steel_limit, steel_use, steel_layer : ndarray, shape (p,)
        The same of the bars, and the layer (`steel_by`, `steel_long`).
    cracking : ndarray, shape (p,)
        Criterion of the elastic section over all service combinations; uncracked up to zero [-].
    minimum : ndarray, shape (p, b)
        Minimum steel against cracking [mm2/mm], zero without a rule.
    """

    status: Ints
    failing: Ints
    width: Floats
    limit: Floats
    use: Floats
    width_by: Ints
    long: NDArray[np.bool_]
    theta: Floats
    strain: Floats
    spacing: Floats
    depth: Floats
    stress: Floats
    simplified_demand: Floats
    simplified_capacity: Floats
    simplified_use: Floats
    simplified_by: Ints
    compressed: Floats
    head: Floats
    through: NDArray[np.bool_]
    concrete: Floats
    concrete_limit: Floats
    concrete_use: Floats
    concrete_by: Ints
    concrete_long: NDArray[np.bool_]
    steel: Floats
    steel_limit: Floats
    steel_use: Floats
    steel_by: Ints
    steel_long: NDArray[np.bool_]
    steel_layer: Ints
    cracking: Floats
    minimum: Floats

    def cracking_use(self, rule: ServiceRule) -> Floats:
        """Use of the width, and of the check without one where that is the rule, shape (p, 2)."""
        return np.fmax(self.use, self.simplified_use) if rule.simplified_rules else self.use

    @property
    def good(self) -> NDArray[np.bool_]:
        """Points that have a service state."""
        return np.asarray(self.status == cracked.OK)


def check_service(
    cases: Floats, factors: Floats, situations: list[str], h: Floats, bars: ServiceBars, settings: Settings,
    rule: ServiceRule, *, head: Floats | None = None, turn: Floats | None = None, workers: int = 0,
    progress: Callable[[int], None] | None = None,
) -> Service:  # fmt: skip
    """Service state of all points under all service combinations.

    Parameters
    ----------
    cases : ndarray, shape (p, c, 8)
        Resultants of each case in the bar directions [N, mm].
    factors : ndarray, shape (k, c)
        Factors of the service combinations [-].
    situations : list of str, length k
        Situation of each.
    h : ndarray, shape (p,)
        Thickness [mm].
    bars : ServiceBars
        Bars that are there.
    settings, rule
        Materials and standard; what is asked.
    head : ndarray, shape (p,), optional
        Head of water [mm] where the zone holds water back.
    turn : ndarray, shape (p,), optional
        Angle from the bars of the zone to those of the top face [rad].
    workers : int
        Threads; 0 takes one a core.
    progress : callable, optional
        Called with the number of points after each block.

    Returns
    -------
    Service
        Arrays over the points; nan with a status where the section has no state.

    References
    ----------
    The cracked section by `mechanics.cracked`; clauses by the standard of the settings.
    """
    kept = np.array([s in rule.widths or s != "frequent" for s in situations], dtype=bool)
    index = np.flatnonzero(kept) if kept.any() else np.arange(len(situations))
    of = np.array(situations, dtype=object)[index]
    size = max(1, ROWS // max(len(index), 1))
    water = np.zeros(len(h)) if head is None else head
    angle = np.zeros(len(h)) if turn is None else turn

    def work(start: int) -> Service:
        at = slice(start, start + size)
        cracking = cracking_of(superpose(cases[at], factors), h[at], settings)
        combined = superpose(cases[at], factors[index])
        return _block(
            combined,
            of,
            index,
            h[at],
            bars=bars.part(at),
            settings=settings,
            rule=rule,
            head=water[at],
            turn=angle[at],
            cracking=cracking,
        )

    parts, starts = [], range(0, len(cases), size)
    with ThreadPoolExecutor(workers or os.cpu_count() or 1) as pool:
        for part in pool.map(work, starts) if len(starts) > 1 else map(work, starts):
            parts.append(part)
            if progress is not None:
                progress(len(part.status))
    return Service(**{f.name: np.concatenate([getattr(p, f.name) for p in parts]) for f in fields(Service)})


def _block(
    combined: Floats, of: NDArray[np.object_], index: Ints, h: Floats, *, bars: ServiceBars, settings: Settings,
    rule: ServiceRule, head: Floats, turn: Floats, cracking: Floats,
) -> Service:  # fmt: skip
    p, k, _ = combined.shape
    bare = ~np.isfinite(bars.area).all(1)
    bars = replace(bars, area=np.nan_to_num(bars.area))
    found = {
        long: sections_of(combined, h, bars, settings, turn, rule.creep if long else 0.0)
        for long in rule.load_durations
    }
    status = np.stack([s.state.status.reshape(p, k) for s in found.values()]).max(0)
    bad = (status > 0).any(1)
    first = (status > 0).argmax(1)
    code = np.where(bare, NO_BARS, np.where(bad, status[np.arange(p), first], cracked.OK))
    arrays = {
        "status": code, "failing": np.where(bad & ~bare, index[first], -1), "cracking": cracking, "head": head,
        **_cracks(found, of, index, h, settings=settings, rule=rule, head=head, cracking=cracking, code=code),
        **_stresses(found, of, index, h, settings, rule, code),
        "minimum": _least(found, combined, h, bars, settings, rule),
    }  # fmt: skip
    return Service(**arrays)


def _cracks(
    found: dict[bool, Sections], of: NDArray[np.object_], index: Ints, h: Floats, *, settings: Settings,
    rule: ServiceRule, head: Floats, cracking: Floats, code: Ints,
) -> dict[str, Any]:  # fmt: skip
    """Crack widths of both faces where their utilisation is largest, and what stays compressed."""
    p, standard, concrete = len(h), settings.standard, settings.concrete
    asked = np.array([s in rule.widths for s in of], dtype=bool)
    count = int(asked.sum())
    names = ("width", "limit", "use", "theta", "strain", "spacing", "depth", "stress")
    simplified_names = ("simplified_demand", "simplified_capacity", "simplified_use")
    out: dict[str, Any] = {n: np.full((p, 2), np.nan) for n in (*names, *simplified_names)}
    out |= {n: np.full((p, 2), -1) for n in ("width_by", "simplified_by")} | {"long": np.zeros((p, 2), dtype=bool)}
    out |= {"compressed": np.full(p, np.nan), "through": np.zeros(p, dtype=bool)}
    if count == 0:
        return out
    faces = {long: [s.picked(np.tile(asked, p)).face(side, settings) for side in SIDES] for long, s in found.items()}
    low, high = -h / 2.0, h / 2.0
    for bottom, top in faces.values():
        depth = [f.x.reshape(p, count).min(1) for f in (bottom, top)]
        low, high = np.maximum(low, h / 2.0 - depth[0]), np.minimum(high, -h / 2.0 + depth[1])
    out["compressed"] = np.where(code > 0, np.nan, np.maximum(high - low, 0.0))
    limit = np.tile([rule.widths[s] for s in of[asked]], (p, 1, 1, 1))
    if head.any():
        if not isinstance(standard, Tightness):
            raise ValueError(f"{standard.name} has no rule of tightness; use EN 1992-1-1:2004")
        tight, least = standard.tightness(h, head)
        out["through"] = (head > 0.0) & ~(out["compressed"] >= least) & (code == cracked.OK)
        limit = np.where(out["through"][:, None, None, None], np.minimum(limit, tight[:, None, None, None]), limit)
    spared = (cracking <= 0.0) & (rule.uncracked == "exempt")
    own, rows = index[asked], np.arange(p)
    for j in range(2):
        values: dict[str, list[Floats]] = {n: [] for n in (*names, *simplified_names)}
        for long, both in faces.items():
            face = both[j]
            allowed = width_allowed(limit[..., j, :].reshape(-1, 2), face.theta)
            width = standard.crack_width(concrete, face, long=long)
            w = np.where(np.repeat(spared, count), 0.0, width.w)
            use = np.where(np.isinf(w), np.inf, np.where(np.isinf(w), 0.0, w) / allowed)  # also where all is allowed
            most = np.where(face.bars.there, face.bars.stress, 0.0).max(1)
            for n, v in zip(
                names, (w, allowed, use, face.theta, width.strain, width.spacing, face.x, most), strict=True
            ):
                values[n].append(v.reshape(p, count))
            quick = standard.crack_check(concrete, face, allowed) if rule.simplified else None
            if quick is not None:
                asked_of = ~np.repeat(spared, count)
                held = (quick.demand * asked_of, quick.capacity, np.where(asked_of, quick.use, 0.0))
                for n, v in zip(simplified_names, held, strict=True):
                    values[n].append(v.reshape(p, count))
        joined = {n: np.concatenate(v, axis=1) for n, v in values.items() if v}
        nan = np.where(code > 0, np.nan, 1.0)
        best = np.nan_to_num(joined["use"], nan=-1.0, posinf=1e30).argmax(1)
        for n in names:
            out[n][:, j] = joined[n][rows, best] * nan
        out["width_by"][:, j] = own[best % count]
        out["long"][:, j] = np.array(rule.load_durations)[best // count]
        if "simplified_use" in joined:
            best = np.nan_to_num(joined["simplified_use"], nan=-1.0, posinf=1e30).argmax(1)
            for n in simplified_names:
                out[n][:, j] = joined[n][rows, best] * nan
            out["simplified_by"][:, j] = own[best % count]
    return out


def _stresses(
    found: dict[bool, Sections], of: NDArray[np.object_], index: Ints, h: Floats, settings: Settings,
    rule: ServiceRule, code: Ints,
) -> dict[str, Any]:  # fmt: skip
    """Stresses of concrete and bars where their utilisation is largest."""
    p, k, rows = len(h), len(of), np.arange(len(h))
    limits = [rule.limits(settings, s) for s in of]
    pressed, pulled, layers = [], [], []
    for s in found.values():
        least = np.full(p * k, np.inf)
        for side in SIDES:
            least = np.minimum(least, principal(s.state.at(side * s.h / 2.0))[1])
        pressed.append(np.maximum(-s.E_c * least, 0.0).reshape(p, k))
        stress = np.nan_to_num(s.state.bar_stress)
        pulled.append(np.maximum(stress.max(1), 0.0).reshape(p, k))
        layers.append(stress.argmax(1).reshape(p, k))
    out: dict[str, Any] = {}
    nan = np.where(code > 0, np.nan, 1.0)
    ages = np.array(list(found))
    for name, values, most in (
        ("concrete", pressed, [v.concrete for v in limits]), ("steel", pulled, [v.steel for v in limits])
    ):  # fmt: skip
        value, limit = np.concatenate(values, axis=1), np.tile(most, len(values))
        best = np.nan_to_num(value / limit, nan=-1.0).argmax(1)
        out[name] = value[rows, best] * nan
        out[f"{name}_limit"], out[f"{name}_use"] = limit[best], value[rows, best] / limit[best] * nan
        out[f"{name}_by"], out[f"{name}_long"] = index[best % k], ages[best // k]
        if name == "steel":
            out["steel_layer"] = np.concatenate(layers, axis=1)[rows, best]
    return out


def _least(
    found: dict[bool, Sections], combined: Floats, h: Floats, bars: ServiceBars, settings: Settings, rule: ServiceRule
) -> Floats:
    """Minimum steel against cracking of each layer: in bending of those that pull, in tension and restraint of all."""
    p, k, _ = combined.shape
    out = np.zeros(bars.area.shape)
    if rule.minimum_reinforcement == "none":
        return out
    there = np.isfinite(bars.axes)
    pulls = np.zeros(out.shape, dtype=bool)
    for s in found.values():
        pulls |= (np.nan_to_num(s.state.bar_stress).reshape(p, k, -1) > 1e-6).any(1)
    angles = next(iter(found.values())).angles[::k]
    widths = [min(min(v)) for v in rule.widths.values()]
    for i in range(len(settings.names)):
        n = along(combined[..., :3] * np.array([1.0, 1.0, 2.0]), angles[:, [i]])
        sigma_c = -n.max(1) / h  # the minimum compression asks for most
        first = FirstCracks(
            rule=rule.minimum_reinforcement,
            concrete=settings.concrete,
            steel=settings.steel,
            h=h,
            sigma_c=sigma_c,
            diameter=bars.diameter[:, i],
            depth=np.where(there[:, i], h / 2.0 - np.abs(bars.axes[:, i]), 0.5 * h),
            width=min(widths, default=0.3),
            part=rule.fct_eff_ratio,
        )
        out[:, i] = settings.standard.minimum_for_cracking(first)
    return np.where(there & (pulls | (rule.minimum_reinforcement != "bending")), out, 0.0)
