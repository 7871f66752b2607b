"""What all codes share: a rule is a list of actions with the factors each may take; combinations are the product."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Final

from sandwich.combine.actions import Acting
from sandwich.combine.table import Row
from sandwich.core.errors import Faults
from sandwich.job.actions import Case

LETTERS: Final = {
    "persistent": "P", "accidental": "A", "seismic": "E",
    "characteristic": "C", "frequent": "F", "quasi-permanent": "Q",
}  # fmt: skip
Term = tuple[Acting, tuple[float, ...]]


@dataclass(frozen=True)
class Rule:
    """One expression of a code.

    Attributes
    ----------
    clause, situation : str
        Where it stands, and the situation it is for.
    terms : tuple
        Each action with the factors it may take; 0 leaves it out.
    must : tuple of tuple of str
        Groups of actions of which at least one acts.
    """

    clause: str
    situation: str
    terms: tuple[Term, ...]
    must: tuple[tuple[str, ...], ...] = ()


def rows_of(
    rules: Iterable[Rule], kinds: dict[str, Case], most: int, prefix: str, where: str, faults: Faults
) -> list[Row]:
    """Combinations of all rules; two equal rows of factors of one situation are one.

    Parameters
    ----------
    rules : iterable of Rule
        Of one code.
    kinds : dict
        All cases, for the order of the terms.
    most : int
        Maximum number of combinations; more are a fault.
    prefix : str
        Put before every name, for a further result set.
    where : str
        For messages.
    faults : Faults
        Notes that there are too many.

    Returns
    -------
    list of Row
        Named by the letter of the situation and a number.
    """
    seen: dict[tuple[object, ...], Row] = {}
    count: dict[str, int] = {}
    for rule in rules:
        for factors in _expand(rule):
            ordered = {c: round(factors[c], 12) for c in kinds if factors.get(c)}
            key = (rule.situation, *ordered.items())
            if not ordered or key in seen:
                continue
            count[rule.situation] = count.get(rule.situation, 0) + 1
            name = f"{prefix}{LETTERS[rule.situation]}{count[rule.situation]}"
            seen[key] = Row(name, rule.situation, ordered, rule.clause)
            if len(seen) > most:
                remedy = (
                    "let cases act together or exclusively: [actions.NAME] arrangement; or raise rules.max_combinations"
                )
                faults.add(where, f"the rules make more than {most} combinations", remedy)
                return list(seen.values())
    return list(seen.values())


def _expand(rule: Rule) -> Iterator[dict[str, float]]:
    """All products of factors and ways; what starts at a later stage than the one that stands is left out."""
    choices = []
    for acting, factors in rule.terms:
        options: list[tuple[Acting, float, dict[str, float], int]] = []
        for factor in dict.fromkeys(factors):
            if factor == 0.0:
                options.append((acting, 0.0, {}, 0))
            else:
                ways = zip(acting.ways, acting.stages, strict=True)
                options += [(acting, factor, way, stage) for way, stage in ways]
        choices.append(options)
    for picked in itertools.product(*choices):
        standing = [stage for acting, _, _, stage in picked if acting.kind == "stage"]
        late = standing and any(stage > min(standing) for acting, f, _, stage in picked if acting.kind != "stage" and f)
        acts = {acting.name for acting, f, _, _ in picked if f}
        if late or not all(acts & set(group) for group in rule.must):
            continue
        total: dict[str, float] = {}
        for _, f, way, _ in picked:
            for case, multiplier in way.items():
                total[case] = total.get(case, 0.0) + f * multiplier
        yield total


def optional(acting: Acting, factors: tuple[float, ...]) -> tuple[float, ...]:
    """Factors of an action, and zero where it may be absent."""
    return (*factors, 0.0) if acting.may_be_absent else factors
