"""Bars of a job that cannot be: layers that do not exist, rules without bars, what does not go with radial bars."""

from __future__ import annotations

import math
from typing import Final

import numpy as np

from sandwich.core.errors import Faults
from sandwich.design.bar_sets import ParallelBars, arrangements
from sandwich.job import Job
from sandwich.job.bars import CLEAR
from sandwich.model.inside import inside
from sandwich.model.plan import Plan
from sandwich.project.zone_input import ZoneInput
from sandwich.standards.interface import Standard
from sandwich.work.bars import all_provided, in_plan, largest_bar, rule_of, rules_of
from sandwich.work.layout import layer_plan, plan_at

ASKEW: Final = 1e-6  # sine of twice the angle to the x bars


def check_bars(job: Job, zones: list[ZoneInput], standard: Standard, faults: Faults) -> None:
    """Note layers that are given bars and do not exist, and rules that leave no bar to choose."""
    for z in zones:
        _check_rule(job, z, standard, faults)
        names = z.zone.bars.layers().names(z.zone.faces.bottom, z.zone.faces.top)
        there = np.asarray(np.isfinite(z.zone.bars.layers().axes(z.h)).all(0))
        known = [n for n, t in zip(names, there, strict=True) if t]
        plan = plan_at(z) if z.zone.layout is not None or any(e.along for e in z.zone.additional) else ""
        if isinstance(plan, str) and plan:
            what = "layout" if z.zone.layout is not None else "additional"
            faults.add(f"{job.path}, zones.{z.name}.{what}", f"the zone cannot be laid flat: {plan}",
                       "give polygons in additional instead")  # fmt: skip
        _check_fan(job, z, plan, faults)
        for i, extra in enumerate(z.zone.additional):
            where = f"{job.path}, zones.{z.name}.additional, {i + 1}"
            if extra.layer not in known:
                _no_layer(where, extra.layer, known, faults)
                continue
            if extra.along is not None:
                if not isinstance(plan, str) and not in_plan(z, extra, plan).at.any():
                    faults.add(where, "its rectangle holds no point of the zone", "give places of the zone in m")
                continue
            polygon = np.array(extra.polygon, dtype=float)
            if np.isfinite(z.xyz).all() and not inside(z.xyz / 1e3, polygon, extra.within).any():
                faults.add(where, "its polygon holds no point of the zone", "give places on the zone in m")
        minimum = z.zone.limits.minimum_steel if z.zone.limits is not None else {}
        for layer in minimum if isinstance(minimum, dict) else ():
            if layer not in known:
                _no_layer(f"{job.path}, zones.{z.name}.limits.minimum_steel", layer, known, faults)
        for layer in z.zone.provided:
            if layer not in known:
                _no_layer(f"{job.path}, zones.{z.name}.provided", layer, known, faults)


def _check_rule(job: Job, z: ZoneInput, standard: Standard, faults: Faults) -> None:
    settings = z.settings(standard)
    rule, where, thin = rule_of(z, settings), f"{job.path}, zones.{z.name}.rule", float(z.h.min())
    if rule is None or all_provided(z, settings):
        return
    if not [d for d in rule.diameters if d <= max(rule.spacings, default=math.inf) - rule.clear]:
        own = largest_bar(z, thin)
        limit = f" with bars up to {own:.3g} mm by limits.bar_ratio" if math.isfinite(own) else ""
        faults.add(where, f"none of its bars fits a thickness of {thin:g} mm{limit}", "name thinner bars")
    elif not rule.spacings:
        found = f"none of its spacings is allowed at a thickness of {thin:g} mm by {standard.name}"
        faults.add(where, found, "give a smaller spacing_min")
    for name, own in zip(settings.names, rules_of(z, rule, settings), strict=True):
        if rule.diameters and rule.spacings and not arrangements(own):
            found = f"none of its bars keeps {rule.clear:g} mm in layer {name}, radial bars at half their spacing"
            faults.add(where, found, "give a larger spacing_max")


def _check_fan(job: Job, z: ZoneInput, plan: Plan | str, faults: Faults) -> None:
    """Note what does not go with bars that are askew or run from a middle."""
    where, symmetric = f"{job.path}, zones.{z.name}", z.zone.layout is not None and z.zone.layout.symmetric != "none"
    askew = bool((np.abs(np.sin(2.0 * z.zone.bars.layers().angles)) > ASKEW).any())
    if symmetric and askew:
        faults.add(f"{where}.layout.symmetric", "goes with bars along x and y, and some are askew", "take it out")
    plan = plan_at(z) if plan == "" and z.surface is not None else plan
    if isinstance(plan, str) or plan.fan is None:
        return
    if symmetric:
        faults.add(f"{where}.layout.symmetric", "goes with bars that keep one direction", "take it out")
    if askew and z.zone.layout is not None:
        found = "goes with radial bars and bars round their middle, and some are askew"
        faults.add(f"{where}.layout", found, "give polygons in additional instead")
    _check_radial(where, z, plan, faults)


def _check_radial(where: str, z: ZoneInput, plan: Plan, faults: Faults) -> None:
    """Note radial bars of the job that come too near each other."""
    layers = z.zone.bars.layers()
    angles = dict(zip(layers.names(z.zone.faces.bottom, z.zone.faces.top), layers.angles.tolist(), strict=True))
    given = [(f"provided, {name}", name, ParallelBars(b.diameter, b.spacing)) for name, b in z.zone.provided.items()]
    given += [
        (f"additional, {i + 1}", e.layer, ParallelBars(e.diameter, e.spacing))
        for i, e in enumerate(z.zone.additional) if e.along is not None
    ]  # fmt: skip
    for key, layer, bars in given:
        way = layer_plan(plan, angles[layer]).way if layer in angles else None
        between = bars.spacing / 2.0 - bars.diameter
        if way is not None and way.outer and not way.along and between < CLEAR:
            found = f"radial bars at half of {bars.spacing:g} mm leave {between:g} mm of concrete between them"
            faults.add(f"{where}.{key}", found, f"{CLEAR:g} mm or more is wanted")


def _no_layer(where: str, layer: str, known: list[str], faults: Faults) -> None:
    faults.add(where, f"no layer '{layer}'", f"there are {', '.join(known)}")
