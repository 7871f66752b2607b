"""What the cover and the dimensions of a zone go by: exposure and fire."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from sandwich.job.base import Millimetres0, Model, record


@record
class Exposure(Model):
    """Exposure of the faces of a zone, in the classes of the standard.

    Attributes
    ----------
    bottom, top : str
        Class of exposure of each face.
    design_life : int
        Design working life [years].
    structural_class : str, optional
        Class to start from (EN 1992-1-1, table 4.3N).
    quality_control : bool
        Whether special quality control of the concrete is ensured.
    tolerance : float, optional
        Allowance for deviation [mm].
    """

    bottom: str
    top: str
    design_life: Literal[50, 100] = 50
    structural_class: Literal["S1", "S2", "S3", "S4", "S5", "S6"] | None = None
    quality_control: bool = False
    tolerance: Millimetres0 | None = None


@record
class Fire(Model):
    """Fire resistance of a zone.

    Attributes
    ----------
    minutes : int
        Fire resistance [min].
    sides : int
        Exposed sides of a wall.
    mu_fi : float
        Use of a wall in the fire situation [-].
    spans : str
        Of a slab: one way, two way up to a ratio of the spans of 1.5, two way long up to 2, flat.
    aggregate : str
        Of the concrete.
    restrained, continuous : bool
        Whether a slab is restrained against expansion; whether it is continuous.
    """

    minutes: Annotated[int, Field(gt=0)]
    sides: Literal[1, 2] = 1
    mu_fi: Annotated[float, Field(gt=0.0, le=0.7)] = 0.7
    spans: Literal["one way", "two way", "two way long", "flat"] = "one way"
    aggregate: Literal["siliceous", "carbonate", "sand-lightweight", "lightweight"] = "siliceous"
    restrained: bool = False
    continuous: bool = False
