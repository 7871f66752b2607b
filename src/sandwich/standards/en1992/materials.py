"""EN 1992-1-1:2004, chapter 3: design strengths of concrete and steel. Strut strengths are in `struts.py`."""

from __future__ import annotations

from typing import Any

import numpy as np

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 3.1.6(1)P, (3.15)", formula="f_cd = alpha_cc f_ck / gamma_c")
def f_cd(f_ck: Any, *, gamma_c: Any = 1.5, alpha_cc: Any = 1.0) -> Any:
    """Design compressive strength of concrete.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa], any shape.
    gamma_c, alpha_cc : float
        Partial factor and coefficient for long-term effects [-]; nationally determined.

    Returns
    -------
    f_cd : float or ndarray
        Design strength [MPa], the shape of `f_ck`.

    References
    ----------
    EN 1992-1-1:2004, 3.1.6(1)P, expression (3.15).

    Examples
    --------
    >>> f_cd(30.0)
    20.0
    """
    return alpha_cc * f_ck / gamma_c


@clause("EN 1992-1-1:2004, 3.2.7(2), figure 3.8", formula="f_yd = f_yk / gamma_s")
def f_yd(f_yk: Any, *, gamma_s: Any = 1.15) -> Any:
    """Design yield strength of reinforcing steel, horizontal top branch.

    Parameters
    ----------
    f_yk : float or ndarray
        Characteristic yield strength [MPa], any shape.
    gamma_s : float
        Partial factor [-]; nationally determined.

    Returns
    -------
    f_yd : float or ndarray
        Design strength [MPa], the shape of `f_yk`.

    References
    ----------
    EN 1992-1-1:2004, 3.2.7(2), figure 3.8.

    Examples
    --------
    >>> round(f_yd(500.0), 2)
    434.78
    """
    return f_yk / gamma_s


@clause("EN 1992-1-1:2004, table 3.1", formula="f_cm = f_ck + 8")
def f_cm(f_ck: Any) -> Any:
    """Mean compressive strength of concrete.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa], any shape.

    Returns
    -------
    f_cm : float or ndarray
        Mean cylinder strength [MPa], the shape of `f_ck`.

    References
    ----------
    EN 1992-1-1:2004, table 3.1.

    Examples
    --------
    >>> f_cm(30.0)
    38.0
    """
    return f_ck + 8.0


@clause("EN 1992-1-1:2004, table 3.1", formula="f_ctm = 0.30 f_ck^(2/3) up to C50/60, else 2.12 ln(1 + (f_ck + 8)/10)")
def f_ctm(f_ck: Any) -> Any:
    """Mean tensile strength of concrete.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa], any shape.

    Returns
    -------
    f_ctm : float or ndarray
        Mean axial tensile strength [MPa], the shape of `f_ck`.

    References
    ----------
    EN 1992-1-1:2004, table 3.1.

    Examples
    --------
    >>> round(float(f_ctm(30.0)), 2)
    2.9
    """
    return np.where(np.asarray(f_ck) <= 50.0, 0.30 * np.power(f_ck, 2 / 3), 2.12 * np.log(1 + (f_ck + 8.0) / 10.0))


@clause("EN 1992-1-1:2004, 3.1.6(2)P, (3.16); table 3.1", formula="f_ctd = 0.7 f_ctm / gamma_c")
def f_ctd(f_ctm: Any, *, gamma_c: Any = 1.5) -> Any:
    """Design tensile strength of concrete.

    Parameters
    ----------
    f_ctm : float or ndarray
        Mean tensile strength [MPa].
    gamma_c : float
        Partial factor [-]; nationally determined.

    Returns
    -------
    f_ctd : float or ndarray
        Strength [MPa].

    References
    ----------
    EN 1992-1-1:2004, 3.1.6(2)P, expression (3.16) with alpha_ct = 1; f_ctk,0.05 = 0.7 f_ctm of table 3.1.

    Examples
    --------
    >>> round(f_ctd(3.0), 2)
    1.4
    """
    return 0.7 * f_ctm / gamma_c


@clause(
    "EN 1992-1-1:2004, 3.1.7(3), (3.21), (3.22)", formula="eta = 1.0 up to f_ck = 50 MPa, else 1.0 - (f_ck - 50)/200"
)
def eta(f_ck: Any) -> Any:
    """Strength factor of the rectangular stress block.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa], any shape.

    Returns
    -------
    eta : float or ndarray
        Factor on f_cd [-], the shape of `f_ck`.

    References
    ----------
    EN 1992-1-1:2004, 3.1.7(3), expressions (3.21), (3.22).

    Examples
    --------
    >>> float(eta(30.0)), float(eta(70.0))
    (1.0, 0.9)
    """
    return np.where(np.asarray(f_ck) <= 50.0, 1.0, 1.0 - (f_ck - 50.0) / 200.0)


@clause(
    "EN 1992-1-1:2004, 3.1.7(3), (3.19), (3.20)", formula="lambda = 0.8 up to f_ck = 50 MPa, else 0.8 - (f_ck - 50)/400"
)
def lambda_(f_ck: Any) -> Any:
    """Depth factor of the rectangular stress block: block depth over neutral axis depth.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa], any shape.

    Returns
    -------
    lambda_ : float or ndarray
        Block depth over x [-], the shape of `f_ck`.

    References
    ----------
    EN 1992-1-1:2004, 3.1.7(3), expressions (3.19), (3.20).

    Examples
    --------
    >>> float(lambda_(30.0))
    0.8
    """
    return np.where(np.asarray(f_ck) <= 50.0, 0.8, 0.8 - (f_ck - 50.0) / 400.0)


@clause(
    "EN 1992-1-1:2004, table 3.1",
    formula="eps_cu3 = 3.5/1000 up to f_ck = 50 MPa, else (2.6 + 35 ((90 - f_ck)/100)^4)/1000",
)
def eps_cu3(f_ck: Any) -> Any:
    """Ultimate compressive strain of concrete.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa], any shape.

    Returns
    -------
    eps_cu3 : float or ndarray
        Strain [-], the shape of `f_ck`.

    References
    ----------
    EN 1992-1-1:2004, table 3.1.

    Examples
    --------
    >>> float(eps_cu3(30.0))
    0.0035
    """
    return np.where(np.asarray(f_ck) <= 50.0, 3.5e-3, (2.6 + 35.0 * ((90.0 - f_ck) / 100.0) ** 4) / 1000.0)


@clause("EN 1992-1-1:2004, table 3.1", formula="E_cm = 22 (f_cm/10)^0.3 GPa")
def E_cm(f_cm: Any) -> Any:
    """Secant modulus of concrete.

    Parameters
    ----------
    f_cm : float or ndarray
        Mean compressive strength [MPa].

    Returns
    -------
    E_cm : float or ndarray
        Modulus [MPa].

    References
    ----------
    EN 1992-1-1:2004, table 3.1, 3.1.3(2): quartzite aggregates.

    Examples
    --------
    >>> round(E_cm(38.0), -1)
    32840.0
    """
    return 22_000.0 * (f_cm / 10.0) ** 0.3


@clause("EN 1992-1-1:2004, 7.4.3(5), (7.20)", formula="E_c,eff = E_cm/(1 + phi)")
def E_c_eff(E_cm: Any, phi: Any) -> Any:
    """Effective modulus of concrete that creeps.

    Parameters
    ----------
    E_cm : float or ndarray
        Secant modulus [MPa].
    phi : float or ndarray
        Creep coefficient of the load and time [-].

    Returns
    -------
    E_c_eff : float or ndarray
        Modulus [MPa].

    References
    ----------
    EN 1992-1-1:2004, 7.4.3(5), expression (7.20).

    Examples
    --------
    >>> E_c_eff(33000.0, 2.0)
    11000.0
    """
    return E_cm / (1.0 + phi)
