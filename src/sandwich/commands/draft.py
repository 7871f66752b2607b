"""A job drafted from the files of an export: every guess stands there with a comment that says so."""

from __future__ import annotations

import json
import os
import tomllib
from pathlib import Path
from typing import Any, Final

import numpy as np
import pandas as pd

from sandwich.commands.draft_columns import columns_of
from sandwich.core.errors import Faults, InputError
from sandwich.job import from_dict
from sandwich.job.source import Table
from sandwich.model.mesh import Mesh, diagonal_normals
from sandwich.tables.assemble import Tables, read_main
from sandwich.tables.cases import clean
from sandwich.tables.guess import Guess, look, tables_in
from sandwich.tables.meshing import mesh_of
from sandwich.tables.read import ReadTable, read_table

_WORDS: Final = {
    "permanent": (
        "self",
        "dead",
        "weight",
        "permanent",
        "finish",
        "roof load",
        "eigen",
        "ständig",
        "sw",
        "dl",
        "g",
        "g1",
        "g2",
    ),
    "imposed": ("live", "imposed", "traffic", "surcharge", "verkehr", "überlast", "il", "ll", "q", "q1", "q2"),
    "wind": ("wind", "wx", "wy", "wl"),
    "snow": ("snow", "schnee"),
    "earth": ("earth", "soil", "backfill", "erddruck"),
    "water": ("water", "fluid", "liquid", "ground water", "wasser"),
    "temperature": ("temp", "thermal", "shrink"),
    "settlement": ("settle",),
    "prestress": ("prestress", "tendon"),
    "seismic": ("seismic", "quake", "eq", "ex", "ey", "spectrum"),
    "accidental": ("accident", "impact", "fire", "explosion"),
}
_GROUPS: Final = 8  # more of them become zones by their planes
_ORDER: Final = (
    "nodes", "elements", "axes", "properties", "assignments", "cases", "resultants", "reactions", "nodal_forces",
)  # fmt: skip
_USUAL: Final = {
    "length": "m", "thickness": "m", "membrane": "kN/m", "moment": "kN*m/m", "shear": "kN/m", "force": "kN",
    "couple": "kN*m",
}  # fmt: skip


def draft(folder: Path, files: list[Path]) -> str:
    """Text of a job for the files of an export.

    Parameters
    ----------
    folder : Path
        Folder of the job; paths are written relative to it.
    files : list of Path
        Tables, workbooks or a mesh file, or a folder of them.

    Returns
    -------
    str
        TOML that loads, each guess with a comment.

    Raises
    ------
    InputError
        If a file cannot be read, or none of them holds results.
    """
    faults = Faults()
    found = [g for path in files for file in tables_in(path, faults) for g in look(file, faults)]
    told: dict[str, Guess] = {}
    odd: list[Guess] = []
    for g in found:
        if g.kind in told or not g.kind:
            odd.append(g)
        else:
            told[g.kind] = g
    if not faults.found and not {"resultants", "mesh"} & set(told):
        remedy = "use one with case, element, node, nx ny nxy, mx my mxy, vx vy; see sandwich new for the names"
        faults.add(", ".join(str(f) for f in files), "no table of resultants can be told", remedy)
    faults.stop()
    head = _input(folder, told, odd)
    zones, cases = _zones_and_cases(folder, head, told.get("members"))
    return "\n".join([*head, *zones, *cases, *_END]) + "\n"


def _text(value: str) -> str:
    return json.dumps(value, ensure_ascii=False)


def _name(folder: Path, path: Path) -> str:
    try:
        return Path(os.path.relpath(path.resolve(), folder.resolve())).as_posix()
    except ValueError:  # another drive
        return path.resolve().as_posix()


def _input(folder: Path, told: dict[str, Guess], odd: list[Guess]) -> list[str]:
    """The part of the input."""
    out = [
        "# A job drafted from an export. Every name, unit and sign is a guess until you have looked at it:",
        "# read the comments, then run: sandwich inspect",
        'title = "New job"',
        "",
        "[input]",
        '# missing = "leave out"        # rows that are missing or hold no number: "stop" names them and stops',
    ]
    if "mesh" in told:
        out.append(f"mesh = {_text(_name(folder, told['mesh'].path))}  # guess: mesh with results in its arrays")
    unit_of: dict[str, str] = {}
    for g in told.values():
        for quantity, unit in g.units.items():
            unit_of.setdefault(quantity, unit)
    out += ["", "[input.units]"]
    for quantity, usual in _USUAL.items():
        seen = quantity in unit_of
        why = "found in the files" if seen else "guess: nothing in the files says so"
        out.append(f"{quantity} = {_text(unit_of.get(quantity, usual))}  # {why}")
    out += ["", "[input.signs]  # tension is positive"]
    words = ("sign ", "tension", "positive")
    lines = [line for g in told.values() for line in g.above if "decimal" not in line.lower()]
    signs = [line for line in lines if any(w in line.lower() for w in words)]
    out += [f"# the files say: {line}" for line in dict.fromkeys(signs)]
    out += [
        'positive_moment_tension = "bottom"  # guess: the face a positive moment puts in tension; -z is the bottom',
        'negate = []  # guess: components the source counts the other way round, such as ["vx", "vy"]',
    ]
    for kind, g in sorted(told.items(), key=lambda item: _ORDER.index(item[0]) if item[0] in _ORDER else 0):
        if kind in ("mesh", "members"):
            continue
        out += ["", f"[input.{kind}]  # guess: this table holds {kind}", f"file = {_text(_name(folder, g.path))}"]
        if g.sheets:
            out.append(f"sheets = [{', '.join(map(_text, g.sheets))}]")
        if g.sheet and kind == "resultants" and "case" not in g.columns:
            out.append('case_from = "sheet"  # guess: a sheet a case')
        if kind == "resultants" and g.at in ("nodes", "centres"):
            out.append(f'at = "{g.at}"  # guess: no column of {"elements" if g.at == "nodes" else "nodes"}')
        own = {q: u for q, u in g.units.items() if u != unit_of.get(q)}
        if own:
            out.append(f"units = {{ {', '.join(f'{q} = {_text(u)}' for q, u in own.items())} }}  # found in the file")
        names = {h: c for h, c in g.columns.items() if h != c}
        if names:
            out.append(f"[input.{kind}.columns]  # guess: house name = column of the table")
            out += [f"{h} = {_text(c)}" for h, c in names.items()]
    if "members" in told:
        out += ["", f"# members of frames: {_name(folder, told['members'].path)}; columns below are told from it"]
    out += ["", *(f"# not used, what it holds cannot be told: {_name(folder, g.path)} {g.sheet}".rstrip() for g in odd)]
    return out


def _zones_and_cases(folder: Path, head: list[str], members: Guess | None) -> tuple[list[str], list[str]]:
    """Zones by group or as a whole, and cases by their names, as far as the tables can be read."""
    data = tomllib.loads("\n".join(head)) | {"zones": {"all": {"all": True}}}
    faults = Faults()
    tables: Tables = {}
    mesh: Mesh | None = None
    try:
        job = from_dict(data, folder / "job.toml")
        tables = read_main(job, faults)
        mesh = mesh_of(tables, faults) if job.has_mesh else None
    except InputError as error:
        faults.found += error.faults
    frames = None
    if members is not None:
        table = Table(file=_name(folder, members.path), sheets=tuple(members.sheets), columns=members.columns)
        frames = read_table(folder, table, "members", "members of frames", {}, set(), faults)
    told = [f"# reading stops at: {f}" for f in faults.found[:20]]
    results = tables.get("resultants")
    names = clean(results.frame["case"], {}) if results is not None else pd.Series(dtype=str)
    return [*told, *_zones(mesh, tables.get("reactions"), frames)], _cases(list(dict.fromkeys(names)), tables)


def _zones(mesh: Mesh | None, reactions: ReadTable | None, members: ReadTable | None) -> list[str]:
    groups = sorted(set(mesh.group.tolist())) if mesh is not None else []
    if mesh is None or len(groups) < 2 or "" in groups:
        return _zone("all", "all = true  # guess: one zone of all elements", mesh, None, reactions, members)
    named, why = {name: [name] for name in groups}, "a zone a group"
    if len(groups) > _GROUPS:
        named, why = _by_plane(mesh, groups), "groups of one direction"
    out = []
    for name, of in named.items():
        holds = f"groups = [{', '.join(map(_text, of))}]  # guess: {why}"
        out += _zone(name, holds, mesh, np.isin(mesh.group, of), reactions, members)
    return out


def _by_plane(mesh: Mesh, groups: list[str]) -> dict[str, list[str]]:
    """Groups of floors, and of walls that stand in one direction, by names of zones."""
    normal = diagonal_normals(mesh.xyz, mesh.corners)
    normal /= np.linalg.norm(normal, axis=1, keepdims=True)
    out: dict[str, list[str]] = {}
    for group in groups:
        of = normal[mesh.group == group]
        flat = np.abs(of[:, 2])
        azimuth = np.round(np.degrees(np.arctan2(of[:, 1], of[:, 0])) / 10.0) * 10.0 % 180.0
        name = "mixed"
        if (flat > 0.9).all():
            name = "floors"
        elif (flat < 0.3).all() and np.ptp(azimuth) == 0.0:
            name = {0.0: "walls across x", 90.0: "walls across y"}.get(azimuth[0], f"walls at {azimuth[0]:g}")
        out.setdefault(name, []).append(group)
    return dict(sorted(out.items()))


def _zone(
    name: str, holds: str, mesh: Mesh | None, of: Any, reactions: ReadTable | None, members: ReadTable | None
) -> list[str]:
    wall, side = False, ""
    if mesh is not None:
        corners = mesh.corners if of is None else mesh.corners[of]
        normal = diagonal_normals(mesh.xyz, corners)
        normal /= np.linalg.norm(normal, axis=1, keepdims=True)
        wall = bool(np.median(np.abs(normal[:, 2])) < 0.3)
        own = mesh.axes[:, 2] if of is None else mesh.axes[of, 2]
        one = np.round(normal[0] * np.sign(np.median(own @ normal[0])), 3) + 0.0
        if np.all(np.abs(normal @ normal[0]) > 0.99):
            side = f"top_side = {{ towards = {one.tolist()} }}  # guess: which side the top face looks at"
    kind, along = ("wall", "horizontal") if wall else ("slab", "vector")
    out = [
        f"[zones.{_text(name)}]",
        holds,
        "f_ck = 30  # MPa, cylinder; guess",
        "f_yk = 500  # MPa; guess",
        'method = "sandwich"',
        f'minimum = "{kind}"  # guess: most elements {"stand upright" if wall else "lie flat"}',
        f'direction = {{ along = "{along}" }}  # of the x bars; guess' + ("" if wall else ", along global x"),
    ]
    if mesh is None:
        out.append("# thickness = 250  # mm, where the table has no column for it")
    elif not np.isfinite(mesh.thickness if of is None else mesh.thickness[of]).all():
        out.append("thickness = 250  # mm; guess: no table gives it")
    bars = 'bars = { cover_bottom = 30, cover_top = 30, diameter_x = 12, diameter_y = 12, outer = "x" }  # mm; guess'
    more = [
        "# rule = { diameters = [8, 10, 12, 14], spacing_min = 100, spacing_max = 200, spacing_step = 25 }  # mm",
        "# service = {}  # stresses and crack widths under the service combinations",
    ]
    found = columns_of(mesh, of, reactions, members) if mesh is not None and not wall else []
    for i, columns in enumerate(found):
        called = f"columns of {name}" + (f" {i + 1}" if len(found) > 1 else "")
        more += [
            f"# [punching.{_text(called)}]  # supports and columns that stand by themselves",
            f"# zone = {_text(name)}", f"# at = {columns.places}  # m", *(f"# {line}" for line in columns.size),
            f'# force = "{columns.force}"',
        ]  # fmt: skip
    if found:
        more[:0] = [
            "# layout = {}  # with the rule: a base mesh, and additional bars in rectangles",
            '# peaks = { width = 1.0, at = "found" }  # m: peaks over the columns below are averaged',
            "# column_bars = {}  # with bars: top bars over the columns below, bottom bars through them",
        ]
    return [*out, *([side] if side else []), bars, *more, ""]


def _cases(names: list[str], tables: Tables) -> list[str]:
    """Kinds of the cases, from their names or descriptions where the tables give none."""
    given: dict[str, str] = {}
    words: dict[str, str] = {}
    table = tables.get("cases")
    if table is not None:
        cases = clean(table.frame["case"], {})
        given = dict(zip(cases, table.frame["kind"].astype(str), strict=True)) if "kind" in table.frame else {}
        told = table.frame["description"].astype(str) if "description" in table.frame else cases
        words = dict(zip(cases, told, strict=True))
    out = ["# Kinds of the cases, for the rules; a category of imposed loads as in Table A1.1."] if names else []
    for name in names:
        kind, why = _kind(given.get(name, ""), name, words.get(name, ""))
        out.append(f"[cases.{_text(name)}]")
        out.append(
            f'kind = "{kind}"  # {why}' if kind else '# kind = ...  # no guess; "unused" keeps it out of the rules'
        )
        if kind == "imposed":
            out.append('category = "A"  # guess')
    return [*out, ""]


def _kind(given: str, name: str, description: str) -> tuple[str, str]:
    if given in _WORDS:
        return given, "as the table of cases has it"
    for text in (given, name, description):
        plain = text.lower()
        for kind, words in _WORDS.items():
            if any(plain == w or (len(w) > 3 and w in plain) for w in words):
                return kind, f"guess from '{text}'"
    return "", ""


_END: Final = [
    "[rules]",
    'code = "EN 1990:2002"  # guess; or "ASCE 7-16", "ASCE 7-22", "IS 456:2000", or list [[combinations]]',
    'parameters = "recommended"  # or a national set, or a TOML file of your own',
    "",
    "[design]",
    'standard = "EN 1992-1-1:2004"',
]
