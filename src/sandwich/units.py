"""Units at the door: factors from declared units to N, mm, MPa. Inside there are no other units."""

from __future__ import annotations

import functools
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    import pint

INTERNAL: Final = {
    "length": "mm",
    "thickness": "mm",
    "membrane": "N/mm",
    "moment": "N*mm/mm",
    "shear": "N/mm",
}
_USUAL: Final = {"length": "m", "thickness": "mm", "membrane": "kN/m", "moment": "kN*m/m", "shear": "kN/m"}


@functools.cache
def factor(quantity: str, unit: str) -> float:
    """Factor that turns a value in `unit` into the internal unit of `quantity`.

    Parameters
    ----------
    quantity : str
        One of `INTERNAL`.
    unit : str
        Any unit that pint knows, such as ``"kN*m/m"`` or ``"kip/ft"``.

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
        value = registry.Quantity(1.0, unit).to(INTERNAL[quantity]).magnitude
    except pint.errors.DimensionalityError as error:
        raise ValueError(f"'{unit}' is not a unit of {quantity}; a unit like '{_USUAL[quantity]}' is") from error
    except Exception as error:  # pint raises many kinds for text that is no unit
        raise ValueError(f"'{unit}' is not a known unit; a unit of {quantity} is '{_USUAL[quantity]}'") from error
    return float(f"{value:.15g}")


@functools.cache
def _registry() -> pint.UnitRegistry[float]:
    import pint

    return pint.UnitRegistry()
