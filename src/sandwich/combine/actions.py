"""Actions: cases that belong together, and the ways in which they act."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Final

from sandwich.core.errors import Faults
from sandwich.job.actions import Action, Arrangement, Case

PERMANENT: Final = ("permanent", "stage", "earth", "water", "settlement", "prestress")
VARIABLE: Final = ("imposed", "roof", "wind", "snow", "rain", "temperature")
_ONE_ACTION: Final = ("permanent", "stage", "earth", "water", "prestress", "wind", "snow", "rain", "temperature",
                      "seismic", "accidental", "imposed", "roof")  # fmt: skip
_PATTERNS: Final = ("imposed", "roof")
_MOST_PATTERNS: Final = 12  # cases of one action: 4095 patterns
_STATES: Final = {
    "initial": ("initial", "transfer", "before losses", "at t0", "t=0", "jacking"),
    "final": ("final", "infinity", "after losses", "long term", "long-term", "t=inf", "all losses"),
}  # words of a case that say which state of prestress it is
_AXIS: Final = re.compile(
    r"(?:^|[^a-z])(?:along|direction|dir\.?|in|richtung|global)?\s*[+-]?([xyz])(?:[^a-z]|$)|(?:^|[^a-z])"
    r"(?:e|eq|s|sp|spec|rs|rsa|mrs|q|seis|ex)[ _-]?([xyz])(?:[^a-z]|$)"
)
_EXCLUSIVE: Final = ("wind", "snow", "rain", "temperature", "accidental", "seismic")
Way = dict[str, float]  # multiplier by case


@dataclass(frozen=True)
class Acting:
    """An action and its ways of acting; `stage` is the construction stage each way stands for, or starts at.

    `category` has that of each case that has one.
    """

    name: str
    kind: str
    category: dict[str, str]
    ways: tuple[Way, ...]
    stages: tuple[int, ...]
    may_be_absent: bool

    def weighted(self, factor: Callable[[str], float]) -> Acting:
        """The same with each case taken by a factor of its category."""
        by = {case: factor(self.category.get(case, "")) for way in self.ways for case in way}
        return replace(self, ways=tuple({c: v * by[c] for c, v in way.items()} for way in self.ways))


def direction_of(name: str, case: Case) -> str | None:
    """Direction of a seismic case: declared, else the one that its name or description tells."""
    if case.direction:
        return case.direction
    for text in (name.rpartition("/")[2], case.description or ""):
        axes = {a or b for a, b in _AXIS.findall(text.lower())}
        if len(axes) == 1:
            return str(axes.pop())
    return None


def prestress_state(name: str, case: Case) -> str | None:
    """'initial' or 'final', where name or description of a case of prestress tell."""
    text = f" {name} {case.description or ''} ".lower()
    found = [state for state, words in _STATES.items() if any(w in text for w in words)]
    return found[0] if len(found) == 1 else None


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

    Notes
    -----
    Imposed loads are one action beside others, in any pattern of its cases; those of roofs (category H) another.

    References
    ----------
    EN 1990:2002, 6.4.3.1; EN 1991-1-1:2002, 3.3.1(2)P; EN 1998-1:2004, 4.3.3.5.1(3).
    """
    members: dict[str, list[str]] = {}
    for name, case in kinds.items():
        if case.kind is None:
            remedy = f'write [cases."{name}"] kind = "..."; "unused" keeps it out of the rules'
            faults.add(where, f"case '{name}' has no kind, and rules combine by kind", remedy)
        elif case.kind not in ("combined", "unused", "mode"):
            usual = case.kind if case.kind in _ONE_ACTION else name
            if case.kind == "imposed" and case.category == "H":
                usual = "roof"
            if case.kind == "permanent" and case.category == "G2":
                usual = "permanent G2"
            members.setdefault(case.action or usual, []).append(name)
    for name in sorted(set(declared) - set(members)):
        faults.add(f"{where}, actions.{name}", "no case belongs to it", f"there are {', '.join(members) or 'none'}")
    out = []
    for name, cases in members.items():
        first = kinds[cases[0]]
        for other in cases[1:]:
            roofs = {kinds[c].kind if kinds[c].category != "H" else "roof" for c in (other, cases[0])}
            if len(roofs) > 1:
                found = f"'{other}' and '{cases[0]}' differ in kind"
                faults.add(f"{where}, action '{name}'", found, "give them actions of their own")
        said = declared.get(name, Action())
        if first.kind == "prestress" and len(cases) > 1 and said.arrangement is None:
            lost = [c for c in cases if prestress_state(c, kinds[c]) is None]
            if lost:
                found = f"'{lost[0]}' may be one state of several, or a part of one"
                how = "'exclusive' for states (initial, final), 'together' for parts of one"
                remedy = f"write [actions.{name}] arrangement = {how}"
                faults.add(f"{where}, action '{name}'", found, remedy)
        if len(cases) > _MOST_PATTERNS and _arrangement(first, said) == "patterns":
            found = f"{len(cases)} cases in any pattern"
            remedy = f"use up to {_MOST_PATTERNS}; join cases, or write [actions.{name}] arrangement = 'together'"
            faults.add(f"{where}, action '{name}'", found, remedy)
            continue
        out.append(_acting(name, cases, kinds, said, orthogonal))
    return out


def _arrangement(first: Case, said: Action) -> Arrangement:
    """How the cases of an action act where the job does not say."""
    if said.arrangement is not None:
        return said.arrangement
    if first.kind in _PATTERNS:
        return "patterns"
    return "exclusive" if first.kind in (*_EXCLUSIVE, "prestress") else "together"


def _acting(name: str, cases: list[str], kinds: dict[str, Case], said: Action, orthogonal: float) -> Acting:
    first = kinds[cases[0]]
    kind = str(first.kind)
    category = {c: str(kinds[c].category) for c in cases if kinds[c].category}
    if kind == "stage":
        ways, stages = _stages(cases, kinds)
        return Acting(name, kind, category, ways, stages, may_be_absent=False)
    arrangement = _arrangement(first, said)
    if kind == "prestress" and arrangement == "exclusive" and said.arrangement is None:
        ways = _states(cases, kinds)
    elif kind == "seismic" and said.arrangement is None and all(direction_of(c, kinds[c]) for c in cases):
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
    starts = tuple(max(kinds[c].stage or 0 for c in way) for way in ways)
    return Acting(name, kind, category, ways, starts, may_be_absent=absent)


def _states(cases: list[str], kinds: dict[str, Case]) -> tuple[Way, ...]:
    """States of prestress that exclude each other, the cases of one state together."""
    by: dict[str | None, Way] = {}
    for c in cases:
        by.setdefault(prestress_state(c, kinds[c]), {})[c] = 1.0
    return tuple(by.values())


def _stages(cases: list[str], kinds: dict[str, Case]) -> tuple[tuple[Way, ...], tuple[int, ...]]:
    """Increments summed up to each stage."""
    stages = sorted({kinds[c].stage or 1 for c in cases})
    ways = tuple({c: 1.0 for c in cases if (kinds[c].stage or 1) <= stage} for stage in stages)
    return ways, tuple(stages)


def _directions(cases: list[str], kinds: dict[str, Case], orthogonal: float) -> tuple[Way, ...]:
    """One direction whole and the others in part, any signs; unsigned cases have none here."""
    by: dict[str, list[str]] = {}
    for c in cases:
        by.setdefault(str(direction_of(c, kinds[c])), []).append(c)
    ways = []
    for lead in by.values():
        for chosen in itertools.product(*by.values()):
            sized = {c: 1.0 if c in lead else orthogonal for c in chosen}
            others = [c for c in chosen if c not in lead and kinds[c].signed is not False]
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
