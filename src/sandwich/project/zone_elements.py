"""Elements of the zones of a job, and their thickness."""

from __future__ import annotations

import difflib
import re

import numpy as np
from numpy.typing import NDArray

from sandwich.core.errors import Faults
from sandwich.job import Job
from sandwich.model.mesh import Mesh

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def _matching(group: str, groups: list[str]) -> list[str]:
    """The group of a name, else those that a name with * matches."""
    if group in groups or "*" not in group:
        return [g for g in groups if g == group]
    pattern = re.compile(".*".join(map(re.escape, group.split("*"))))
    return [g for g in groups if pattern.fullmatch(g)]


def elements_of_zones(job: Job, mesh: Mesh, faults: Faults) -> dict[str, Ints]:
    """Element indices of each zone; notes zones without elements and elements in two zones."""
    out: dict[str, Ints] = {}
    taken = np.full(len(mesh.element_ids), -1)
    groups = sorted(set(mesh.group.tolist()) - {""})
    ids = {v: i for i, v in enumerate(mesh.element_ids.tolist())}
    for z, (name, zone) in enumerate(job.zones.items()):
        where = f"{job.path}, zones.{name}"
        chosen = np.zeros(len(mesh.element_ids), dtype=bool)
        if zone.everything:
            chosen[:] = True
        for group in zone.groups:
            matched = _matching(group, groups)
            if not matched:
                near = difflib.get_close_matches(group, groups, 1) or groups[:8]
                remedy = f"the elements have {', '.join(near)}" if groups else "the elements table has no groups"
                faults.add(f"{where}.groups", f"no element is in group '{group}'", remedy)
            chosen |= np.isin(mesh.group, matched)
        lost = [e for e in zone.elements if e not in ids]
        if lost:
            faults.add(f"{where}.elements", f"element {lost[0]} is not in the mesh", "remove it or add the element")
        chosen[[ids[e] for e in zone.elements if e in ids]] = True
        if not chosen.any():
            if not (zone.groups or zone.elements):
                remedy = "give groups = [...], elements = [...] or all = true"
                faults.add(where, "holds no elements", remedy)
            continue
        twice = chosen & (taken >= 0)
        if twice.any():
            other = list(job.zones)[taken[twice][0]]
            found = f"{twice.sum()} elements are in zone '{other}' too, element {mesh.element_ids[twice][0]} first"
            faults.add(where, found, "each element belongs to one zone")
        taken[chosen] = z
        out[name] = np.flatnonzero(chosen)
    return out


def thickness_of_zone(job: Job, name: str, mesh: Mesh, elements: Ints, faults: Faults) -> Floats:
    """Thickness of the elements of a zone [mm]: the zone's own where it gives one; notes missing ones."""
    zone = job.zones[name]
    h = np.full(len(elements), zone.thickness) if zone.thickness else mesh.thickness[elements]
    lost = ~np.isfinite(h)
    if lost.any():
        more = f" and {lost.sum() - 1} more" if lost.sum() > 1 else ""
        found = f"element {mesh.element_ids[elements[lost][0]]}{more} has no thickness"
        faults.add(f"{job.path}, zones.{name}", found, "fill the column 'thickness' or give zones.NAME.thickness in mm")
    return np.asarray(h, dtype=float)
