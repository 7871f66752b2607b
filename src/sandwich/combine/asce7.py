"""Combinations of ASCE 7-16 and ASCE 7-22, chapter 2: strength, extraordinary events, allowable stress."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from sandwich.combine.actions import Acting
from sandwich.combine.rules import Rule, Term, optional
from sandwich.core.errors import Faults
from sandwich.job.actions import Rules

_LETTER: Final = {
    "permanent": "D", "stage": "D", "prestress": "P", "settlement": "T", "temperature": "T", "earth": "H",
    "water": "F", "imposed": "L", "roof": "Lr", "snow": "S", "rain": "R", "wind": "W", "seismic": "E",
    "accidental": "A",
}  # fmt: skip
_Factors = dict[str, float]
_Line = tuple[str, _Factors, tuple[str, ...]]  # clause, factor by letter, groups of letters that must act


def asce7(actions: list[Acting], rules: Rules, where: str, faults: Faults) -> Iterator[Rule]:
    """Rules of ASCE 7 for some actions.

    Parameters
    ----------
    actions : list of Acting
        Actions of one result set.
    rules : Rules
        Edition, S_DS, rho, Omega_0, factor of the companion live load.
    where : str
        For messages.
    faults : Faults
        Notes a missing S_DS.

    Yields
    ------
    Rule
        Strength (2.3.1, 2.3.6, 2.5.2) as ultimate situations, allowable stress (2.4.1, 2.4.5) as characteristic.

    Notes
    -----
    Fluids take the factor of dead load and may be drained where the job says so; earth takes 1.6 where it adds and
    0.9 where it resists (2.3.1), 1.0 and 0.6 in allowable stress (2.4.1); self-straining loads take 1.0 where they
    add, with any dead load (2.3.4, 2.4.4). Prestress takes 1.0.

    References
    ----------
    ASCE/SEI 7-16 and 7-22, 2.3, 2.4, 2.5, 12.4.2, 12.4.3.
    """
    events = [a for a in actions if a.kind == "seismic"]
    if events and rules.S_DS is None:
        faults.add(f"{where}, rules", "seismic cases and no S_DS", "write S_DS, the design spectral acceleration in g")
    wanted = rules.situations or ("persistent", "accidental", "seismic", "characteristic")
    lines: list[tuple[str, list[_Line]]] = []
    if "persistent" in wanted:
        lines.append(("persistent", _strength(rules)))
    if "seismic" in wanted:
        lines.append(("seismic", _seismic_strength(rules)))
    if "accidental" in wanted:
        snow = 0.15 if rules.code.endswith("22") else 0.2
        both = ({"D": dead, "A": 1.0, "L": 0.5, "S": snow} for dead in (1.2, 0.9))
        lines.append(("accidental", [("2.5.2.2", line, ("A",)) for line in both]))
    if "characteristic" in wanted:
        lines.append(("characteristic", [*_allowable(rules), *_seismic_allowable(rules)]))
    for situation, of in lines:
        for clause, factors, must in of:
            groups = tuple(tuple(a.name for a in actions if _LETTER[a.kind] in letters.split("/")) for letters in must)
            if all(groups):
                yield Rule(clause, situation, tuple(_terms(actions, factors, rules, situation)), groups)


def _terms(actions: list[Acting], factors: _Factors, rules: Rules, situation: str) -> Iterator[Term]:
    """Each action with the factors one line gives it."""
    dead, allowable = factors["D"], situation == "characteristic"
    scale = rules.rho if rules.Omega_0 is None else rules.Omega_0
    for a in actions:
        letter = _LETTER[a.kind]
        if letter == "D":
            yield a, (dead,)
        elif letter == "P":
            yield a, (1.0,)
        elif letter == "F":
            yield a, optional(a, (dead,))
        elif letter == "H":
            yield a, optional(a, (1.0, 0.6) if allowable else (1.6, 0.9))
        elif letter == "T":
            yield a, (1.0, 0.0)
        elif letter == "E":
            yield a, (factors.get("E", 0.0) * scale, 0.0)
        else:
            yield a, (factors.get(letter, 0.0), 0.0)


def _either(clause: str, line: _Factors, roof: _Factors, must: tuple[str, ...], *, leads: bool = False) -> list[_Line]:
    """A line with one of Lr, S and R, which must act where it leads."""
    return [(clause, {**line, letter: factor}, (*must, letter) if leads else must) for letter, factor in roof.items()]


def _strength(rules: Rules) -> list[_Line]:
    newer = rules.code.endswith("22")
    main = {"Lr": 1.6, "S": 1.0 if newer else 1.6, "R": 1.6}
    other = {"Lr": 0.5, "S": 0.3 if newer else 0.5, "R": 0.5}
    live = rules.live_companion
    return [
        ("2.3.1 (1)", {"D": 1.4}, ()),
        *_either("2.3.1 (2)", {"D": 1.2, "L": 1.6}, other, ("L",)),
        *_either("2.3.1 (3)", {"D": 1.2, "L": live}, main, (), leads=True),
        *_either("2.3.1 (3)", {"D": 1.2, "W": 0.5}, main, (), leads=True),
        *_either("2.3.1 (4)", {"D": 1.2, "W": 1.0, "L": live}, other, ("W",)),
        ("2.3.1 (5)", {"D": 0.9, "W": 1.0}, ("W",)),
    ]


def _seismic_strength(rules: Rules) -> list[_Line]:
    vertical = 0.2 * (rules.S_DS or 0.0)
    snow = 0.15 if rules.code.endswith("22") else 0.2
    live = rules.live_companion
    return [
        ("2.3.6 (6)", {"D": 1.2 + vertical, "E": 1.0, "L": live, "S": snow}, ("E",)),
        ("2.3.6 (7)", {"D": 0.9 - vertical, "E": 1.0}, ("E",)),
    ]


def _allowable(rules: Rules) -> list[_Line]:
    snow = 0.7 if rules.code.endswith("22") else 1.0
    whole = {"Lr": 1.0, "S": snow, "R": 1.0}
    part = {k: 0.75 * v for k, v in whole.items()}
    return [
        ("2.4.1 (1)", {"D": 1.0}, ()),
        ("2.4.1 (2)", {"D": 1.0, "L": 1.0}, ("L",)),
        *_either("2.4.1 (3)", {"D": 1.0}, whole, (), leads=True),
        *_either("2.4.1 (4)", {"D": 1.0, "L": 0.75}, part, ("L",), leads=True),
        ("2.4.1 (5)", {"D": 1.0, "W": 0.6}, ("W",)),
        *_either("2.4.1 (6)", {"D": 1.0, "L": 0.75, "W": 0.45}, part, ("W", "L/Lr/S/R")),
        ("2.4.1 (7)", {"D": 0.6, "W": 0.6}, ("W",)),
    ]


def _seismic_allowable(rules: Rules) -> list[_Line]:
    vertical = 0.2 * (rules.S_DS or 0.0)
    snow = 0.1 if rules.code.endswith("22") else 0.75
    return [
        ("2.4.5 (8)", {"D": 1.0 + 0.7 * vertical, "E": 0.7}, ("E",)),
        ("2.4.5 (9)", {"D": 1.0 + 0.525 * vertical, "E": 0.525, "L": 0.75, "S": snow}, ("E", "L/S")),
        ("2.4.5 (10)", {"D": 0.6 - 0.7 * vertical, "E": 0.7}, ("E",)),
    ]
