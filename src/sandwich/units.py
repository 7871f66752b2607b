"""Units at the door: factors from declared units to N, mm, MPa. Inside there are no other units."""

from __future__ import annotations

import functools
import re
from typing import TYPE_CHECKING, Final

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
}
_USUAL: Final = {
    "length": "m",
    "thickness": "mm",
    "membrane": "kN/m",
    "moment": "kN*m/m",
    "shear": "kN/m",
    "force": "kN",
    "couple": "kN*m",
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

    registry = _registry()
    try:
        value = registry.Quantity(1.0, _spelled(unit)).to(INTERNAL[quantity]).magnitude
    except pint.errors.DimensionalityError as error:
        raise ValueError(f"'{unit}' is not a unit of {quantity}; a unit like '{_USUAL[quantity]}' is") from error
    except Exception as error:  # pint raises many kinds for text that is no unit
        raise ValueError(f"'{unit}' is not a known unit; a unit of {quantity} is '{_USUAL[quantity]}'") from error
    return float(f"{value:.15g}")


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
