"""Sandwich: reinforcement of concrete walls, plates and shells from finite-element stress resultants.

Names are resolved on demand, so importing the package is quick.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

from sandwich._version import __version__ as __version__

if TYPE_CHECKING:
    from sandwich.commands.check import check_job as check_job
    from sandwich.commands.explain import explain_loaded_area as explain_loaded_area
    from sandwich.commands.explain import explain_point as explain_point
    from sandwich.commands.explain_crack import explain_crack as explain_crack
    from sandwich.commands.explain_wall import explain_wall as explain_wall
    from sandwich.commands.inspect import inspect_job as inspect_job
    from sandwich.commands.mapping import map_job as map_job
    from sandwich.commands.methods import compare_methods as compare_methods
    from sandwich.commands.run import RunResult as RunResult
    from sandwich.commands.run import run_job as run_job
    from sandwich.commands.schedule import bar_schedule as bar_schedule
    from sandwich.commands.start import copy_demo as copy_demo
    from sandwich.commands.start import new_job as new_job
    from sandwich.commands.trial import try_job as try_job
    from sandwich.core.errors import InputError as InputError
    from sandwich.core.errors import StaleError as StaleError
    from sandwich.core.section import BarLayers as BarLayers
    from sandwich.core.section import BarLine as BarLine
    from sandwich.core.section import Concrete as Concrete
    from sandwich.core.section import Section as Section
    from sandwich.core.section import Steel as Steel
    from sandwich.core.status import Status as Status
    from sandwich.design.points import PointDesign as PointDesign
    from sandwich.design.points import design_points as design_points
    from sandwich.design.walls.sections import SectionStrength as SectionStrength
    from sandwich.job import Job as Job
    from sandwich.job import load_job as load_job
    from sandwich.mechanics.cracked import cracked_section as cracked_section
    from sandwich.mechanics.limit import load_factor as load_factor
    from sandwich.mechanics.planesection import PlaneSection as PlaneSection
    from sandwich.mechanics.plate import wood_armer as wood_armer
    from sandwich.project.outcome import Outcome as Outcome
    from sandwich.project.project import Project as Project
    from sandwich.project.stage import Stage as Stage
    from sandwich.stages.order import STAGES as STAGES
    from sandwich.standards.aci318.standard import ACI318 as ACI318
    from sandwich.standards.column import ColumnLoad as ColumnLoad
    from sandwich.standards.en1992.standard import EN1992 as EN1992
    from sandwich.standards.is456.standard import IS456 as IS456
    from sandwich.standards.registry import standard_named as standard_named
    from sandwich.work.slab_column import column_on as column_on

_NAMES = {
    "PlaneSection": "sandwich.mechanics.planesection",
    "PointDesign": "sandwich.design.points",
    "SectionStrength": "sandwich.design.walls.sections",
    "cracked_section": "sandwich.mechanics.cracked",
    "column_on": "sandwich.work.slab_column",
    "ColumnLoad": "sandwich.standards.column",
    "Job": "sandwich.job",
    "map_job": "sandwich.commands.mapping",
    "new_job": "sandwich.commands.start",
    "STAGES": "sandwich.stages.order",
    "Outcome": "sandwich.project.outcome",
    "Stage": "sandwich.project.stage",
    "RunResult": "sandwich.commands.run",
    "Project": "sandwich.project.project",
    "ACI318": "sandwich.standards.aci318.standard",
    "BarLayers": "sandwich.core.section",
    "BarLine": "sandwich.core.section",
    "Concrete": "sandwich.core.section",
    "EN1992": "sandwich.standards.en1992.standard",
    "IS456": "sandwich.standards.is456.standard",
    "InputError": "sandwich.core.errors",
    "Section": "sandwich.core.section",
    "StaleError": "sandwich.core.errors",
    "Status": "sandwich.core.status",
    "Steel": "sandwich.core.section",
    "bar_schedule": "sandwich.commands.schedule",
    "check_job": "sandwich.commands.check",
    "compare_methods": "sandwich.commands.methods",
    "copy_demo": "sandwich.commands.start",
    "design_points": "sandwich.design.points",
    "explain_crack": "sandwich.commands.explain_crack",
    "explain_loaded_area": "sandwich.commands.explain",
    "explain_point": "sandwich.commands.explain",
    "explain_wall": "sandwich.commands.explain_wall",
    "inspect_job": "sandwich.commands.inspect",
    "load_factor": "sandwich.mechanics.limit",
    "load_job": "sandwich.job",
    "run_job": "sandwich.commands.run",
    "standard_named": "sandwich.standards.registry",
    "try_job": "sandwich.commands.trial",
    "wood_armer": "sandwich.mechanics.plate",
}
__all__ = sorted(_NAMES)  # noqa: PLE0605


def __getattr__(name: str) -> Any:
    if name in _NAMES:
        return getattr(import_module(_NAMES[name]), name)
    raise AttributeError(f"module 'sandwich' has no attribute '{name}'")


def __dir__() -> list[str]:
    return [*__all__, "__version__"]
