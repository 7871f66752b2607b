"""The stages of a job, in the order in which their sections stand where ranks are equal.

A further stage is a module with a `Stage`, and its name here; a program may also hand its own to `run_job`.
"""

from __future__ import annotations

from typing import Any, Final

from sandwich.project.stage import Stage
from sandwich.stages.bars import BARS
from sandwich.stages.building import BUILDING
from sandwich.stages.column_bars import COLUMN_BARS
from sandwich.stages.cover import COVER
from sandwich.stages.inputs import INPUTS
from sandwich.stages.layout import LAYOUT
from sandwich.stages.plain_walls import PLAIN_WALLS
from sandwich.stages.punching import PUNCHING
from sandwich.stages.required import REQUIRED_STAGE
from sandwich.stages.schedule import SCHEDULE
from sandwich.stages.seismic_walls import SEISMIC_WALLS
from sandwich.stages.service import SERVICE
from sandwich.stages.shear import SHEAR_STAGE
from sandwich.stages.strips import STRIPS
from sandwich.stages.tendons import TENDONS
from sandwich.stages.ultimate import ULTIMATE
from sandwich.stages.wall_laps import WALL_LAPS
from sandwich.stages.walls import WALL_CHECKS, WALL_CUTS

STAGES: Final[tuple[Stage[Any], ...]] = (
    ULTIMATE, INPUTS, STRIPS, WALL_CUTS, SERVICE, SHEAR_STAGE, PUNCHING, TENDONS, BARS, COLUMN_BARS, LAYOUT,
    REQUIRED_STAGE, WALL_CHECKS, SEISMIC_WALLS, BUILDING, WALL_LAPS, SCHEDULE, COVER, PLAIN_WALLS,
)  # fmt: skip
