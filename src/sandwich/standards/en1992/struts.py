"""EN 1992-1-1:2004, 6.5.2: strength of compressed concrete, as the layers of a shell take it."""

from __future__ import annotations

from typing import Any

from sandwich.core.trace import clause


@clause("EN 1992-1-1:2004, 6.5.2(2), (6.57N)", formula="nu' = 1 - f_ck/250")
def nu_prime(f_ck: Any) -> Any:
    """Reduction factor for concrete cracked under transverse tension.

    Parameters
    ----------
    f_ck : float or ndarray
        Characteristic cylinder strength [MPa], any shape.

    Returns
    -------
    nu_prime : float or ndarray
        Factor [-], the shape of `f_ck`.

    References
    ----------
    EN 1992-1-1:2004, 6.5.2(2), expression (6.57N).

    Examples
    --------
    >>> nu_prime(30.0)
    0.88
    """
    return 1.0 - f_ck / 250.0


@clause("EN 1992-1-1:2004, 6.5.2(1), (6.55); 3.1.7(3)", formula="sigma_Rd,max = eta f_cd")
def sigma_Rd_max(f_cd: Any, eta: Any = 1.0) -> Any:
    """Strength of a layer without transverse tension.

    Parameters
    ----------
    f_cd : float or ndarray
        Design compressive strength [MPa], any shape.
    eta : float or ndarray
        Strength factor of the rectangular block [-], for a layer is such a block.

    Returns
    -------
    sigma_Rd_max : float or ndarray
        Strength [MPa].

    References
    ----------
    EN 1992-1-1:2004, 6.5.2(1), expression (6.55); 3.1.7(3) for eta above C50/60.

    Examples
    --------
    >>> sigma_Rd_max(20.0)
    20.0
    """
    return eta * f_cd


@clause("EN 1992-1-1:2004, 6.5.2(2), (6.56)", formula="sigma_Rd,max = k nu' f_cd")
def sigma_Rd_max_cracked(f_cd: Any, nu_prime: Any, *, k: Any = 0.6) -> Any:
    """Strength of a layer with transverse tension or bars that pull across it.

    Parameters
    ----------
    f_cd : float or ndarray
        Design compressive strength [MPa], any shape.
    nu_prime : float or ndarray
        Reduction factor [-].
    k : float
        Factor of the strut [-]; 0.6 in the standard.

    Returns
    -------
    sigma_Rd_max : float or ndarray
        Strength [MPa].

    References
    ----------
    EN 1992-1-1:2004, 6.5.2(2), expression (6.56).

    Examples
    --------
    >>> round(sigma_Rd_max_cracked(20.0, 0.88), 2)
    10.56
    """
    return k * nu_prime * f_cd
