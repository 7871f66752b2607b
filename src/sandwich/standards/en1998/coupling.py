"""EN 1998-1:2004, 5.5.3.5: coupling beams of coupled walls."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1998-1:2004, 5.5.3.5(2)a, (5.50)", formula="V_Ed <= f_ctd b_w d; none from l/h = 3 either")
def V_no_diagonals(f_ctd: Any, b_w: Any, d: Any) -> Any:
    """Shear up to which a coupling beam needs no diagonals.

    Parameters
    ----------
    f_ctd : float or ndarray
        Design tensile strength of the concrete [MPa].
    b_w, d : float or ndarray
        Width and effective depth of the beam [mm].

    Returns
    -------
    V_no_diagonals : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.5.3.5(2)a, (5.50).

    Examples
    --------
    >>> V_no_diagonals(1.2, 400.0, 440.0)
    211200.0
    """
    return f_ctd * b_w * d


@clause("EN 1998-1:2004, 5.5.3.5(3)a, (5.51)", formula="V_Ed <= 2 A_si f_yd sin alpha")
def V_Rd_diagonal(A_si: Any, f_yd: Any, alpha: Any) -> Any:
    """Shear by the diagonals of a coupling beam.

    Parameters
    ----------
    A_si : float or ndarray
        Area of the bars of one diagonal [mm2].
    f_yd : float or ndarray
        Design strength [MPa].
    alpha : float or ndarray
        Angle between the diagonals and the axis of the beam [rad].

    Returns
    -------
    V_Rd_diagonal : float or ndarray
        Force [N].

    References
    ----------
    EN 1998-1:2004, 5.5.3.5(3)a, (5.51).

    Examples
    --------
    >>> round(float(V_Rd_diagonal(1256.6, 434.78, 0.186689)))
    202810
    """
    return 2.0 * np.asarray(A_si) * f_yd * np.sin(alpha)


@clause("EN 1998-1:2004, 5.5.3.5(3)a, (5.51)", formula="V_Ed/(2 f_yd sin alpha)")
def A_si(V_Ed: Any, f_yd: Any, alpha: Any) -> Any:
    """Area of the bars of one diagonal that a coupling beam needs.

    Parameters
    ----------
    V_Ed : float or ndarray
        Design shear [N].
    f_yd : float or ndarray
        Design strength [MPa].
    alpha : float or ndarray
        Angle between the diagonals and the axis of the beam [rad].

    Returns
    -------
    A_si : float or ndarray
        Area [mm2].

    References
    ----------
    EN 1998-1:2004, 5.5.3.5(3)a, (5.51).

    Examples
    --------
    >>> round(float(A_si(150e3, 434.78, 0.186689)), 1)
    929.4
    """
    return V_Ed / (2.0 * f_yd * np.sin(alpha))


@clause("EN 1998-1:2004, 5.5.3.5(3)b", formula="1.5 l_bd")
def l_bd_diagonal(l_bd: Any) -> Any:
    """Anchorage length of the diagonals of a coupling beam.

    Parameters
    ----------
    l_bd : float or ndarray
        Anchorage length in tension of other bars [mm].

    Returns
    -------
    l_bd_diagonal : float or ndarray
        Length [mm].

    References
    ----------
    EN 1998-1:2004, 5.5.3.5(3)b.

    Examples
    --------
    >>> float(l_bd_diagonal(800.0))
    1200.0
    """
    return 1.5 * np.asarray(l_bd)
