"""Settings of a zone that are accepted are honoured: each of them moves a table of a small job."""

import pytest

from conftest import write_plate
from sandwich import load_job, run_job

BASE = {"minimum": "slab", "rule": {"diameters": [10, 12, 14], "spacing_min": 100, "spacing_max": 200}}
SERVICE = {"widths": {"frequent": 0.2}, "add_reinforcement": True, "minimum_reinforcement": "bending"}
CHANGES = [
    ("offset", 30), ("joint", True), ("minimum_eccentricity", True), ("shear_steel", "cos4"), ("points", "centres"), ("rule.diameters", [16]),
    ("supports", [{"line": [[0, 0, 0], [0, 3, 0]], "width": 300}]), ("rule.spacing_min", 150), ("rule.spacing_max", 125),
    ("rule.spacing_step", 40), ("limits", {"minimum_steel": 2500}), ("limits", {"minimum_steel": {"top x": 2500}}), ("limits", {"bar_ratio": 0.041}),
    ("direction", {"along": "vector", "vector": [1, 0, 0], "angle": 20}), ("top_side", {"towards": [0, 0, -1]}),
    ("faces", {"bottom": "under", "top": "over"}), ("bars.cover_bottom", 45), ("bars.cover_top", 45), ("bars.diameter_x", 16), ("bars.diameter_y", 16),
    ("bars.top_diameter_x", 16), ("bars.top_diameter_y", 16), ("bars.outer", "y"), ("bars.weight_x", 3.0), ("bars.weight_y", 3.0),
]  # fmt: skip
CHANGES_IN_SERVICE = [
    ("bars.layout", "bottom"), ("bars.layout", "top"), ("bars.layout", "mid-depth"), ("service.creep", 3.0), ("service.load_durations", ["long"]),
    ("service.minimum_reinforcement", "restraint"), ("service.fct_eff_ratio", 0.5), ("service.concrete_stress", 5.0), ("service.steel_stress", 100.0),
    ("service.widths", {"frequent": {"bottom": 0.1, "top": 0.2}}), ("service.widths", {"frequent": {"bottom": 0.2, "top": {"x": 0.2, "y": 0.1}}}),
]  # fmt: skip


@pytest.fixture(scope="module")
def jobs(tmp_path_factory):
    """The job without and with a service state, and the tables of both."""
    plain = load_job(write_plate(tmp_path_factory.mktemp("plain"), 1, 3.0))
    both = BASE, {**BASE, "service": SERVICE}
    found = [plain.with_values({f"zones.plate.{key}": value for key, value in own.items()}) for own in both]
    return [(job, tables(job)) for job in found]


def tables(job):
    return dict(run_job(job, pictures=False).tables)


@pytest.mark.parametrize(("key", "value"), CHANGES + CHANGES_IN_SERVICE)
def test_a_setting_moves_a_table(jobs, key, value):
    job, before = jobs[(key, value) in CHANGES_IN_SERVICE]
    after = tables(job.with_values({f"zones.plate.{key}": value}))
    assert before.keys() != after.keys() or any(not frame.equals(after[name]) for name, frame in before.items())
