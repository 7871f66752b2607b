"""What a run leaves in memory: what came in, the zones, frames, certificate, files."""

from __future__ import annotations

import html
from dataclasses import dataclass, field
from pathlib import Path

import pandas as pd

from sandwich.combine.table import Combinations
from sandwich.design.summary import Certificate, peaks
from sandwich.job import Job
from sandwich.meshes import ZoneBars
from sandwich.prepare import ZoneInput
from sandwich.punching import PunchedPlace
from sandwich.serviceability import ServiceState
from sandwich.standards.interface import Standard, Strengths
from sandwich.strips import StripResult
from sandwich.tables.assemble import Results
from sandwich.tendons import TendonState


@dataclass(frozen=True, repr=False)
class RunResult:
    """What a run leaves: frames with units in their headings, the certificate, files written."""

    job: Job
    results: Results
    zones: list[ZoneInput]
    combinations: Combinations
    points: pd.DataFrame
    steel: pd.DataFrame
    checks: pd.DataFrame
    certificate: Certificate
    strengths: dict[str, Strengths]
    folder: Path
    standard: Standard
    doubts: tuple[str, ...] = ()
    reused: tuple[str, ...] = ()
    strips: tuple[StripResult, ...] = ()
    extremes: pd.DataFrame | None = None
    links: pd.DataFrame | None = None
    own_rules: tuple[str, ...] = ()
    readings: tuple[str, ...] = ()
    meshes: tuple[ZoneBars, ...] = ()
    punched: tuple[PunchedPlace, ...] = ()
    punching: pd.DataFrame | None = None
    punching_rows: pd.DataFrame | None = None
    compression: pd.DataFrame | None = None
    service: ServiceState | None = None
    prestress: TendonState | None = None
    failures: pd.DataFrame = field(default_factory=pd.DataFrame)
    exceeded: pd.DataFrame = field(default_factory=pd.DataFrame)
    report: Path | None = None
    grave: int = 0  # of the doubts, the first ones: steel may be missing

    def __repr__(self) -> str:
        c = self.certificate
        fails = f", {c.failed} fail" if c.failed else ""
        return (
            f"RunResult({self.job.title}: {c.certified} of {c.points} points certified{fails}; tables in {self.folder})"
        )

    def _repr_html_(self) -> str:
        """The greatest steel of each zone and bar layer."""
        table = peaks(self.steel).to_html(index=False, float_format="{:.4g}".format)
        return f"<p>{html.escape(repr(self))}</p>{table}"
