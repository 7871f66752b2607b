"""The explanation of a crack: its section, strains, bars, clauses and width, and a drawing through the depth."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pandas as pd

from sandwich.commands.explain import SAME, find_point, steps_before
from sandwich.core.compiled import plain_python
from sandwich.core.errors import Fault, InputError, StaleError
from sandwich.core.trace import Quantity, Sheet, Step, recording
from sandwich.design.crack_limits import width_allowed
from sandwich.design.sections import Sections, sections_of
from sandwich.design.service import SIDES
from sandwich.design.service_tables import LIMIT, WIDTH
from sandwich.design.settings import Settings
from sandwich.design.worked import quantities, resultant_quantities
from sandwich.drawing.records import SectionDescription
from sandwich.job import Job
from sandwich.mechanics.crack import FaceCrack, along, principal
from sandwich.mechanics.superpose import superpose
from sandwich.project.project import Project
from sandwich.project.zone_input import ZoneInput
from sandwich.stages.service import SERVICE
from sandwich.stages.ultimate import ULTIMATE
from sandwich.standards.interface import Tightness
from sandwich.work.service import ZoneService, loads_of


@dataclass(frozen=True)
class CrackExplained:
    """A worked calculation of a crack, and its section for a drawing."""

    sheet: Sheet
    section: SectionDescription


def explain_crack(
    job: str | Path | Job | Project, point: str, face: str | None = None, combination: str | None = None
) -> CrackExplained:
    """Worked calculation of the crack at one face of a point of a job that has been run.

    Parameters
    ----------
    job : str, Path, Job or Project
        The job.
    point : str
        ``zone/point`` as in the tables, or the point alone where it is unique.
    face : str, optional
        Name of the face; the one with the greater use by default.
    combination : str, optional
        A service combination with a limit of width; the worst one by default, in its worse state.

    Returns
    -------
    CrackExplained
        From the resultants in element axes to the width, equal to the stored table to 1e-6, and the section.

    Raises
    ------
    InputError
        If there is no such point, face or combination, or the zone has no limits of width.
    StaleError
        If the job was not run, or has changed since.
    """
    project = Project.last_run(job)
    z, i = find_point([d.zone for d in project.left(ULTIMATE).values()], point, project.job)
    standard, service = project.standard, project.combinations.service()
    names = z.zone.faces.bottom, z.zone.faces.top
    of = project.left(SERVICE)[z.name].service
    if of is None:
        raise InputError(
            [Fault("--point", f"zone '{z.name}' asks for no service state", f"write [zones.{z.name}.service]")]
        )
    if face is not None and face not in names:
        raise InputError([Fault("--face", f"zone '{z.name}' has no face '{face}'", f"there are {' and '.join(names)}")])
    limited = [n for n, s in zip(service.names, service.situations, strict=True) if s in of.rule.widths]
    if not limited or (combination is not None and combination not in limited):
        lost = (
            "no service combination has a limit of width" if not limited else f"'{combination}' has no limit of width"
        )
        raise InputError([Fault("--combination", lost, f"there are {', '.join(limited) or 'none'}")])
    if combination is None and np.isnan(of.state.use[i]).all():  # there is no worst one
        raise _no_state(z, i)
    use = np.nan_to_num(of.state.use[i], nan=-1.0)
    j = names.index(face) if face is not None else int(use.argmax())
    k = int(of.state.width_by[i, j]) if combination is None else service.names.index(combination)
    settings = z.settings_at(i, standard)
    ages = (bool(of.state.long[i, j]),) if combination is None else of.rule.load_durations
    combined = superpose(loads_of(z, service).cases[i : i + 1], service.factors[[k]])
    with plain_python():
        tried = [_crack(combined, z, i, of, settings, j, long) for long in ages]
        long, sections, crack = max(tried, key=lambda t: _width(t[2], settings, t[0]))
    with recording() as sheet:
        sheet.heading = "Resultants"
        for step in steps_before(z, i, project, service.names[k]):
            sheet.add(step)
        if z.strips is not None and (z.strips.cells[i] >= 0).any():
            formula = "x: mean over the station of the x bars; y: of the y bars; nxy, mxy: mean of both"
            sheet.add(
                Step("Resultants averaged over a station of the strips", "statics of a section of that width", formula,
                     (), resultant_quantities(combined[0, 0]))
            )  # fmt: skip
        sheet.heading = "Cracked section"
        standard.modulus(settings.concrete, of.rule.creep if long else 0.0)
        _state_steps(sheet, combined[0, 0], sections, settings, long)
        sheet.heading = f"Crack at the {names[j]}"
        _crack_steps(sheet, crack)
        found = standard.crack_width(settings.concrete, crack, long=long)
    own = np.array([of.rule.widths[service.situations[k]][j]])
    if of.state.through[i] and isinstance(standard, Tightness):
        own = np.minimum(own, standard.tightness(z.h[[i]], of.state.head[[i]])[0])
    limit = float(width_allowed(own, crack.theta)[0])
    w = float(found.w[0])
    zone = 0.0 if found.tension_zone is None else float(found.tension_zone[0])
    sheet.answer = (
        Quantity("crack width", w, "mm"), Quantity("allowed", limit, "mm"), Quantity("utilisation", w / limit, ""),
        Quantity("face", names[j], ""), Quantity("combination", service.names[k], ""),
        Quantity("loading", "long-term" if long else "short-term", ""),
    )  # fmt: skip
    if of.rule.uncracked == "exempt" and of.state.cracking[i] <= 0.0:
        told = "uncracked in every service combination: no width is asked"
        sheet.answer = (*sheet.answer, Quantity("status", told, ""))
    if combination is None:
        _compare(project.job, z, i, names[j], w)
    title = f"{z.name}/{z.labels[i]}, {names[j]}: {w:.3g} mm of {limit:.3g} mm, {service.names[k]}"
    return CrackExplained(sheet, _section(title, sections, crack, settings, names, j, zone))


def _no_state(z: ZoneInput, i: int) -> InputError:
    return InputError([Fault("--point", f"{z.name}/{z.labels[i]} has no service state", "the table 'cracks' says why")])


def _crack(
    combined: np.ndarray, z: ZoneInput, i: int, of: ZoneService, settings: Settings, j: int, long: bool
) -> tuple[bool, Sections, FaceCrack]:
    bars = of.bars.part(slice(i, i + 1))
    sections = sections_of(combined, z.h[[i]], bars, settings, np.zeros(1), of.rule.creep if long else 0.0)
    if sections.state.status[0] != 0:
        raise _no_state(z, i)
    return long, sections, sections.face(SIDES[j], settings)


def _width(crack: FaceCrack, settings: Settings, long: bool) -> float:
    return float(settings.standard.crack_width(settings.concrete, crack, long=long).w[0])


def _state_steps(sheet: Sheet, row: np.ndarray, s: Sections, settings: Settings, long: bool) -> None:
    """Bars, strains and stresses of the section."""
    there = np.flatnonzero(np.isfinite(s.axes[0]) & (s.area[0] > 0.0))
    names = [settings.names[b] for b in there]
    laid = tuple(
        Quantity(name, f"{1e3 * s.area[0, b]:.4g} mm2/m at {s.axes[0, b]:+.4g} mm below mid-depth", "")
        for name, b in zip(names, there, strict=True)
    )
    state = s.state
    strains = quantities(("eps_x", "eps_y", "gamma_xy"), 1e3 * state.strain[0], "1e-3")
    turned = quantities(("kappa_x", "kappa_y", "kappa_xy"), 1e6 * state.curvature[0], "1/km")
    stress = quantities(tuple(f"sigma {n}" for n in names), state.bar_stress[0, there], "MPa")
    kind = "long-term" if long else "short-term"
    sheet.add(
        Step(f"Equilibrium of the cracked section, {kind}",
             "minimum energy: concrete in compression alone, bars elastic",
             "eps(z) = eps - z kappa; n = sum A sigma + int sigma_c dz; m = sum A sigma e - int sigma_c z dz",
             (*resultant_quantities(row)[:6], Quantity("h", float(s.h[0]), "mm"), Quantity("E_c", s.E_c, "MPa"), *laid),
             (*strains, *turned, *stress, Quantity("left of equilibrium", float(state.residual[0]), "")))
    )  # fmt: skip


def _crack_steps(sheet: Sheet, crack: FaceCrack) -> None:
    """Direction, strains and depths along the normal of the crack."""
    sheet.add(
        Step("Principal strains at the level of the bars in tension", "strains of the cracked section",
             "along the direction of the principal tension, the crack's normal; x where its strain is zero",
             (Quantity("d", float(crack.d[0]), "mm"),),
             (Quantity("normal from x", float(np.degrees(crack.theta[0])), "deg"),
              *quantities(("eps_1", "eps_2"), 1e3 * np.array([crack.eps_1[0], crack.eps_2[0]]), "1e-3"),
              *quantities(("at this face", "at the other"), 1e3 * np.array([crack.near[0], crack.far[0]]), "1e-3"),
              Quantity("x", float(crack.x[0]), "mm")))
    )  # fmt: skip


def _compare(job: Job, z: ZoneInput, i: int, face: str, w: float) -> None:
    """Hold the worked width against the stored table."""
    table = pd.read_parquet(job.results / "cracks.parquet")
    rows = table[(table["zone"] == z.name) & (table["point"] == z.labels[i]) & (table["face"] == face)]
    if not all(abs(v - w) <= SAME * max(w, 1.0) or v == 0.0 for v in rows[WIDTH]) or rows[LIMIT].empty:
        raise StaleError("the crack width differs from the stored table; run the job again")


def _section(
    title: str, s: Sections, crack: FaceCrack, settings: Settings, names: tuple[str, str], j: int, depth: float
) -> SectionDescription:
    """The section for its drawing."""
    half, side, x = float(s.h[0]) / 2.0, SIDES[j], float(crack.x[0])
    z = np.linspace(-half, half, 201)
    strain = s.state.strain[0] - z[:, None] * s.state.curvature[0]
    least = np.minimum(principal(strain)[1], 0.0)
    there = np.flatnonzero(np.isfinite(s.axes[0]) & (s.area[0] > 0.0))
    bars = [
        (
            float(-s.axes[0, b]),
            float(s.diameter[0, b]),
            settings.names[b],
            float(s.state.bar_stress[0, b]),
            bool(crack.bars.there[0, b]),
        )
        for b in there
    ]
    ends = sorted((-side * half, -side * (half - depth)))
    pressed = sorted((side * half, side * (half - x)))
    told = (
        f"normal of the crack {np.degrees(crack.theta[0]):.1f} deg from x; eps_1 {1e3 * crack.eps_1[0]:.3g}, eps_2 "
        f"{1e3 * crack.eps_2[0]:.3g} (1e-3) at the bars; compressed depth {x:.0f} mm; red: bars of the face"
    )
    return SectionDescription(
        title=title,
        note=told,
        z=z,
        strain=1e3 * along(strain, crack.theta),
        concrete=s.E_c * least,
        bars=bars,
        pressed=(pressed[0], pressed[1]),
        effective=(ends[0], ends[1]),
        faces=names,
    )
