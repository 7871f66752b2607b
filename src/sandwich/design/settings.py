"""What is the same for all points of a zone, as the stages take it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final

from sandwich.core.errors import check_choice, check_number
from sandwich.core.section import BarLayers, Concrete, Steel
from sandwich.standards.interface import Standard

_WORDS: Final = {
    "method": ("sandwich", "plate", "membrane"), "minimum": ("none", "slab", "wall"), "vertical": ("x", "y"),
    "uncracked": ("report", "exempt"), "shear_steel": ("cos2", "cos4"),
}  # fmt: skip


@dataclass(frozen=True)
class LinkRule:
    """Links where the shear asks for them: cot theta of the struts [-]; bars may first be raised by a ratio [-]."""

    cot_theta: float = 1.0
    raise_bars: float = 1.0

    def __post_init__(self) -> None:
        check_number("cot_theta", self.cot_theta, 1.0, 2.5)
        check_number("raise_bars", self.raise_bars, 1.0, 3.0)


@dataclass(frozen=True)
class Settings:
    """What is the same for all points of a zone."""

    bars: BarLayers
    concrete: Concrete
    steel: Steel
    standard: Standard
    method: str = "sandwich"
    minimum: str = "none"
    vertical: str = "y"
    faces: tuple[str, str] = ("bottom", "top")
    joint: bool = False
    links: LinkRule | None = None
    uncracked: str = "report"
    shear_steel: str = "cos2"
    compression: bool = False
    eccentricity: bool | None = None
    own_minimum: tuple[float, ...] = ()  # mm2/mm of each layer everywhere, none without

    @property
    def minimum_eccentricity(self) -> bool:
        """Whether compression is checked with the minimum eccentricity of the standard; walls by default."""
        looked_at = self.method != "plate"
        return looked_at and (self.minimum == "wall" if self.eccentricity is None else self.eccentricity)

    def __post_init__(self) -> None:
        for name, allowed in _WORDS.items():
            check_choice(name, getattr(self, name), allowed)
        if not callable(getattr(self.standard, "strengths", None)):
            found = f"standard = {self.standard!r} is a {type(self.standard).__name__}"
            raise TypeError(f"{found}; a standard such as EN1992.recommended() is wanted")
        if self.joint and self.standard.strengths(self.concrete, self.steel, "persistent").per_degree:
            raise ValueError("the angle rule of 6.109 holds for each combination; take 'joint' out, or choose 6.5.2")

        if self.links is not None and self.links.cot_theta != 1.0 and "cot_theta" not in self.standard.own_settings:
            raise ValueError(
                f"cot_theta = {self.links.cot_theta:g}; {self.standard.name} has struts of 45 degrees, 1 is wanted"
            )

    @property
    def names(self) -> tuple[str, ...]:
        """Names of the bar layers."""
        return self.bars.names(*self.faces)

    def turned(self, top: float) -> Settings:
        """The same at a point whose top bars run at an angle to those of the zone [rad]."""
        return self if top == 0.0 else replace(self, bars=replace(self.bars, top_turn=top))
