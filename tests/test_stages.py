"""A stage from outside takes its place among the others; a job is changed in memory; what stays is not written again."""

import shutil
from dataclasses import FrozenInstanceError, is_dataclass, replace

import numpy as np
import pandas as pd
import pytest

from pump_wall import write_wall
from sandwich import STAGES, InputError, Outcome, Stage, StaleError, explain_point, load_job, run_job
from sandwich.core.records import WarningNote
from sandwich.core.shown import SI
from sandwich.project import loaded
from sandwich.project.outcome import Pictures, Section, Table
from sandwich.project.project import Project
from sandwich.report.terminal import print_outcomes
from sandwich.stages.maps import zone_map
from sandwich.stages.ultimate import ULTIMATE


class MassStage(Stage[pd.DataFrame]):
    """Mass of the required steel: a table, a map, a section, a line for the terminal and a warning."""

    name, needs, tables = "mass", ("ultimate",), ("steel mass",)

    def asked(self, project):
        return project.job.title == "Plate"

    def run(self, project, progress):
        progress("mass", 1, 1)
        rows, figures = [], []
        for name, d in project.left(ULTIMATE).items():
            mass = d.final.a_s.sum(1) * 7.85  # kg/m2 of mm2/mm
            rows.append((name, float(mass.mean())))
            figures.append(zone_map(d.zone, "mass of steel", "kg/m2", np.nan_to_num(mass)))
        frame = pd.DataFrame(rows, columns=["zone", "mass [kg/m2]"])
        table = Table("Mass of steel", frame)
        return Outcome(
            frame, tables={"steel mass": frame}, summary=(table,), figures=tuple(figures[:1]),
            warnings=(WarningNote("mass", "laps are not counted"),),
            sections=(Section("Mass of steel", (table, Pictures(tuple(figures)))),),
        )  # fmt: skip


def test_a_stage_from_outside_gets_table_picture_section_and_line(plate, capsys):
    from rich.console import Console

    result = run_job(plate, stages=(*STAGES, MassStage()))
    folder = plate.parent / "results"
    steel = result.steel["required [mm2/m]"].sum() * 7.85e-3 / len(result.points)
    assert result.frame("steel mass")["mass [kg/m2]"].iloc[0] == pytest.approx(steel)
    for file in ("steel_mass.parquet", "maps/plate_mass_of_steel.png"):
        assert (folder / file).is_file(), file
    page = (folder / "report.html").read_text()
    assert page.count("<h2") > 8
    assert '<h2 id="mass-of-steel">Mass of steel</h2>' in page
    assert "laps are not counted" in page
    print_outcomes(list(result.project.outcomes.values()), Console(width=120), SI)
    assert "Mass of steel" in capsys.readouterr().out
    assert result.plot("plate mass of steel").figure is not None
    with pytest.raises(KeyError, match="no picture 'x'; there are model, plate"):
        result.plot("x")
    # without the stage its files go; what others left stays
    run_job(plate)
    assert not list(folder.glob("**/*mass*"))
    assert "laps are not counted" not in (folder / "report.html").read_text()
    with pytest.raises(InputError, match="stage 'mass': needs 'ultimate'; there are mass"):
        run_job(plate, stages=(MassStage(),))


def test_a_job_is_frozen_records_that_stay_valid(plate):
    job = load_job(plate)
    zone = job.zones["plate"]
    assert is_dataclass(job)
    assert is_dataclass(zone)
    with pytest.raises(FrozenInstanceError):
        zone.thickness = 300.0
    with pytest.raises(ValueError, match="thickness"):
        replace(zone, thickness=-300.0)
    with pytest.raises(ValueError, match="thicknes"):
        replace(zone, thicknes=300.0)
    with pytest.raises(ValueError, match="true or false is wanted"):
        replace(zone, joint="yes")
    assert job.writes("zones", "plate", "f_ck")
    assert not job.writes("zones", "plate", "minimum")
    # changed as a record and by its keys it is the same job, and another one than before
    thick = replace(job, zones={"plate": replace(zone, thickness=400.0)})
    by_key = job.with_values({"zones.plate.thickness": 400})
    assert repr(thick) == repr(by_key) != repr(job)
    steel = [run_job(j, pictures=False).steel for j in (job, thick, by_key)]
    assert steel[1].equals(steel[2])
    assert not steel[0].equals(steel[1])


def test_a_job_is_changed_in_memory_and_run(plate):
    first = run_job(plate, pictures=False)
    thick = load_job(plate).with_values({"zones.plate.thickness": 400, "title": "Thick"})
    second = run_job(thick, pictures=False)
    assert (second.points["thickness [mm]"] == 400.0).all()
    assert second.steel["required [mm2/m]"].sum() < first.steel["required [mm2/m]"].sum()
    assert explain_point(second.project, "1").answer == explain_point(thick, "1").answer
    with pytest.raises(StaleError):
        explain_point(plate, "1")
    with pytest.raises(InputError, match=r"key zones.plate.f_ck.x: 'f_ck' holds no keys") as error:
        thick.with_values({"zones.plate.f_ck.x": 1, "title.y": 2})
    assert len(error.value.faults) == 2


def test_tables_of_an_unchanged_job_are_not_written_again(plate):
    run_job(plate, pictures=False)
    folder = plate.parent / "results"
    written = {f.name: f.stat().st_mtime_ns for f in folder.glob("*.parquet")}
    assert len(written) >= 6
    run_job(plate, pictures=False)
    assert {f.name: f.stat().st_mtime_ns for f in folder.glob("*.parquet")} == written
    plate.write_text("# a remark changes nothing\n" + plate.read_text())
    assert explain_point(plate, "1").answer
    plate.write_text(plate.read_text().replace("f_yk = 500", "f_yk = 460"))
    run_job(plate, pictures=False)
    assert (folder / "steel.parquet").stat().st_mtime_ns != written["steel.parquet"]


def test_what_was_loaded_is_read_back_as_it_was(tmp_path):
    """Every array, table and word of a project that is opened from its results is that of the tables."""
    from dataclasses import fields, is_dataclass

    job = write_wall(tmp_path)
    run_job(job, pictures=False)
    opened, read = Project.last_run(job), Project.of(job)
    shutil.rmtree(tmp_path / "results" / "store" / "input")
    assert opened.zones is opened.zones
    count = 0

    def same(a, b):
        nonlocal count
        count += 1
        if isinstance(b, np.ndarray):
            assert a.dtype == b.dtype
            np.testing.assert_array_equal(a, b)
        elif isinstance(b, pd.DataFrame):
            pd.testing.assert_frame_equal(a, b, check_exact=True, check_index_type=False)
        elif is_dataclass(b):
            assert type(a) is type(b)
            for f in fields(b):
                same(getattr(a, f.name), getattr(b, f.name))
        elif isinstance(b, dict):
            assert list(a) == list(b)
            for k in b:
                same(a[k], b[k])
        elif isinstance(b, list | tuple):
            assert len(a) == len(b)
            for x, y in zip(a, b, strict=True):
                same(x, y)
        else:
            assert a == b

    with pytest.MonkeyPatch.context() as patch:
        results, zones, combinations = opened.results, opened.zones, opened.combinations
        patch.setattr(loaded, "load", lambda *_: None)
        same(results, read.results)
        same(zones, read.zones)
        same(combinations, read.combinations)
    assert count > 100
