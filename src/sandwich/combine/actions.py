"""Actions: cases that belong together, and the ways in which they act."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from typing import Final

from sandwich.errors import Faults
from sandwich.job.actions import Action, Arrangement, Case

PERMANENT: Final = ("permanent", "stage", "earth", "water", "settlement", "prestress")
VARIABLE: Final = ("imposed", "roof", "wind", "snow", "rain", "temperature")
_ONE_ACTION: Final = ("permanent", "stage", "earth", "water", "prestress", "wind", "snow", "rain", "temperature",
                      "seismic", "accidental")  # fmt: skip
_EXCLUSIVE: Final = ("wind", "snow", "rain", "temperature", "accidental", "seismic")
Way = dict[str, float]  # multiplier by case


@dataclass(frozen=True)
class Acting:
    """An action and its ways of acting; `stage` is the construction stage each way stands for, or starts at."""

    name: str
    kind: str
    category: str
    ways: tuple[Way, ...]
    stages: tuple[int, ...]
    may_be_absent: bool


def actions_of(
    kinds: dict[str, Case], declared: dict[str, Action], orthogonal: float, where: str, faults: Faults
) -> list[Acting]:
    """Actions of all cases that rules combine, in the order of their first cases.

    Parameters
    ----------
    kinds : dict
        Cases of one result set.
    declared : dict
        What the job says of actions by name.
    orthogonal : float
        Part of a seismic direction that accompanies another [-].
    where : str
        Job file, for messages.
    faults : Faults
        Notes cases without a kind and actions of several kinds.

    Returns
    -------
    list of Acting
        With every way in which the cases of each act together.

    References
    ----------
    EN 1990:2002, 6.4.3.1; EN 1998-1:2004, 4.3.3.5.1(3).
    """
    members: dict[str, list[str]] = {}
    for name, case in kinds.items():
        if case.kind is None:
            remedy = f'write [cases."{name}"] kind = "..."; "unused" keeps it out of the rules'
            faults.add(where, f"case '{name}' has no kind, and rules combine by kind", remedy)
        elif case.kind not in ("combined", "unused"):
            members.setdefault(case.action or (case.kind if case.kind in _ONE_ACTION else name), []).append(name)
    for name in sorted(set(declared) - set(members)):
        faults.add(f"{where}, actions.{name}", "no case belongs to it", f"there are {', '.join(members)}")
    out = []
    for name, cases in members.items():
        first = kinds[cases[0]]
        for other in cases[1:]:
            if (kinds[other].kind, kinds[other].category) != (first.kind, first.category):
                found = f"'{other}' and '{cases[0]}' differ in kind or category"
                faults.add(f"{where}, action '{name}'", found, "give them actions of their own")
        out.append(_acting(name, cases, kinds, declared.get(name, Action()), orthogonal))
    return out


def _acting(name: str, cases: list[str], kinds: dict[str, Case], said: Action, orthogonal: float) -> Acting:
    first = kinds[cases[0]]
    kind = str(first.kind)
    start = max((kinds[c].stage or 0 for c in cases), default=0)
    if kind == "stage":
        ways, stages = _stages(cases, kinds)
        return Acting(name, kind, "", ways, stages, may_be_absent=False)
    arrangement: Arrangement = said.arrangement or ("exclusive" if kind in _EXCLUSIVE else "together")
    if kind == "seismic" and said.arrangement is None and all(kinds[c].direction for c in cases):
        ways = _directions(cases, kinds, orthogonal)
    elif arrangement == "together":
        ways = (dict.fromkeys(cases, 1.0),)
    elif arrangement == "exclusive":
        ways = tuple({c: 1.0} for c in cases)
    else:
        subsets = itertools.chain.from_iterable(itertools.combinations(cases, k) for k in range(len(cases), 0, -1))
        ways = tuple(dict.fromkeys(s, 1.0) for s in subsets)
    both = said.both_ways if said.both_ways is not None else kind == "seismic"
    if both:
        ways = tuple(w for way in ways for w in _both(way, kinds))
    absent = said.may_be_absent if said.may_be_absent is not None else kind in VARIABLE
    ways = _different(ways)
    return Acting(name, kind, first.category or "", ways, (start,) * len(ways), may_be_absent=absent)


def _stages(cases: list[str], kinds: dict[str, Case]) -> tuple[tuple[Way, ...], tuple[int, ...]]:
    """Increments summed up to each stage."""
    stages = sorted({kinds[c].stage or 1 for c in cases})
    ways = tuple({c: 1.0 for c in cases if (kinds[c].stage or 1) <= stage} for stage in stages)
    return ways, tuple(stages)


def _directions(cases: list[str], kinds: dict[str, Case], orthogonal: float) -> tuple[Way, ...]:
    """One direction whole and the others in part, any signs; unsigned cases have none here."""
    by: dict[str, list[str]] = {}
    for c in cases:
        by.setdefault(str(kinds[c].direction), []).append(c)
    ways = []
    for main in by:
        for chosen in itertools.product(*by.values()):
            sized = {c: 1.0 if kinds[c].direction == main else orthogonal for c in chosen}
            others = [c for c in chosen if kinds[c].direction != main and kinds[c].signed is not False]
            for signs in itertools.product((1.0, -1.0), repeat=len(others) if orthogonal else 0):
                turned = dict(zip(others, signs, strict=False))
                ways.append({c: f * turned.get(c, 1.0) for c, f in sized.items() if f})
    return tuple(ways)


def _both(way: Way, kinds: dict[str, Case]) -> list[Way]:
    """A way and its reverse; magnitudes without signs have no reverse of their own."""
    if all(kinds[c].signed is False for c in way):
        return [way]
    return [way, {c: f if kinds[c].signed is False else -f for c, f in way.items()}]


def _different(ways: tuple[Way, ...]) -> tuple[Way, ...]:
    return tuple(dict(w) for w in dict.fromkeys(tuple(w.items()) for w in ways))
