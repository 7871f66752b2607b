"""Units at the door: factors from declared units to N, mm, MPa. Inside there are no other units."""

from __future__ import annotations

import functools
import re
from typing import TYPE_CHECKING, Final

from sandwich.core.bar_sizes import NAMED

if TYPE_CHECKING:
    import pint

INTERNAL: Final = {
    "length": "mm",
    "thickness": "mm",
    "membrane": "N/mm",
    "moment": "N*mm/mm",
    "shear": "N/mm",
    "force": "N",
    "couple": "N*mm",
    "stress": "MPa",
}
_USUAL: Final = {
    "length": "m",
    "thickness": "mm",
    "membrane": "kN/m",
    "moment": "kN*m/m",
    "shear": "kN/m",
    "force": "kN",
    "couple": "kN*m",
    "stress": "MPa",
}


_FACTORS: Final = {  # of the units that most tables have; a test holds them against pint
    "length": {"m": 1000.0, "mm": 1.0, "cm": 10.0},
    "thickness": {"m": 1000.0, "mm": 1.0, "cm": 10.0},
    "membrane": {"kN/m": 1.0, "N/mm": 1.0},
    "moment": {"kN*m/m": 1000.0, "kNm/m": 1000.0, "N*mm/mm": 1.0},
    "shear": {"kN/m": 1.0, "N/mm": 1.0},
    "force": {"kN": 1000.0, "N": 1.0},
    "couple": {"kN*m": 1e6, "kNm": 1e6, "N*mm": 1.0},
    "stress": {"MPa": 1.0},
}


@functools.cache
def factor(quantity: str, unit: str) -> float:
    """Factor that turns a value in `unit` into the internal unit of `quantity`.

    Parameters
    ----------
    quantity : str
        One of `INTERNAL`.
    unit : str
        Any unit that pint knows, such as ``"kN*m/m"`` or ``"kip/ft"``; also spelled ``"kNm/m"``, ``"kip-ft/ft"``
        and ``"lbf·in/in"``; a tonf is 1000 kgf.

    Returns
    -------
    float
        The factor [internal unit per unit].

    Raises
    ------
    ValueError
        If the unit is not known or has another dimension.

    Examples
    --------
    >>> factor("moment", "kN*m/m")
    1000.0
    """
    import pint

    known = _FACTORS[quantity].get(unit)
    if known is not None:
        return known
    registry = _registry()
    try:
        value = registry.Quantity(1.0, _spelled(unit)).to(INTERNAL[quantity]).magnitude
    except pint.errors.DimensionalityError as error:
        raise ValueError(f"'{unit}' is not a unit of {quantity}; a unit like '{_USUAL[quantity]}' is") from error
    except Exception as error:  # pint raises many kinds for text that is no unit
        raise ValueError(f"'{unit}' is not a known unit; a unit of {quantity} is '{_USUAL[quantity]}'") from error
    return float(f"{value:.15g}")


def read_value(quantity: str, text: str) -> float:
    """A number with its unit, or the designation of a bar, in the internal unit.

    Parameters
    ----------
    quantity : str
        One of `INTERNAL`.
    text : str
        Such as ``"10 in"``, ``"4000 psi"`` or ``"#5"``.

    Returns
    -------
    float
        The value [mm, MPa, ...].

    Raises
    ------
    ValueError
        If it is none of these.

    Examples
    --------
    >>> read_value("length", "10 in"), round(read_value("length", "#5"), 3)
    (254.0, 15.875)
    """
    if quantity == "length" and text.strip() in NAMED:
        return NAMED[text.strip()] * 25.4
    found = re.fullmatch(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*([A-Za-z].*)", text)
    if found is None:
        raise ValueError(f"'{text}' is no number with a unit; use a number or text like '10 {_USUAL[quantity]}'")
    return float(f"{float(found[1]) * factor(quantity, found[2]):.12g}")


def is_unit(text: str) -> bool:
    """Whether a text is the name of a unit, such as a cell of a row of units."""
    try:
        _registry().Unit(_spelled(text))
    except Exception:  # pint raises many kinds for text that is no unit
        return False
    return bool(text.strip())


def _spelled(unit: str) -> str:
    """A unit as pint reads it: people write products with a point, a dash or nothing."""
    text = re.sub(r"[·⋅]|(?<=[A-Za-z])-(?=[A-Za-z])", "*", unit.strip())
    if text[:1] + text[-1:] in ("[]", "()"):
        text = text[1:-1]
    return re.sub(r"\b([kMG]?N)m\b", r"\1*m", text).replace("²", "**2")


@functools.cache
def _registry() -> pint.UnitRegistry[float]:
    import pint

    registry: pint.UnitRegistry[float] = pint.UnitRegistry()
    registry.define("tonf = 1000 * kgf")
    return registry
