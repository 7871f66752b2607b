"""Combinations of IS 456:2000, Table 18, with the seismic combinations of IS 1893 (Part 1):2016, 6.3."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from sandwich.combine.actions import PERMANENT, Acting
from sandwich.combine.rules import Rule, Term, optional
from sandwich.job.actions import Rules

IMPOSED: Final = ("imposed", "roof", "snow", "rain", "temperature")


def is456(actions: list[Acting], rules: Rules) -> Iterator[Rule]:
    """Rules of IS 456 for some actions.

    Parameters
    ----------
    actions : list of Acting
        Actions of one result set: dead (also earth, water, prestress, settlement), imposed (also roof, snow, rain,
        temperature), wind, seismic.
    rules : Rules
        Situations that are wanted.

    Yields
    ------
    Rule
        1.5 (DL + IL), 1.2 (DL + IL + WL or EL), 1.5 (DL + WL or EL), 0.9 DL + 1.5 (WL or EL); in service
        DL + IL, DL + WL or EL, DL + 0.8 IL + 0.8 (WL or EL).

    Notes
    -----
    Wind and earthquake are not taken together (IS 875 (Part 3):2015, 4; IS 1893 (Part 1):2016, 6.1.5). An accidental
    case takes 1.0 with DL and 0.35 IL (IS 875 (Part 5):1987, 8.1).

    References
    ----------
    IS 456:2000, 36.4.1, Table 18; IS 1893 (Part 1):2016, 6.3.1, 6.3.2.2, 6.3.4.1.
    """
    wanted = rules.situations or ("persistent", "accidental", "seismic", "characteristic")
    table = "Table 18"
    if "persistent" in wanted:
        yield _rule(actions, table, "persistent", 1.5, 0.0)
        yield _rule(actions, table, "persistent", 1.5, 1.5)
    if "characteristic" in wanted:
        yield _rule(actions, table, "characteristic", 1.0, 1.0)
    for event in actions:
        situation = {"wind": "persistent", "seismic": "seismic"}.get(event.kind)
        if situation in wanted:
            clause = table if event.kind == "wind" else "IS 1893-1, 6.3.1"
            for dead, imposed, factor in ((1.2, 1.2, 1.2), (1.5, 0.0, 1.5), (0.9, 0.0, 1.5)):
                yield _rule(actions, clause, str(situation), dead, imposed, event, factor)
        if situation is not None and "characteristic" in wanted:
            for imposed, factor in ((0.0, 1.0), (0.8, 0.8)):
                yield _rule(actions, table, "characteristic", 1.0, imposed, event, factor)
        if event.kind == "accidental" and "accidental" in wanted:
            yield _rule(actions, "IS 875-5, 8.1", "accidental", 1.0, 0.35, event, 1.0)


def _rule(
    actions: list[Acting],
    clause: str,
    situation: str,
    dead: float,
    imposed: float,
    event: Acting | None = None,
    factor: float = 0.0,
) -> Rule:
    terms: list[Term] = []
    for a in actions:
        if a is event:
            terms.append((a, (factor,)))
        elif a.kind == "prestress":
            terms.append((a, (1.0,)))
        elif a.kind == "settlement":
            terms.append((a, (dead, 0.0)))
        elif a.kind in PERMANENT:
            terms.append((a, optional(a, (dead,))))
        elif a.kind in IMPOSED:
            terms.append((a, optional(a, (imposed,))))
    return Rule(clause, situation, tuple(terms))
