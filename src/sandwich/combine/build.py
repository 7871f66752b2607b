"""All combinations of a job: listed ones, those of rules, and sign patterns of results without signs."""

from __future__ import annotations

import itertools
from dataclasses import replace
from typing import Final

from sandwich.combine.actions import actions_of
from sandwich.combine.asce7 import asce7
from sandwich.combine.en1990 import en1990, load_parameters
from sandwich.combine.is456 import is456
from sandwich.combine.rules import Rule, rows_of
from sandwich.combine.table import GIVEN, Combinations, Row, unsigned_columns
from sandwich.core.errors import Faults
from sandwich.core.resultants import COMPONENTS
from sandwich.job import Job
from sandwich.job.actions import Case, Rules

OWN: Final = {  # settings of the rules that one code alone takes
    "EN": ("parameters", "ultimate", "accidental_lead", "snow_altitude"),
    "ASCE": ("live_companion", "S_DS", "rho", "Omega_0"),
}
OF_EN: Final = ("frequent", "quasi-permanent")  # situations that the others do not have
LEFT_OUT: Final = {"plate": ("nx", "ny", "nxy"), "membrane": ("mx", "my", "mxy")}


def combinations_of(
    job: Job, kinds: dict[str, Case], live: dict[str, set[str]], faults: Faults, *, to_design: bool = True
) -> Combinations:
    """The combinations of a job over the columns of its store.

    Parameters
    ----------
    job : Job
        With listed combinations, rules or both.
    kinds : dict
        What each case is.
    live : dict
        For each case without signs, the components that are anywhere more than zero.
    faults : Faults
        Notes combinations that name no case or add to a combined one, and that none is ultimate.
    to_design : bool
        Whether an ultimate one is needed.

    Returns
    -------
    Combinations
        Listed ones first, then combined cases, then those of the rules in the order of their clauses.
    """
    rows = [*_listed(job, kinds, faults), *_combined(job, kinds)]
    if job.rules is not None:
        _refuse_unused(job, job.rules, faults)
        for name in job.rules.sets:
            rows += _ruled(job, job.rules, name, kinds, faults)
    rows = _switched(rows, job, faults)
    rows = [r for row in rows for r in _patterns(row, kinds, live, job)]
    columns = unsigned_columns({c: kind.signed is not False for c, kind in kinds.items()})
    found = Combinations(tuple(rows), columns)
    if to_design and not found.ultimate().names and not faults.found:
        remedy = "list one that is persistent, accidental or seismic, or let [rules] make them"
        faults.add(str(job.path), "no combination of an ultimate situation", remedy)
    return found


def _listed(job: Job, kinds: dict[str, Case], faults: Faults) -> list[Row]:
    rows = []
    for k, c in enumerate(job.combinations):
        where = f"{job.path}, combinations[{k}] '{c.name}'"
        factors: dict[str, float] = {}
        for name, factor in c.factors.items():
            case = f"{c.result_set}/{name}" if c.result_set and "/" not in name else name
            if case not in kinds:
                own = [n for n in kinds if n.startswith(f"{c.result_set}/")] if c.result_set else kinds
                faults.add(where, f"names case '{case}', which has no results", f"there are {', '.join(own)}")
                continue
            factors[case] = factor
            if kinds[case].kind == "combined" and (len(c.factors) > 1 or factor != 1.0):
                found = f"adds to or scales '{case}', which is combined already"
                faults.add(where, found, f"use {{ {name} = 1.0 }} alone")
        sets = {n.partition("/")[0] if n.partition("/")[0] in job.sets else "" for n, f in factors.items() if f}
        if len(sets) > 1:
            found = f"adds cases of {len(sets)} result sets: {', '.join(n or 'the main one' for n in sorted(sets))}"
            faults.add(where, found, "use cases of one analysis")
        rows.append(Row(c.name, c.situation, {n: factors[n] for n in kinds if n in factors}, designed=c.designed))
    return rows


def _combined(job: Job, kinds: dict[str, Case]) -> list[Row]:
    """Cases that are combined already, each as it is, unless a listed combination names it."""
    listed = {c.result_set + "/" * bool(c.result_set) + n for c in job.combinations for n in c.factors}
    return [
        Row(name, case.situation or "persistent", {name: 1.0}, GIVEN)
        for name, case in kinds.items()
        if case.kind == "combined" and name not in listed
    ]


def _refuse_unused(job: Job, rules: Rules, faults: Faults) -> None:
    """Note settings of the rules, and situations, that their code does not have."""
    code = rules.code.split()[0]
    job.refuse_unused(("rules",), itertools.chain(*OWN.values()), OWN.get(code, ()), rules.code, faults)
    for situation in (s for s in rules.situations if s in OF_EN and code != "EN"):
        faults.add(f"{job.path}, rules.situations", f"{rules.code} has no {situation} combinations", "take it out")


def _ruled(job: Job, rules: Rules, name: str, kinds: dict[str, Case], faults: Faults) -> list[Row]:
    """Combinations of one result set by rule."""
    own = {c: k for c, k in kinds.items() if (c.rpartition("/")[0] if job.sets else "") == name}
    where = str(job.path)
    count = len(faults.found)
    actions = actions_of(own, job.actions, rules.orthogonal, where, faults)
    of: list[Rule]
    if rules.code.startswith("EN"):
        parameters = load_parameters(rules.parameters, job.folder, where, faults)
        of = list(en1990(actions, parameters, rules, where, faults))
    elif rules.code.startswith("ASCE"):
        of = list(asce7(actions, rules, where, faults))
    else:
        of = list(is456(actions, rules))
    if len(faults.found) > count:
        return []
    return rows_of(of, kinds, rules.max_combinations, f"{name}/" if name else "", f"{where}, rules", faults)


def _switched(rows: list[Row], job: Job, faults: Faults) -> list[Row]:
    """Rows the job switches off by name or expression are kept and not designed."""
    off = job.rules.excluded if job.rules else ()
    known = {key for r in rows for key in (r.name, r.expression)}
    for wanted in off:
        if wanted not in known:
            remedy = "use a name or an expression of the table of combinations"
            faults.add(f"{job.path}, rules.excluded", f"no combination is '{wanted}'", remedy)
    names: dict[str, int] = {}
    for r in rows:
        names[r.name] = names.get(r.name, 0) + 1
    for name in (n for n, count in names.items() if count > 1):
        faults.add(f"{job.path}, combinations", f"'{name}' is also the name of a combination by rule", "rename it")
    return [replace(r, designed=False) if {r.name, r.expression} & set(off) else r for r in rows]


def _patterns(row: Row, kinds: dict[str, Case], live: dict[str, set[str]], job: Job) -> list[Row]:
    """A row for each set of signs its unsigned cases may have together.

    The magnitudes of all unsigned cases of a row are added with one sign a component: what lies between is covered,
    because what steel can carry is convex. Components that are zero, or that no zone looks at, need one sign only.
    """
    unsigned = [c for c, f in row.factors.items() if f and kinds[c].signed is False]
    if not unsigned:
        return [row]
    methods = {z.method for z in job.zones.values()}
    idle = set(COMPONENTS).intersection(*(LEFT_OUT.get(m, ()) for m in methods))
    used = [c for c in COMPONENTS if c not in idle and any(c in live.get(case, ()) for case in unsigned)]
    out = []
    for i, signs in enumerate(itertools.product((1, -1), repeat=len(used))):
        whole = {**dict.fromkeys(COMPONENTS, 1), **dict(zip(used, signs, strict=True))}
        shown = {c: whole[c] for c in COMPONENTS}
        out.append(replace(row, name=f"{row.name} signs {i + 1}", signs=shown, base=row.name))
    return out
