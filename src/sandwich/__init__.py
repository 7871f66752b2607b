"""Sandwich: reinforcement of concrete walls, plates and shells from finite-element stress resultants.

Names are resolved on demand, so importing the package is quick.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

from sandwich._version import __version__ as __version__

if TYPE_CHECKING:
    from sandwich.check import check_job as check_job
    from sandwich.crack_explained import explain_crack as explain_crack
    from sandwich.design.points import design_points as design_points
    from sandwich.errors import InputError as InputError
    from sandwich.errors import StaleError as StaleError
    from sandwich.explanation import explain_place as explain_place
    from sandwich.explanation import explain_point as explain_point
    from sandwich.inspect import inspect_job as inspect_job
    from sandwich.job import load_job as load_job
    from sandwich.mechanics.limit import load_factor as load_factor
    from sandwich.mechanics.plate import wood_armer as wood_armer
    from sandwich.methods import compare_methods as compare_methods
    from sandwich.run import run_job as run_job
    from sandwich.section import BarLayers as BarLayers
    from sandwich.section import BarLine as BarLine
    from sandwich.section import Concrete as Concrete
    from sandwich.section import Section as Section
    from sandwich.section import Steel as Steel
    from sandwich.standards.aci318.standard import ACI318 as ACI318
    from sandwich.standards.en1992.standard import EN1992 as EN1992
    from sandwich.standards.is456.standard import IS456 as IS456
    from sandwich.standards.registry import standard_named as standard_named
    from sandwich.start import copy_demo as copy_demo
    from sandwich.trial import try_job as try_job

_NAMES = {
    "ACI318": "sandwich.standards.aci318.standard",
    "BarLayers": "sandwich.section",
    "BarLine": "sandwich.section",
    "Concrete": "sandwich.section",
    "EN1992": "sandwich.standards.en1992.standard",
    "IS456": "sandwich.standards.is456.standard",
    "InputError": "sandwich.errors",
    "Section": "sandwich.section",
    "StaleError": "sandwich.errors",
    "Steel": "sandwich.section",
    "check_job": "sandwich.check",
    "compare_methods": "sandwich.methods",
    "copy_demo": "sandwich.start",
    "design_points": "sandwich.design.points",
    "explain_crack": "sandwich.crack_explained",
    "explain_place": "sandwich.explanation",
    "explain_point": "sandwich.explanation",
    "inspect_job": "sandwich.inspect",
    "load_factor": "sandwich.mechanics.limit",
    "load_job": "sandwich.job",
    "run_job": "sandwich.run",
    "standard_named": "sandwich.standards.registry",
    "try_job": "sandwich.trial",
    "wood_armer": "sandwich.mechanics.plate",
}
__all__ = [*_NAMES]  # noqa: PLE0604


def __getattr__(name: str) -> Any:
    if name in _NAMES:
        return getattr(import_module(_NAMES[name]), name)
    raise AttributeError(f"module 'sandwich' has no attribute '{name}'")


def __dir__() -> list[str]:
    return [*__all__, "__version__"]
