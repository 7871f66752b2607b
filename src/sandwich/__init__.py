"""Sandwich: reinforcement of concrete walls, plates and shells from finite-element stress resultants.

Names are resolved on demand, so importing the package is quick.
"""

from __future__ import annotations

from importlib import import_module
from typing import Any

from sandwich._version import __version__ as __version__

_NAMES = {
    "BarLayers": "sandwich.section",
    "BarLine": "sandwich.section",
    "Concrete": "sandwich.section",
    "EN1992": "sandwich.standards.en1992.standard",
    "InputError": "sandwich.errors",
    "StaleError": "sandwich.errors",
    "Section": "sandwich.section",
    "Steel": "sandwich.section",
    "check_job": "sandwich.check",
    "compare_methods": "sandwich.methods",
    "design_points": "sandwich.design.points",
    "explain_crack": "sandwich.crack_explained",
    "explain_place": "sandwich.explanation",
    "explain_point": "sandwich.explanation",
    "inspect_job": "sandwich.inspect",
    "load_job": "sandwich.job",
    "run_job": "sandwich.run",
    "try_job": "sandwich.trial",
    "wood_armer": "sandwich.mechanics.plate",
}
__all__ = [*_NAMES]  # noqa: PLE0604


def __getattr__(name: str) -> Any:
    if name in _NAMES:
        target = "load" if name == "load_job" else name
        return getattr(import_module(_NAMES[name]), target)
    raise AttributeError(f"module 'sandwich' has no attribute '{name}'")


def __dir__() -> list[str]:
    return [*__all__, "__version__"]
