"""What the documents say of settings is what the job takes."""

import re
from pathlib import Path

import pytest

from sandwich.job.actions import Action, Case, Combination, Rules
from sandwich.job.bars import Bars
from sandwich.job.building import Building, Neighbour
from sandwich.job.plain_walls import BearingWall, FootingWall, Soil
from sandwich.job.punching import Punching
from sandwich.job.service import ServiceChecks, Water
from sandwich.job.source import Input, MeshFile, ResultSet, Signs, Table, Units
from sandwich.job.strip import Strip
from sandwich.job.tendons import Tendons
from sandwich.job.walls import BoundaryBars, GivenTies, OwnCut, Seismic, Spectrum, Storeys, Wall, WallBars
from sandwich.job.zone import Direction, Faces, Peaks, StripEdges, Support, TopSide, Zone

ROOT = Path(__file__).parents[1]
MODELS = (
    Input,
    MeshFile,
    Table,
    Units,
    Signs,
    ResultSet,
    Zone,
    Direction,
    TopSide,
    Bars,
    Faces,
    Peaks,
    Case,
    Action,
    Rules,
    Combination,
    Strip,
    Support,
    StripEdges,
    Punching,
    ServiceChecks,
    Water,
    Tendons,
    Storeys,
    Spectrum,
    Wall,
    WallBars,
    BoundaryBars,
    GivenTies,
    Seismic,
    Building,
    Neighbour,
    OwnCut,
    BearingWall,
    FootingWall,
    Soil,
)


@pytest.mark.parametrize("model", MODELS, ids=lambda m: m.__name__)
def test_every_setting_is_described(model: type):
    page = (ROOT / "docs" / "job-file.md").read_text()
    words = set(re.findall(r"\w+", page))
    for name, field in model.__pydantic_fields__.items():
        assert (field.alias or name) in words, f"{name} of {model.__name__}"


@pytest.mark.parametrize("file", ["README.md", "docs/job-file.md", "docs/validation.md"])
def test_links_lead_somewhere(file):
    for link in re.findall(r"\]\(([^)#]+)\)", (ROOT / file).read_text()):
        assert (ROOT / file).parent.joinpath(link).exists(), link
