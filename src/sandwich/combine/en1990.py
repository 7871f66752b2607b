"""Combinations of EN 1990:2002, 6.4.3 and 6.5.3, with national psi and gamma from data files."""

from __future__ import annotations

import tomllib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import Any, Final

from sandwich.combine.actions import PERMANENT, VARIABLE, Acting
from sandwich.combine.rules import Rule, Term, optional
from sandwich.core.errors import Faults
from sandwich.job.actions import Rules

SERVICE: Final = ("characteristic", "frequent", "quasi-permanent")
_SHIPPED: Final = ("recommended", "at", "de", "fr", "it", "uk")


NOT_STRUCTURAL: Final = "G2"  # category of permanent loads that are not structural, where an annex has one


@dataclass(frozen=True)
class Parameters:
    """Partial and combination factors of one country or project.

    Attributes
    ----------
    name : str
        Whose values they are.
    gamma : dict
        Kind -> factors of an unfavourable and a favourable action [-]; "variable" for all variable kinds.
    gamma_service : dict
        The same in service situations, where they are not 1.
    xi : float
        Reduction of unfavourable permanent actions in 6.10b [-].
    psi : dict
        Category or kind -> psi_0, psi_1, psi_2 [-].
    """

    name: str
    gamma: dict[str, tuple[float, ...]]
    gamma_service: dict[str, tuple[float, ...]]
    xi: float
    psi: dict[str, tuple[float, ...]]


def load_parameters(name: str, folder: Path, where: str, faults: Faults) -> Parameters:
    """Parameters of a shipped set, or of a TOML file of the user's own over the recommended values."""
    base = _shipped("recommended")
    own: dict[str, Any] = {}
    if name in _SHIPPED:
        own = _shipped(name)
    else:
        try:
            own = tomllib.loads((folder / name).read_text("utf-8"))
        except (OSError, ValueError) as error:
            found = f"'{name}' is no shipped set and no TOML file ({str(error).splitlines()[0]})"
            faults.add(f"{where}, rules.parameters", found, f"use one of {', '.join(_SHIPPED)} or a file")
    merged: dict[str, Any] = {}
    for section in ("gamma", "gamma_service", "xi", "psi"):
        given = own.get(section, {})
        known = {*base[section], f"permanent {NOT_STRUCTURAL}", *(PERMANENT if section.startswith("gamma") else ())}
        length = {"gamma": 2, "gamma_service": 2, "psi": 3, "xi": 1}[section]
        for key, value in given.items():
            numbers = value if isinstance(value, list) else [value]
            if key not in known and section != "psi":
                faults.add(f"{name}, {section}.{key}", "is not known", f"use one of {', '.join(sorted(known))}")
            elif len(numbers) != length or not all(isinstance(v, (int, float)) and 0.0 <= v < 10.0 for v in numbers):
                faults.add(f"{name}, {section}.{key}", f"found {value}", f"give {length} factor(s) of zero or more")
        merged[section] = {**base[section], **given}
    unknown = sorted(set(own) - {"name", "source", "gamma", "gamma_service", "xi", "psi"})
    if unknown:
        faults.add(f"{name}, {unknown[0]}", "is not known", "use gamma, gamma_service, xi or psi")
    return Parameters(
        own.get("name", name), merged["gamma"], merged["gamma_service"], merged["xi"]["permanent"], merged["psi"]
    )


def _shipped(name: str) -> dict[str, Any]:
    file = files("sandwich.standards").joinpath("parameters", "en1990", f"{name}.toml")
    return tomllib.loads(file.read_text("utf-8"))


def _finishes(a: Acting) -> bool:
    return NOT_STRUCTURAL in a.category.values()


def psi_of(
    acting: Acting, parameters: Parameters, rules: Rules, where: str, faults: Faults
) -> dict[str, Sequence[float]]:
    """psi_0, psi_1, psi_2 of a variable action by category: Table A1.1, else by kind."""
    out: dict[str, Sequence[float]] = {}
    for case in dict.fromkeys(c for way in acting.ways for c in way):
        category = acting.category.get(case, "")
        key = category or {"roof": "H"}.get(acting.kind, acting.kind)
        if key == "snow" and rules.snow_altitude == "above 1000 m":
            key = "snow_high"
        if key not in parameters.psi and category not in out:
            remedy = f"give it a category: one of {', '.join(k for k in parameters.psi if len(k) == 1)} (Table A1.1)"
            faults.add(where, f"case '{case}' of kind {acting.kind} has no psi", remedy)
        out[category] = parameters.psi.get(key, (0.0, 0.0, 0.0))
    return out


def en1990(actions: list[Acting], parameters: Parameters, rules: Rules, where: str, faults: Faults) -> Iterator[Rule]:
    """Rules of EN 1990 for some actions.

    Parameters
    ----------
    actions : list of Acting
        Actions of one result set.
    parameters : Parameters
        Partial and combination factors [-].
    rules : Rules
        Options of the job.
    where : str
        For messages.
    faults : Faults
        Notes variable actions without psi.

    Yields
    ------
    Rule
        (6.10) or (6.10a) and (6.10b), (6.11b), (6.12b), (6.14b), (6.15b), (6.16b).

    References
    ----------
    EN 1990:2002, 6.4.3.2, 6.4.3.3, 6.4.3.4, 6.5.3; A1.3.1.
    """
    permanent = [a for a in actions if a.kind in PERMANENT]
    variable = [a for a in actions if a.kind in VARIABLE]
    psi = {a.name: psi_of(a, parameters, rules, where, faults) for a in variable}
    gamma_q = parameters.gamma["variable"][0]

    def lasting(gamma: dict[str, tuple[float, ...]], xi: float = 1.0) -> list[Term]:
        out = []
        for a in permanent:
            usual = gamma.get(a.kind, (1.0, 1.0))
            above, below = gamma.get(f"{a.kind} {NOT_STRUCTURAL}", usual) if _finishes(a) else usual
            out.append((a, optional(a, (xi * above if a.kind not in {"settlement", "prestress"} else above, below))))
        return out

    def reduced_by(a: Acting, i: int) -> Acting:
        """An action with psi_i on each of its cases."""
        return a.weighted(lambda category: psi[a.name][category][i])

    def accompany(lead: Acting | None, i: int, gamma: float, lead_i: int | None) -> list[Term]:
        """Variable actions: the leading one always, whole or by a psi of its own, the others by psi_i if they act."""
        out: list[Term] = []
        for a in variable:
            if a is lead:
                out.append((a if lead_i is None else reduced_by(a, lead_i), (gamma,)))
            else:
                out.append((reduced_by(a, i), optional(a, (gamma,))))
        return out

    leads: list[Acting | None] = [None, *variable]
    wanted = rules.situations or ("persistent", "accidental", "seismic", *SERVICE)
    ones: dict[str, tuple[float, ...]] = {"settlement": (1.0, 0.0)}
    if "persistent" in wanted:
        usual, reduced = lasting(parameters.gamma), lasting(parameters.gamma, parameters.xi)
        if rules.ultimate == "6.10a/b":
            yield Rule("(6.10a)", "persistent", (*usual, *accompany(None, 0, gamma_q, None)))
        for lead in leads:
            led = _led(accompany, lead, 0, gamma_q, None)
            if rules.ultimate == "6.10":
                yield Rule("(6.10)", "persistent", (*usual, *led))
            else:
                yield Rule("(6.10b)", "persistent", (*reduced, *led))
    alone = lasting(ones)
    if "accidental" in wanted:
        i = 1 if rules.accidental_lead == "frequent" else 2
        for event in (a for a in actions if a.kind == "accidental"):
            for lead in leads:
                yield Rule("(6.11b)", "accidental", (*alone, (event, (1.0,)), *_led(accompany, lead, 2, 1.0, i)))
    if "seismic" in wanted:
        for event in (a for a in actions if a.kind == "seismic"):
            yield Rule("(6.12b)", "seismic", (*alone, (event, (1.0,)), *accompany(None, 2, 1.0, None)))
    service = lasting({**ones, **parameters.gamma_service})
    for situation, clause, lead_psi, psi_i in (
        ("characteristic", "(6.14b)", None, 0), ("frequent", "(6.15b)", 1, 2),
    ):  # fmt: skip
        if situation in wanted:
            for lead in leads:
                yield Rule(clause, situation, (*service, *_led(accompany, lead, psi_i, 1.0, lead_psi)))
    if "quasi-permanent" in wanted:
        yield Rule("(6.16b)", "quasi-permanent", (*service, *accompany(None, 2, 1.0, None)))


def _led(accompany: Any, lead: Acting | None, i: int, gamma: float, main: int | None) -> list[Term]:
    """Variable terms behind a leading action; without one, only those that cannot be absent."""
    if lead is not None:
        return list(accompany(lead, i, gamma, main))
    return [(a, f if not a.may_be_absent else (0.0,)) for a, f in accompany(None, i, gamma, main)]
