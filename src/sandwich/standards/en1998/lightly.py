"""EN 1998-1:2004, 5.1.2, 5.4.2.5 and 5.4.3.5: large lightly reinforced walls."""

from __future__ import annotations

import math
from typing import Any, Final

import numpy as np

from sandwich.core.shown import Sentence
from sandwich.core.trace import clause
from sandwich.standards.en1998.confinement import held_max
from sandwich.standards.interface.seismic import BoundaryNeed, SeismicShear, WallEnd
from sandwich.standards.interface.seismic_names import LARGE, LENGTH, SPACING, THIN, TIE, one_check
from sandwich.standards.interface.walls import MemberCheck

NAME: Final = "large lightly reinforced"
LARGE_T_1: Final = 0.5  # s, 5.2.2.1(3)
EPS_CU_DYNAMIC: Final = 0.005  # of unconfined concrete beside the dynamic axial force, 5.4.3.5.1(4)
LONG: Final = 1 / 3  # sigma_cm/f_cd from which the boundary elements are longer than the thickness
CLAUSES: Final = {LENGTH: "5.4.3.5.3(2)", SPACING: "5.4.3.5.3(1)", TIE: "5.4.3.5.3(1)"}


@clause("EN 1998-1:2004, 5.1.2", formula="l_w = min(4 m, 2 h_w/3)")
def l_w_large(h_w: Any) -> Any:
    """Minimum length of a large lightly reinforced wall.

    Parameters
    ----------
    h_w : float or ndarray
        Height of the wall [mm].

    Returns
    -------
    l_w_large : float or ndarray
        Length [mm].

    References
    ----------
    EN 1998-1:2004, 5.1.2.

    Examples
    --------
    >>> float(l_w_large(4500.0)), float(l_w_large(15e3))
    (3000.0, 4000.0)
    """
    return np.minimum(4000.0, 2.0 * np.asarray(h_w) / 3.0)


@clause("EN 1998-1:2004, 5.4.2.5(4), (5)", formula="0.5 of the axial force of gravity, plus and minus; 0 up to q = 2")
def N_dynamic(N_g: Any, q: Any) -> Any:
    """Dynamic component of the axial force of a large lightly reinforced wall.

    Parameters
    ----------
    N_g : float or ndarray
        Axial force by gravity in the seismic situation [N].
    q : float or ndarray
        Behaviour factor [-].

    Returns
    -------
    N_dynamic : float or ndarray
        Force, of either sign [N].

    References
    ----------
    EN 1998-1:2004, 5.4.2.5(4), (5).

    Examples
    --------
    >>> float(N_dynamic(-800e3, 3.0)), float(N_dynamic(-800e3, 2.0))
    (400000.0, 0.0)
    """
    return np.where(np.asarray(q) > 2.0, 0.5, 0.0) * np.abs(N_g)


@clause("EN 1998-1:2004, 5.4.3.5.3(2)", formula="max(b_w, 3 b_w sigma_cm/f_cd)")
def l_c_lightly(b_w: Any, sigma_cm: Any, f_cd: Any) -> Any:
    """Minimum length of the boundary elements of a large lightly reinforced wall.

    Parameters
    ----------
    b_w : float or ndarray
        Thickness [mm].
    sigma_cm : float or ndarray
        Mean stress of the concrete in the compression zone in bending with axial force [MPa].
    f_cd : float or ndarray
        Design strength of the concrete [MPa].

    Returns
    -------
    l_c_lightly : float or ndarray
        Length [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.5.3(2).

    Examples
    --------
    >>> float(l_c_lightly(200.0, 16.0, 20.0)), float(l_c_lightly(200.0, 5.0, 20.0))
    (480.0, 200.0)
    """
    return np.maximum(b_w, 3.0 * np.asarray(b_w) * sigma_cm / f_cd)


@clause(
    "EN 1998-1:2004, 5.4.3.5.3(2)", formula="12 mm in the lowest storey and where l_w falls by more than h_s/3; 10 mm"
)
def d_bL_lightly(l_w: Any, l_below: Any, h_s: Any) -> Any:
    """Minimum diameter of vertical bars in the boundary elements of a large lightly reinforced wall.

    Parameters
    ----------
    l_w, l_below : float or ndarray
        Length of the wall, and in the storey below, 0 where there is none [mm].
    h_s : float or ndarray
        Clear height of the storey [mm].

    Returns
    -------
    d_bL_lightly : float or ndarray
        Diameter [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.5.3(2).

    Examples
    --------
    >>> [float(d_bL_lightly(4000.0, below, 3000.0)) for below in (0.0, 5100.0, 4900.0)]
    [12.0, 12.0, 10.0]
    """
    lowest = np.asarray(l_below) <= 0.0
    return np.where(lowest | (np.asarray(l_below) - l_w > np.asarray(h_s) / 3.0), 12.0, 10.0)


@clause("EN 1998-1:2004, 5.4.3.5.3(1)", formula="min(100 mm, 8 d_bL)")
def s_lightly(d_bL: Any) -> Any:
    """Largest spacing of ties that hold vertical bars of a large lightly reinforced wall.

    Parameters
    ----------
    d_bL : float or ndarray
        Diameter of the vertical bars [mm].

    Returns
    -------
    s_lightly : float or ndarray
        Spacing [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.5.3(1).

    Examples
    --------
    >>> float(s_lightly(12.0)), float(s_lightly(16.0))
    (96.0, 100.0)
    """
    return np.minimum(100.0, 8.0 * np.asarray(d_bL))


@clause("EN 1998-1:2004, 5.4.3.5.3(1)", formula="max(6 mm, d_bL/3)")
def d_bw_lightly(d_bL: Any) -> Any:
    """Minimum diameter of ties that hold vertical bars of a large lightly reinforced wall.

    Parameters
    ----------
    d_bL : float or ndarray
        Diameter of the vertical bars [mm].

    Returns
    -------
    d_bw_lightly : float or ndarray
        Diameter [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.5.3(1).

    Examples
    --------
    >>> float(d_bw_lightly(12.0)), round(float(d_bw_lightly(25.0)), 3)
    (6.0, 8.333)
    """
    return np.maximum(6.0, np.asarray(d_bL) / 3.0)


@clause("EN 1998-1:2004, 5.4.3.5.2(4)", formula="1.5 l_bd")
def l_bd_clamping(l_bd: Any) -> Any:
    """Anchorage length of bars across construction joints of a large lightly reinforced wall.

    Parameters
    ----------
    l_bd : float or ndarray
        Anchorage length of EN 1992-1-1 [mm].

    Returns
    -------
    l_bd_clamping : float or ndarray
        Length [mm].

    References
    ----------
    EN 1998-1:2004, 5.4.3.5.2(4).

    Examples
    --------
    >>> float(l_bd_clamping(400.0))
    600.0
    """
    return 1.5 * np.asarray(l_bd)


def boundary_need(end: WallEnd, f_cd: float, sigma_cm: float) -> BoundaryNeed:
    """Both ends of every storey have boundary elements, whose bars are held one by one."""
    d = float(d_bL_lightly(end.l_w, end.l_below, end.h_s))
    length = min(float(l_c_lightly(end.t, sigma_cm, f_cd)), end.l_w)
    thin = one_check(THIN, "5.4.3.5.3(2)", d, end.d_b, "mm", Sentence.minimum("more bars: of {} at least", d))
    return BoundaryNeed(
        needed=True, trigger="large lightly reinforced", clause="5.4.3.5.3", demand=sigma_cm / f_cd, limit=LONG,
        unit="sigma_cm/f_cd", length=length, width=0.0, extent=end.h_w, ties=math.nan,
        spacing=float(s_lightly(end.d_b)), held=float(held_max(False)), d_tie=float(d_bw_lightly(end.d_b)), rho=0.0,
        rho_length=length, clauses=CLAUSES, limits=(thin,),
    )  # fmt: skip


def long_enough(of: SeismicShear) -> MemberCheck:
    """Length of a wall that counts as large."""
    least = float(l_w_large(of.h_w))
    note = Sentence.minimum("{} of length, or a ductile wall by another system", least)
    return one_check(LARGE, "5.1.2", least, of.part.length, "mm", note)
