"""Warnings about cases: what no combination has, magnitudes without signs, directions of earthquakes, winds."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.combine.actions import direction_of
from sandwich.core.on_disc import unload
from sandwich.core.records import WarningNote
from sandwich.project.project import Project

Floats = NDArray[np.float64]
SPECTRAL: Final = ("spectrum", "spectral", "srss", "cqc", "antwortspektr", "spectre")


def cases(project: Project) -> Iterator[WarningNote]:
    """Cases in no combination, without signs or without a direction; combinations that are open."""
    results, rows = project.results, project.combinations.rows
    for fault in project.open:
        yield WarningNote("combinations", fault.found, fault.where, fault.remedy)
    used = {c for row in rows for c, f in row.factors.items() if f}
    idle = [c for c in results.cases if c not in used and results.kinds[c].kind not in ("unused", "mode")] + [
        *results.unread
    ]
    if idle:
        yield WarningNote(
            "cases", "not every case is in a combination", f"in none: {', '.join(idle)}", "a case without a kind"
        )
    if not project.combinations.ultimate().names:
        yield WarningNote("combinations", "nothing is designed", "no combination of an ultimate situation", "")
    for name, case in results.kinds.items():
        unload()
        i = results.cases.index(name)
        values = results.corner[i] if results.mesh is not None else results.point[i]
        if len(values) and not np.nan_to_num(values).any():
            yield WarningNote(
                f"case {name}", "all its results are zero", f"{len(values)} elements or points", "no load, or no export"
            )
        if case.signs_from:
            yield WarningNote(
                f"case {name}",
                "takes the signs of one mode, which is not conservative",
                f"signs of {case.signs_from}",
                "",
            )
        elif case.signed is False and _mixed(values):
            yield WarningNote(
                f"case {name}", "is said to have no signs and has negative values", "they are taken as magnitudes",
                "a case with signs, or the signs of one mode",
            )  # fmt: skip
        elif case.signed is False:
            patterns = sum(1 for r in rows if r.signs and name in r.factors)
            yield WarningNote(
                f"case {name}",
                "has no signs",
                f"{patterns} sign patterns are combined with it; it is turned only "
                "by multiples of 90 degrees or bounded",
                "a modal combination",
            )
        elif case.signed is None and (why := _like_magnitudes(values, case.description or "")):
            yield WarningNote(
                f"case {name}",
                "may be magnitudes without signs, and is combined as if it had signs",
                why,
                f'a spectrum or an envelope: [cases."{name}"] signed = false; true where it has signs',
                grave=True,
            )
    yield from _earthquakes(project)
    asked = project.job.rules.situations if project.job.rules is not None else ()
    for situation in asked:
        if not any(r.situation == situation for r in rows):
            yield WarningNote(
                "combinations", f"no {situation} combination", "the rules ask for it", "no case of its kind"
            )
    bare = [n for n, c in results.kinds.items() if c.kind == "permanent" and not c.category]
    if project.job.rules and project.job.rules.code.startswith("EN") and project.job.rules.parameters == "it" and bare:
        yield WarningNote(
            "actions", "permanent loads that are not structural take 1.5 in Italy, and no category tells them",
            f"cases {', '.join(bare)} take 1.3",
            '[cases.NAME] category = "G2" of finishes and partitions, "G1" of others', grave=True,
        )  # fmt: skip
    winds = [n for n, c in results.kinds.items() if c.kind == "wind"]
    if project.job.rules and winds and not any(a.both_ways is not None for a in project.job.actions.values()):
        yield WarningNote(
            "actions",
            "wind acts as given and is not reversed",
            f"cases {', '.join(winds)}",
            "one case for both ways; [actions.wind] both_ways = true adds the other",
        )


def _mixed(values: Floats) -> bool:
    """Whether a component has both signs; a sign convention turns all values of one alike."""
    each = np.nan_to_num(values).reshape(-1, values.shape[-1])
    return bool(((each < 0.0).any(0) & (each > 0.0).any(0)).any())


def _like_magnitudes(values: Floats, description: str) -> str:
    """Why a case that is not declared may have no signs."""
    word = next((w for w in SPECTRAL if w in description.lower()), "")
    if word:
        return f"its description says '{word}'"
    each = np.nan_to_num(values).reshape(-1, values.shape[-1])
    some = (each != 0.0).any(0)
    groups = (each[:, :3], each[:, 3:6], each[:, 6:])  # a sign convention turns membrane forces, moments, shear
    if some.sum() >= 3 and len(each) >= 8 and all((g >= 0.0).all() or (g <= 0.0).all() for g in groups):
        return f"{some.sum()} components that never change sign at {len(each)} places"
    return ""


def _earthquakes(project: Project) -> Iterator[WarningNote]:
    """Seismic cases whose directions are guessed, or that have none and act one at a time."""
    if project.job.rules is None:
        return
    for of in project.job.rules.sets:
        cases = {
            n: c for n, c in project.results.kinds.items()
            if c.kind == "seismic" and (n.rpartition("/")[0] if project.job.sets else "") == of
        }  # fmt: skip
        told = {n: direction_of(n, c) for n, c in cases.items()}
        said = project.job.actions.get("seismic")
        if len(cases) < 2 or (said is not None and said.arrangement is not None):
            continue
        bare = [n for n, d in told.items() if d is None]
        if bare:
            part = project.job.rules.orthogonal
            yield WarningNote(
                "actions", "seismic cases act one at a time: some have no direction", f"cases {', '.join(bare)}",
                f'[cases.NAME] direction = "x", then the other directions accompany it with {part:g}',
                grave=True,
            )  # fmt: skip
        elif any(c.direction is None for c in cases.values()):
            guess = ", ".join(f"{n} along {d}" for n, d in told.items() if cases[n].direction is None)
            yield WarningNote(
                "actions", "directions of seismic cases are guessed from their names", guess,
                'nothing where they are right; [cases.NAME] direction = "x" says so',
            )  # fmt: skip
