"""ACI 318-19, 8.4.2.2 and 8.4.4.2.2: what flexure and what shear transfer of a moment between slab and column."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final, NamedTuple

import numpy as np

from sandwich.core.trace import clause
from sandwich.standards.aci318.punching import gamma_v

BESIDE: Final = 1.5  # thicknesses on each side of a column, 8.4.2.2.3


MORE: Final = 1.25  # times gamma_f, of moments inside and along edges; others may go by flexure wholly


class Modified(NamedTuple):
    """A row of Table 8.4.2.2.4: part of phi v_c, minimum strain, factor on gamma_f, which is 1 at most."""

    part: float
    strain: float
    most: float


class Modification(NamedTuple):
    """Table 8.4.2.2.4: corner columns, moments across the edge of edge columns, and all others."""

    corner: Modified
    across_edge: Modified
    other: Modified


@clause("ACI 318-19, 8.4.2.2.2", formula="gamma_f = 1 / (1 + 2/3 (b_1/b_2)^(1/2))")
def gamma_f(b_1: Any, b_2: Any) -> Any:
    """Part of the moment between slab and column that flexure transfers.

    Parameters
    ----------
    b_1, b_2 : float or ndarray
        Sides of the critical section along the span of the moment and across it [mm].

    Returns
    -------
    gamma_f : float or ndarray
        Part [-].

    References
    ----------
    ACI 318-19, 8.4.2.2.2.

    Examples
    --------
    >>> round(float(gamma_f(600.0, 600.0)), 3)
    0.6
    """
    return 1.0 - gamma_v(b_1, b_2)


@clause("ACI 318-19, 8.4.2.2.3", formula="b_slab = c_2 + 2 min(1.5 h, x_panel + 1.5 h_slab)")
def b_slab(c_2: Any, h: Any, x_panel: Any = np.inf, h_slab: Any = 0.0) -> Any:
    """Width of the slab that transfers moment to a column by flexure.

    Parameters
    ----------
    c_2 : float or ndarray
        Side of the column across the span of the moment [mm].
    h : float or ndarray
        Thickness; of the drop panel, if the column stands on one [mm].
    x_panel, h_slab : float or ndarray
        Distance from the column to the edge of the panel, and thickness of the slab beyond [mm].

    Returns
    -------
    b_slab : float or ndarray
        Width [mm].

    References
    ----------
    ACI 318-19, 8.4.2.2.3.

    Examples
    --------
    >>> float(b_slab(400.0, 200.0))
    1000.0
    """
    return c_2 + 2.0 * np.minimum(BESIDE * h, x_panel + BESIDE * h_slab)


@clause(
    "ACI 318-19, Table 8.4.2.2.4; ACI 318-14, Table 8.4.2.3.4",
    formula="k = most (inf: all by flexure) if v_uv <= part phi v_c and epsilon_t >= strain, else 1; "
    "part 0.5 at corners, 0.75 across edges, else 0.4; strain epsilon_ty + 0.003, else + 0.008 (318-14: 0.004, 0.010)",
)
def k_f(v_uv: Any, phi_v_c: Any, epsilon_t: Any, part: Any, strain: Any, most: Any) -> Any:
    """Factor by which gamma_f may be raised, to 1 at most.

    Parameters
    ----------
    v_uv : float or ndarray
        Stress of the force alone on the critical section [MPa].
    phi_v_c : float or ndarray
        Design strength of the concrete [MPa].
    epsilon_t : float or ndarray
        Net tensile strain of the bars in b_slab at nominal strength [-].
    part, strain, most : float
        Row of the table: part of the strength, minimum strain, factor, infinite for all by flexure [-].

    Returns
    -------
    k : float or ndarray
        Factor [-]; infinite where flexure may transfer all.

    References
    ----------
    ACI 318-19, 8.4.2.2.4 and Table 8.4.2.2.4; ACI 318-14, 8.4.2.3.4 and Table 8.4.2.3.4.

    Examples
    --------
    >>> float(k_f(0.3, 1.2, 0.012, part=0.4, strain=0.0101, most=1.25))
    1.25
    """
    light = np.asarray(v_uv) <= part * np.asarray(phi_v_c)
    return np.where(light & (np.asarray(epsilon_t) >= strain), most, 1.0)


@clause("ACI 318-19, 8.4.2.2.4, 8.4.4.2.2", formula="gamma_v = 1 - min(k gamma_f, 1)")
def gamma_v_modified(gamma_f: Any, k: Any) -> Any:
    """Part of the moment that eccentricity of shear carries where gamma_f is modified.

    Parameters
    ----------
    gamma_f : float or ndarray
        Part that flexure transfers by 8.4.2.2.2 [-].
    k : float or ndarray
        Factor on it [-].

    Returns
    -------
    gamma_v : float or ndarray
        Part [-].

    References
    ----------
    ACI 318-19, 8.4.2.2.4 and 8.4.4.2.2.

    Examples
    --------
    >>> round(float(gamma_v_modified(0.6, 1.25)), 3)
    0.25
    """
    return 1.0 - np.minimum(np.asarray(k) * gamma_f, 1.0)


def modification(across: float, other: float) -> Modification:
    """The table by its minimum strains [-]: across edges and at corners, and elsewhere.

    References
    ----------
    ACI 318-19, Table 8.4.2.2.4; ACI 318-14, Table 8.4.2.3.4.
    """
    return Modification(Modified(0.5, across, np.inf), Modified(0.75, across, np.inf), Modified(0.4, other, MORE))


def part_by_shear(k: float) -> Callable[[float, float], float]:
    """What shear carries of a moment, from the sizes of the critical section, where gamma_f is k times as much."""
    return (lambda b_1, b_2: float(gamma_v_modified(gamma_f(b_1, b_2), k))) if k > 1.0 else gamma_v
