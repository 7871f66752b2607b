"""Standards by their names: the one place that knows which there are."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Final

from sandwich.core.errors import check_choice, check_kind
from sandwich.standards.aci318.standard import ACI318
from sandwich.standards.aci318_14.standard import ACI318Of2014
from sandwich.standards.en1992.standard import ANGLE_RULE, COUNTRIES, EN1992
from sandwich.standards.interface import Standard
from sandwich.standards.is456.standard import IS456

RECOMMENDED: Final = "recommended"
PLAIN_RULE: Final = "6.5.2"  # for the strength of cracked layers


def _en1992(parameters: str, folder: Path) -> EN1992:
    if parameters == RECOMMENDED:
        return EN1992.recommended()
    return EN1992.national(parameters) if parameters in COUNTRIES else EN1992.with_values(folder / parameters)


STANDARDS: Final[dict[str, Callable[[str, Path], Standard]]] = {
    "EN 1992-1-1:2004": _en1992,
    "ACI 318-19": lambda _parameters, _folder: ACI318(),
    "ACI 318-14": lambda _parameters, _folder: ACI318Of2014(),
    "IS 456:2000": lambda _parameters, _folder: IS456(),
}


def standard_named(
    name: str, parameters: str = RECOMMENDED, *, folder: Path | None = None, cracked: str | None = None
) -> Standard:
    """A standard by its name, with a set of its values.

    Parameters
    ----------
    name : str
        One of `STANDARDS`.
    parameters : str
        'recommended', one of the shipped national sets, or a TOML file of values.
    folder : Path, optional
        Where the path of such a file starts; the working folder by default.
    cracked : str, optional
        Rule for the strength of cracked layers, of a standard that has a choice.

    Raises
    ------
    TypeError, ValueError
        If there is no standard of that name, or it has no such values or rule.
    InputError
        If a file of values will not do.

    Examples
    --------
    >>> standard_named("IS 456:2000").name
    'IS 456:2000'
    """
    check_choice("standard", name, tuple(STANDARDS))
    check_choice("cracked", PLAIN_RULE if cracked is None else cracked, (PLAIN_RULE, ANGLE_RULE))
    check_kind("parameters", parameters, str, f"'{RECOMMENDED}'")
    found = STANDARDS[name](parameters, folder or Path())
    if isinstance(found, EN1992):
        return replace(found, cracked=cracked or PLAIN_RULE)
    if parameters != RECOMMENDED or cracked not in (None, PLAIN_RULE):
        raise ValueError(f"{name} has one set of values and one rule of cracked layers; take the others out")
    return found


def as_standard(given: Standard | str | None) -> Standard:
    """A standard that is given as such or by its name; EN 1992-1-1:2004 with the recommended values by default."""
    if given is None:
        return EN1992.recommended()
    return standard_named(given) if isinstance(given, str) else given
