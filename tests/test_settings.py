"""Settings of a zone that are accepted are honoured: each of them moves a table of a small job."""

import pytest

from conftest import write_plate
from sandwich import load_job, run_job

BASE = {
    "minimum": "slab", "rule": {"diameters": [10, 12, 14], "spacing_min": 100, "spacing_max": 200},
    "service": {"widths": {"frequent": 0.2}, "add_reinforcement": True},
}  # fmt: skip
CHANGES = [
    ("f_ck", 45), ("f_yk", 400), ("strength", "cube"), ("thickness", 300), ("offset", 30), ("method", "plate"), ("minimum", "wall"),
    ("joint", True), ("minimum_eccentricity", True), ("shear_steel", "cos4"), ("points", "centres"),
    ("links", {"cot_theta": 2.0}), ("averaging_strips", {"x": [0, 1.5, 3], "y": [0, 1.5, 3], "step": 1}),
    ("supports", [{"line": [[0, 0, 0], [0, 3, 0]], "width": 300}]), ("rule.diameters", [16]), ("rule.spacing_min", 150), ("rule.spacing_max", 125),
    ("rule.spacing_step", 40), ("layout", {}), ("edges", {}), ("limits", {"minimum_steel": 2500}), ("limits", {"minimum_steel": {"top x": 2500}}),
    ("limits", {"bar_ratio": 0.041}), ("exposure", {"bottom": "XC1", "top": "XC3"}), ("fire", {"minutes": 90}),
    ("provided", {"bottom x": {"diameter": 20, "spacing": 100}}),
    ("additional", [{"layer": "top x", "diameter": 16, "spacing": 200, "along": [0, 2], "across": [0, 2]}]),
    ("direction", {"along": "vector", "vector": [1, 0, 0], "angle": 20}), ("top_direction", {"along": "radial", "centre": [5, 5, 0]}),
    ("top_side", {"towards": [0, 0, -1]}), ("faces", {"bottom": "under", "top": "over"}), ("bars.cover_bottom", 45), ("bars.cover_top", 45),
    ("bars.diameter_x", 16), ("bars.diameter_y", 16), ("bars.top_diameter_x", 16), ("bars.top_diameter_y", 16), ("bars.outer", "y"),
    ("bars.weight_x", 3.0), ("bars.weight_y", 3.0), ("bars.layout", "bottom"), ("bars.layout", "top"), ("bars.layout", "mid-depth"),
    ("service.creep", 3.0), ("service.load_durations", ["long"]), ("service.simplified", False), ("service.minimum_reinforcement", "restraint"),
    ("service.fct_eff_ratio", 0.5), ("service.add_reinforcement", False),
    ("service.concrete_stress", 5.0), ("service.steel_stress", 100.0), ("service.water", {"level": 8.0}), ("service.widths", {"frequent": 0.1}),
    ("service.widths", {"frequent": {"bottom": 0.1, "top": 0.2}}), ("service.widths", {"frequent": {"bottom": 0.2, "top": {"x": 0.2, "y": 0.1}}}),
]  # fmt: skip


@pytest.fixture(scope="module")
def plain(tmp_path_factory):
    """The job as it is, and its tables."""
    job = load_job(write_plate(tmp_path_factory.mktemp("plain"), 1, 3.0)).with_values(
        {f"zones.plate.{key}": value for key, value in BASE.items()}
    )
    return job, tables(job)


def tables(job):
    return dict(run_job(job, pictures=False).tables)


@pytest.mark.parametrize(("key", "value"), CHANGES, ids=[f"{k}={v}"[:50] for k, v in CHANGES])
def test_a_setting_moves_a_table(plain, key, value):
    job, before = plain
    more = {} if key != "service.fct_eff_ratio" else {"zones.plate.service.minimum_reinforcement": "bending"}
    base = before if not more else tables(job.with_values(more))
    after = tables(job.with_values({**more, f"zones.plate.{key}": value}))
    assert base.keys() != after.keys() or any(not frame.equals(after[name]) for name, frame in base.items())
