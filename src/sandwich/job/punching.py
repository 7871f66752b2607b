"""Places where a slab may punch: columns, wall ends and corners, loaded areas."""

from __future__ import annotations

from typing import Annotated, Final, Literal

from pydantic import Field, model_validator

from sandwich.job.base import Finite, Millimetres, Model, Place, record

DROP: Final = "drop panel"
_SIZES = {
    "column": "c1 and c2 in mm, or diameter",
    "loaded area": "c1 and c2 in mm, or diameter",
    DROP: "c1 and c2 in mm, or diameter",
    "wall end": "thickness in mm",
    "wall corner": "thickness in mm and second, the direction of the other wall",
}


@record
class Punching(Model):
    """Alike columns, wall ends or corners, loaded areas or drop panels of one zone [mm], at their places [m].

    A drop panel is looked at in the thinner slab beyond it, which is that of the zone; the column on it is an entry of
    its own.
    `along` is the direction of side c1, that of the x bars where it is not given, or the one in which a wall goes on
    from its end; `second` that of the other wall at a corner. The force is integrated around the control perimeter,
    or that of the supports inside the area in plan, or given by case [kN], positive where it pushes towards the top.
    `beta` replaces the factor of the unbalanced moment; bars in tension may be raised by a ratio [-] before
    reinforcement is placed. `modified_gamma_f` lets flexure transfer more of a moment, by ACI 318-19, 8.4.2.2.4.
    """

    zone: str
    at: Annotated[tuple[Place, ...], Field(min_length=1)]
    kind: Literal["column", "wall end", "wall corner", "loaded area", "drop panel"] = "column"
    c1: Millimetres | None = None
    c2: Millimetres | None = None
    diameter: Millimetres | None = None
    thickness: Millimetres | None = None
    along: Place | None = None
    second: Place | None = None
    force: Literal["integrated", "reactions"] | dict[str, Finite] = "integrated"
    beta: Annotated[float, Field(ge=1.0, le=5.0)] | None = None
    raise_bars: Annotated[float, Field(ge=1.0, le=3.0)] = 1.0
    reinforcement: Literal["none", "links", "studs"] = "none"
    modified_gamma_f: bool = False
    combinations: tuple[str, ...] = ("*",)

    @model_validator(mode="after")
    def _has_a_size(self) -> Punching:
        rectangle = self.c1 is not None and self.c2 is not None and self.diameter is None
        circle = self.diameter is not None and self.c1 is None and self.c2 is None
        wall = self.kind.startswith("wall")
        sized = self.thickness is not None and not (self.c1 or self.c2 or self.diameter) if wall else (
            (rectangle or circle) and self.thickness is None
        )  # fmt: skip
        if not sized or (self.second is not None) != (self.kind == "wall corner"):
            raise ValueError(f"the size of a {self.kind} is not given, or twice; use {_SIZES[self.kind]}")
        if wall and self.along is None:
            raise ValueError(f"along is not given; use along = [x, y, z], in which the {self.kind} goes on")
        if wall and self.force == "reactions":
            raise ValueError("a wall hands its force over along its length; use force = 'integrated'")
        if self.modified_gamma_f and (self.kind != "column" or self.beta is not None):
            raise ValueError("modified_gamma_f goes with columns without beta; take one out")
        if self.force == {}:
            raise ValueError("force names no case; write { CASE = kN } of every case, or 'integrated'")
        return self

    @property
    def is_panel(self) -> bool:
        """Whether it is a drop panel and no place of a force by itself."""
        return self.kind == DROP

    @property
    def reach(self) -> float:
        """Distance from its middle up to which a support is under it [mm]."""
        sides = [v for v in (self.c1, self.c2, self.diameter, self.thickness) if v is not None]
        return max(sides)

    def names(self, name: str) -> list[str]:
        """Names of the places of an entry of the job."""
        return [name] if len(self.at) == 1 else [f"{name} {i + 1}" for i in range(len(self.at))]
