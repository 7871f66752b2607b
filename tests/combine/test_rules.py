"""Combinations by rule against tables worked by hand from the standards."""

import itertools
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sandwich import InputError, Section, design_points
from sandwich.combine.build import combinations_of
from sandwich.core.errors import Faults
from sandwich.core.resultants import COMPONENTS
from sandwich.job import from_dict
from sandwich.job.actions import Case

G, Q, W = {"kind": "permanent"}, {"kind": "imposed", "category": "A"}, {"kind": "wind"}
S, E, A = {"kind": "snow"}, {"kind": "seismic"}, {"kind": "accidental"}
P = {"kind": "prestress"}
EX, EY = {**E, "direction": "x"}, {**E, "direction": "y"}


def combine(cases, rules, tmp_path, live=None, **job):
    faults = Faults()
    data = {"title": "T", "input": {"resultants": "r.csv"}, "zones": {"z": {}}, "rules": rules, **job}
    kinds = {name: Case(**c) for name, c in cases.items()}
    found = combinations_of(from_dict(data, tmp_path / "job.toml"), kinds, live or {}, faults)
    faults.stop()
    return found


def lines(text):
    return sorted(line.strip() for line in text.strip().splitlines())


EN = {"code": "EN 1990:2002"}
ASCE = {"code": "ASCE 7-16"}
IS = {"code": "IS 456:2000"}
BY_HAND = {
    # (6.10): each variable action leads once, the other accompanies with psi_0 or is left out
    "EN 6.10": ({"G": G, "Q": Q, "W": W}, EN, "persistent", """
        1.35 G\n 1 G\n 1.35 G + 1.5 Q\n 1 G + 1.5 Q\n 1.35 G + 1.5 Q + 0.9 W\n 1 G + 1.5 Q + 0.9 W
        1.35 G + 1.5 W\n 1 G + 1.5 W\n 1.35 G + 1.05 Q + 1.5 W\n 1 G + 1.05 Q + 1.5 W"""),
    # 8 of (6.10a); (6.10b) with 0.85 1.35 = 1.1475: 1 G is there already
    "EN 6.10a/b": ({"G": G, "Q": Q, "W": W}, {**EN, "ultimate": "6.10a/b"}, "persistent", """
        1.35 G\n 1 G\n 1.35 G + 1.05 Q\n 1 G + 1.05 Q\n 1.35 G + 0.9 W\n 1 G + 0.9 W
        1.35 G + 1.05 Q + 0.9 W\n 1 G + 1.05 Q + 0.9 W
        1.1475 G\n 1.1475 G + 1.5 Q\n 1 G + 1.5 Q\n 1.1475 G + 1.5 Q + 0.9 W\n 1 G + 1.5 Q + 0.9 W
        1.1475 G + 1.5 W\n 1 G + 1.5 W\n 1.1475 G + 1.05 Q + 1.5 W\n 1 G + 1.05 Q + 1.5 W"""),
    "EN characteristic": ({"G": G, "Q": Q, "W": W}, EN, "characteristic",
                          "1 G\n 1 G + 1 Q\n 1 G + 1 Q + 0.6 W\n 1 G + 1 W\n 1 G + 0.7 Q + 1 W"),
    "EN frequent": ({"G": G, "Q": Q, "W": W}, EN, "frequent", "1 G\n 1 G + 0.5 Q\n 1 G + 0.2 W\n 1 G + 0.3 Q + 0.2 W"),
    "EN quasi-permanent": ({"G": G, "Q": Q, "W": W}, EN, "quasi-permanent", "1 G\n 1 G + 0.3 Q"),
    "EN accidental": ({"G": G, "Q": Q, "W": W, "A": A}, EN, "accidental",
                      "1 G + 1 A\n 1 G + 0.5 Q + 1 A\n 1 G + 0.2 W + 1 A\n 1 G + 0.3 Q + 0.2 W + 1 A"),
    # EN 1998-1, 4.3.3.5.1: each direction whole with 0.3 of the other, all signs
    "EN seismic": ({"G": G, "EX": EX, "EY": EY}, EN, "seismic", "\n".join(
        f"1 G {a} {f} EX {b} {g} EY" for f, g in ((1, 0.3), (0.3, 1)) for a in "+-" for b in "+-")),
    "EN UK wind": ({"G": G, "Q": Q, "W": W}, {**EN, "parameters": "uk"}, "characteristic",
                   "1 G\n 1 G + 1 Q\n 1 G + 1 Q + 0.5 W\n 1 G + 1 W\n 1 G + 0.7 Q + 1 W"),
    "EN Italy": ({"G": G, "S": S}, {**EN, "parameters": "it"}, "persistent", "1.3 G\n 1 G\n 1.3 G + 1.5 S\n 1 G + 1.5 S"),
    # NTC 2018, table 2.6.I: 1.5 for what is not structural
    "EN Italy, finishes": ({"G": G, "F": {**G, "category": "G2"}}, {**EN, "parameters": "it"}, "persistent",
                           "1.3 G + 1.5 F\n 1.3 G\n 1 G + 1.5 F\n 1 G"),
    "EN tank that may be empty": ({"G": G, "L": {"kind": "water"}}, EN, "persistent",
                                  "1.35 G + 1.35 L\n 1.35 G + 1 L\n 1.35 G\n 1 G + 1.35 L\n 1 G + 1 L\n 1 G"),
    "ASCE 7-16 strength": ({"D": G, "L": Q, "S": S, "W": W}, ASCE, "persistent", """
        1.4 D\n 1.2 D + 1.6 L\n 1.2 D + 1.6 L + 0.5 S\n 1.2 D + 1.6 S\n 1.2 D + 1 L + 1.6 S\n 1.2 D + 1.6 S + 0.5 W
        1.2 D + 1 W\n 1.2 D + 1 L + 1 W\n 1.2 D + 0.5 S + 1 W\n 1.2 D + 1 L + 0.5 S + 1 W\n 0.9 D + 1 W"""),
    "ASCE 7-22 strength": ({"D": G, "L": Q, "S": S, "W": W}, {**ASCE, "code": "ASCE 7-22"}, "persistent", """
        1.4 D\n 1.2 D + 1.6 L\n 1.2 D + 1.6 L + 0.3 S\n 1.2 D + 1 S\n 1.2 D + 1 L + 1 S\n 1.2 D + 1 S + 0.5 W
        1.2 D + 1 W\n 1.2 D + 1 L + 1 W\n 1.2 D + 0.3 S + 1 W\n 1.2 D + 1 L + 0.3 S + 1 W\n 0.9 D + 1 W"""),
    # S_DS = 1.0, rho = 1.3: 1.2 + 0.2 = 1.4, 0.9 - 0.2 = 0.7
    "ASCE 7-16 seismic": ({"D": G, "L": Q, "S": S, "E": E}, {**ASCE, "S_DS": 1.0, "rho": 1.3}, "seismic", "\n".join(
        [f"1.4 D{q}{s} {sign} 1.3 E" for q in ("", " + 1 L") for s in ("", " + 0.2 S") for sign in "+-"]
        + ["0.7 D + 1.3 E", "0.7 D - 1.3 E"])),
    "ASCE 7-16 allowable": ({"D": G, "L": Q, "S": S, "W": W}, ASCE, "characteristic", """
        1 D\n 1 D + 1 L\n 1 D + 1 S\n 1 D + 0.75 L + 0.75 S\n 1 D + 0.6 W\n 1 D + 0.75 L + 0.45 W
        1 D + 0.75 S + 0.45 W\n 1 D + 0.75 L + 0.75 S + 0.45 W\n 0.6 D + 0.6 W"""),
    # 0.7 E_v = 0.14 D, 0.525 E_v = 0.105 D; rho = 1.3
    "ASCE 7-22 allowable, seismic": ({"D": G, "L": Q, "S": S, "E": E}, {**ASCE, "code": "ASCE 7-22", "S_DS": 1.0, "rho": 1.3},
                                     "characteristic", "\n".join(
        ["1 D", "1 D + 1 L", "1 D + 0.7 S", "1 D + 0.75 L + 0.525 S"]
        + [line.replace("E", f"{part} E") for sign in "+-" for line, part in (
            (f"1.14 D {sign} E", 0.91), (f"0.46 D {sign} E", 0.91), (f"1.105 D + 0.75 L {sign} E", 0.6825),
            (f"1.105 D + 0.1 S {sign} E", 0.6825), (f"1.105 D + 0.75 L + 0.1 S {sign} E", 0.6825))])),
    "ASCE earth resists or adds": ({"D": G, "H": {"kind": "earth"}}, ASCE, "persistent", "1.4 D + 1.6 H\n 1.4 D + 0.9 H"),
    "IS gravity": ({"DL": G, "IL": Q}, IS, "persistent", "1.5 DL\n 1.5 DL + 1.5 IL"),
    "IS wind": ({"DL": G, "IL": Q, "WL": W}, IS, "persistent",
                "1.5 DL\n 1.5 DL + 1.5 IL\n 1.2 DL + 1.2 IL + 1.2 WL\n 1.2 DL + 1.2 WL\n 1.5 DL + 1.5 WL\n 0.9 DL + 1.5 WL"),
    "IS seismic": ({"DL": G, "IL": Q, "EX": EX, "EY": EY}, IS, "seismic", "\n".join(
        f"{d} {a} {m * f:g} EX {b} {m * g:g} EY" for d, m in (("1.2 DL + 1.2 IL", 1.2), ("1.2 DL", 1.2), ("1.5 DL", 1.5), ("0.9 DL", 1.5))
        for f, g in ((1, 0.3), (0.3, 1)) for a in "+-" for b in "+-")),
    "IS service": ({"DL": G, "IL": Q, "WL": W}, IS, "characteristic", "1 DL\n 1 DL + 1 IL\n 1 DL + 1 WL\n 1 DL + 0.8 IL + 0.8 WL\n 1 DL + 0.8 WL"),
    # stages are summed up; what starts at stage 2 acts from then on
    "stages": ({"S1": {"kind": "stage", "stage": 1}, "S2": {"kind": "stage", "stage": 2}, "Q": {**Q, "stage": 2}}, EN, "persistent", """
        1.35 S1\n 1 S1\n 1.35 S1 + 1.35 S2\n 1 S1 + 1 S2\n 1.35 S1 + 1.35 S2 + 1.5 Q\n 1 S1 + 1 S2 + 1.5 Q"""),
    # EN 1991-1-1, 3.3.1(2)P: imposed loads are one action, each with the psi of its category; H is another
    "EN imposed loads": ({"Q1": Q, "Q2": {**Q, "category": "E"}, "W": W}, {**EN, "ultimate": "6.10"}, "persistent", """
        1.5 Q1\n 1.5 Q2\n 1.5 Q1 + 1.5 Q2\n 1.5 Q1 + 0.9 W\n 1.5 Q2 + 0.9 W\n 1.5 Q1 + 1.5 Q2 + 0.9 W
        1.5 W\n 1.05 Q1 + 1.5 W\n 1.5 Q2 + 1.5 W\n 1.05 Q1 + 1.5 Q2 + 1.5 W"""),
    "EN roof": ({"Q": Q, "R": {**Q, "category": "H"}}, EN, "persistent", "1.5 Q\n 1.5 R\n 1.05 Q + 1.5 R"),
    "EN frequent of two categories": ({"Q1": Q, "Q2": {**Q, "category": "E"}}, EN, "frequent",
                                      "0.5 Q1\n 0.9 Q2\n 0.5 Q1 + 0.9 Q2"),
    # 2.3.4: T with any dead load
    "ASCE self-straining": ({"D": G, "T": {"kind": "temperature"}, "W": W}, ASCE, "persistent", """
        1.4 D\n 1.4 D + 1 T\n 1.2 D + 1 W\n 1.2 D + 1 T + 1 W\n 0.9 D + 1 W\n 0.9 D + 1 T + 1 W"""),
    "two states of prestress": ({"G": G, "P initial": P, "P final": P}, IS, "persistent",
                                "1.5 G + 1 P initial\n 1.5 G + 1 P final"),
    "directions from names": ({"G": G, "EQX": E, "Spec Y": E}, EN, "seismic", "\n".join(
        f"1 G {a} {f} EQX {b} {g} Spec Y" for f, g in ((1, 0.3), (0.3, 1)) for a in "+-" for b in "+-")),
    "patterns": ({"Q1": {**Q, "action": "live"}, "Q2": {**Q, "action": "live"}}, IS, "persistent", "1.5 Q1 + 1.5 Q2\n 1.5 Q1\n 1.5 Q2"),
}  # fmt: skip
ACTIONS = {
    "EN tank that may be empty": {"water": {"may_be_absent": True}},
    "patterns": {"live": {"arrangement": "patterns"}},
}


@pytest.mark.parametrize("name", BY_HAND)
def test_rules_equal_the_table_by_hand(name, tmp_path):
    cases, rules, situation, wanted = BY_HAND[name]
    found = combine(cases, rules, tmp_path, actions=ACTIONS.get(name, {}))
    assert sorted(r.expression for r in found.rows if r.situation == situation) == lines(wanted)
    assert len({(r.situation, r.expression) for r in found.rows}) == len(found.rows)


def test_two_winds_are_not_taken_together_and_reverse_where_they_may(tmp_path):
    both = {"actions": {"wind": {"both_ways": True}}}
    found = combine({"G": G, "WX": W, "WY": W}, EN, tmp_path, **both)
    winds = {tuple(c for c in r.factors if c != "G") for r in found.rows}
    assert winds == {(), ("WX",), ("WY",)}
    assert {"1 G - 1.5 WX", "1 G - 1.5 WY"} <= {r.expression for r in found.rows}


def test_rows_are_switched_off_and_sets_stay_apart(tmp_path):
    job = {"sets": {"soft": {"resultants": "s.csv"}}}
    cases = {"G": G, "Q": Q, "soft/G": G, "soft/Q": Q, "N": {"kind": "combined"}}
    off = ["1.35 G + 1.5 Q", "soft/P1"]
    found = combine(cases, {**EN, "sets": ["", "soft"], "excluded": off}, tmp_path, **job)
    assert all(len({c.rpartition("/")[0] for c in r.factors}) == 1 for r in found.rows)
    assert [r.expression for r in found.rows if not r.designed] == ["1.35 G + 1.5 Q", "1.35 soft/G"]
    assert len(found.ultimate().rows) == 4 + 4 + 1 - 2
    frame = found.frame()
    assert frame.loc[~frame["designed"], "combination"].tolist() == ["P3", "soft/P1"]
    own = tmp_path / "own.toml"
    own.write_text("[gamma]\npermanent = [1.2, 0.9]\n[psi]\nwind = [0.8, 0.5, 0.2]\n")
    found = combine({"G": G, "W": W, "Q": Q}, {**EN, "parameters": "own.toml"}, tmp_path)
    assert {"0.9 G + 1.5 Q + 1.2 W", "1.2 G", "1 G + 0.2 W"} <= {
        r.expression.replace("1.2 W + 1.5 Q", "1.5 Q + 1.2 W") for r in found.rows
    }


@pytest.mark.parametrize(
    ("cases", "rules", "job", "words"),
    [
        ({"G": {}}, EN, {}, ["case 'G' has no kind", '"unused" keeps it out']),
        ({"G": G, "Q": {"kind": "imposed"}}, EN, {}, ["'Q' of kind imposed has no psi", "A, B, C"]),
        ({"G": G, "R": {"kind": "rain"}}, EN, {}, ["'R' of kind rain has no psi"]),
        ({"D": G, "E": E}, ASCE, {}, ["seismic cases and no S_DS"]),
        ({"G": G}, {**EN, "excluded": ["P9"]}, {}, ["no combination is 'P9'"]),
        ({"G": G}, {**EN, "parameters": "none.toml"}, {}, ["no shipped set and no TOML file", "recommended, at, de"]),
        ({"G": G}, EN, {"actions": {"wind": {}}}, ["actions.wind: no case belongs to it"]),
        ({"G": G, "H": {**Q, "action": "permanent"}}, EN, {}, ["differ in kind"]),
        ({f"Q{i}": Q for i in range(9)}, {**EN, "max_combinations": 100}, {}, ["more than 100 combinations", "arrangement"]),
        ({f"Q{i}": Q for i in range(26)}, EN, {}, ["26 cases in any pattern", "up to 12"]),
        ({"P1": P, "P2": P}, EN, {}, ["'P1' may be one state of several", "arrangement = 'exclusive'"]),
        ({"G": G}, EN, {"combinations": [{"name": "P1", "situation": "seismic", "factors": {"G": 1.0}}]}, ["'P1' is also the name"]),
        ({"N": {"kind": "combined"}, "G": G}, EN, {"combinations": [{"name": "U", "situation": "seismic", "factors": {"N": 1.0, "G": 1.0}}]},
         ["adds to or scales 'N'"]),
        ({"G": G}, {**EN, "situations": ["frequent"]}, {}, ["no combination of an ultimate situation"]),
    ],
)  # fmt: skip
def test_what_rules_cannot_combine_is_said(cases, rules, job, words, tmp_path):
    with pytest.raises(InputError) as error:
        combine(cases, rules, tmp_path, **job)
    for word in words:
        assert word in str(error.value)


def test_sign_patterns_cover_everything_between(tmp_path):
    """Any signs and parts of two unsigned cases need no more steel than the envelope over the patterns."""
    rng = np.random.default_rng(3)
    static = np.array([-200.0, -150, 30, 20e3, -15e3, 8e3, 20, 10])
    size = {"EX": np.array([120.0, 60, 80, 30e3, 12e3, 0, 15, 0]), "EY": np.array([40.0, 150, 50, 9e3, 33e3, 0, 5, 0])}
    kinds = {"G": G} | {c: {**E, "direction": c[1].lower(), "signed": False} for c in size}
    live = {c: {n for n, v in zip(COMPONENTS, m, strict=True) if v} for c, m in size.items()}
    found = combine(kinds, EN, tmp_path, live)
    seismic = [r for r in found.rows if r.situation == "seismic"]
    assert len(seismic) == 2 * 2**6  # two main directions; mxy and vy are zero
    assert set(found.frame()["sign patterns"]) == {1, 64}
    columns = np.array(
        [static if c.case == "G" else size[c.case] * (np.array(COMPONENTS) == c.component) for c in found.columns]
    )
    combined = found.factors[[r.situation == "seismic" for r in found.rows]] @ columns
    section = Section(250.0)
    envelope = design_points(combined[None], section, situation="seismic").ultimate.a_s
    for main, other in itertools.permutations(size):
        whole = size[main] + 0.3 * size[other]
        trials = static + rng.uniform(-1, 1, (400, 8)) * whole
        assert np.all(design_points(trials, section, situation="seismic").ultimate.a_s <= envelope + 1e-9)


@given(st.lists(st.floats(-10.0, 10.0), min_size=6, max_size=6))
@settings(max_examples=60)
def test_the_greatest_effect_is_that_of_the_closed_form(values):
    """EN 1990, (6.10): each source of permanent load by itself, the best leading action, others where they add."""
    kinds = {"G": G, "H": {"kind": "earth"}, "Q": Q, "S": S, "WX": W, "WY": W}
    found = combine(kinds, EN, Path(), actions={"wind": {"both_ways": True}})
    effects = found.factors @ np.array(values)
    of = [e for e, r in zip(effects, found.rows, strict=True) if r.situation == "persistent"]
    assert max(of) == pytest.approx(closed_form(values), rel=1e-9, abs=1e-9)
    assert min(of) == pytest.approx(-closed_form([-v for v in values]), rel=1e-9, abs=1e-9)


def closed_form(values):
    """Maximum effect: the best leading action, others with psi_0 where they add."""
    g, earth, q, snow, wx, wy = values
    variable = {"Q": (q, 0.7), "S": (snow, 0.5), "W": (max(abs(wx), abs(wy)), 0.6)}
    leads = [
        1.5 * (v + sum(p * max(o, 0.0) for m, (o, p) in variable.items() if m != n)) for n, (v, _) in variable.items()
    ]
    return max(1.35 * g, g) + max(1.35 * earth, earth) + max(0.0, *leads)
