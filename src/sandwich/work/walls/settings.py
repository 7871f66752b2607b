"""Settings of walls that a standard has to know: what it has no use for is refused."""

from __future__ import annotations

from sandwich.core.errors import Faults
from sandwich.job import Job
from sandwich.job.plain_walls import BearingWall
from sandwich.job.walls import Wall
from sandwich.standards.interface import Standard

OF_SOME = ("cot_theta_max", "creep", "joint")  # settings that not every standard takes
ALONE = ("alternative",)  # methods of second order for walls under loads of their own, between foot and head


def refuse_unused(
    job: Job, keys: tuple[str, str], asked: Wall | BearingWall, standard: Standard, faults: Faults
) -> None:
    """Note settings that stand in the job and that its standard does not use."""
    where = f"{job.path}, {'.'.join(keys)}"
    job.refuse_unused(keys, OF_SOME, standard.own_settings, standard.name, faults)
    methods = [m for m in standard.second_order if isinstance(asked, BearingWall) or m not in ALONE]
    if asked.second_order is not None and asked.second_order not in methods:
        alone = " here" if asked.second_order in standard.second_order else ""
        found = f"{standard.name} has no second order by '{asked.second_order}'{alone}"
        faults.add(f"{where}.second_order", found, f"use {' or '.join(methods)}, or take it out")
