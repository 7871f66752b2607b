"""What a clause of crack width asks of a cracked section: one face, seen along the normal of its crack."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from sandwich.mechanics.cracked import CrackedState

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class FaceBars:
    """Bars of one face in r sections, b layers each.

    Areas (r, b) [mm2/mm], zero where a layer is not at this face; stresses [MPa], strains [-], diameters, covers to
    the bars of the layer and spacings [mm], each (r, b); angles from x towards y (r, b) [rad]. Bars that are not laid
    have an area and no spacing of their own yet. Names are those of the layers, b or none.
    """

    area: Floats
    stress: Floats
    strain: Floats
    diameter: Floats
    cover: Floats
    spacing: Floats
    angle: Floats
    laid: bool = True
    names: tuple[str, ...] = ()

    @property
    def there(self) -> NDArray[np.bool_]:
        """Layers at this face, shape (r, b)."""
        return np.asarray(self.area > 0.0)


@dataclass(frozen=True)
class FaceCrack:
    """The crack of one face in r sections.

    Attributes
    ----------
    h, d, x : ndarray, shape (r,)
        Thickness; depth of the bars in tension from the other face; compressed depth along the crack's normal, zero
        where the whole depth is in tension [mm].
    theta : ndarray, shape (r,)
        Direction of the principal tension at the level of the bars, which is the crack's normal, from x [rad].
    eps_1, eps_2 : ndarray, shape (r,)
        Principal strains there [-], without concrete in tension.
    near, far : ndarray, shape (r,)
        Strain along the normal at this and at the other face [-].
    sigma_c : ndarray, shape (r,)
        Mean stress of the whole section along the normal, compression positive [MPa].
    E_c, E_s : float
        Moduli of the concrete, effective, and of the bars [MPa].
    bars : FaceBars
        Bars of the face.
    """

    h: Floats
    d: Floats
    x: Floats
    theta: Floats
    eps_1: Floats
    eps_2: Floats
    near: Floats
    far: Floats
    sigma_c: Floats
    E_c: float
    E_s: float
    bars: FaceBars

    @property
    def open(self) -> NDArray[np.bool_]:
        """Sections that are in tension at the bars and at the face, shape (r,)."""
        return np.asarray((self.eps_1 > 0.0) & (self.near > 0.0))

    @property
    def across(self) -> Floats:
        """Cosine between each layer and the crack's normal, zero where there is none, shape (r, b)."""
        return np.where(self.bars.there, np.abs(np.cos(self.bars.angle - self.theta[:, None])), 0.0)


def along(strain: Floats, theta: Floats) -> Floats:
    """Normal strain of strains (..., 3) in a direction (...)."""
    c, s = np.cos(theta), np.sin(theta)
    return np.asarray(strain[..., 0] * c * c + strain[..., 1] * s * s + strain[..., 2] * c * s)


def principal(strain: Floats) -> tuple[Floats, Floats]:
    """Greater and smaller principal strain of strains (..., 3)."""
    mean = (strain[..., 0] + strain[..., 1]) / 2.0
    radius = np.hypot((strain[..., 0] - strain[..., 1]) / 2.0, strain[..., 2] / 2.0)
    return mean + radius, mean - radius


def crack_of_face(
    state: CrackedState, resultants: ArrayLike, h: ArrayLike, axes: ArrayLike, bars: FaceBars, side: int, *,
    E_c: float, E_s: float,
) -> FaceCrack:  # fmt: skip
    """The crack of one face of r sections.

    Parameters
    ----------
    state : CrackedState
        Strains of the sections, shape (r, ...).
    resultants : array_like, shape (r, 6)
        nx, ny, nxy [N/mm], mx, my, mxy [N].
    h, axes : array_like, shapes (r,), (r, b)
        Thickness; distance of the bars from mid-depth, positive towards the bottom [mm].
    bars : FaceBars
        Bars, with no area where they belong to the other face.
    side : {1, -1}
        Bottom or top.
    E_c, E_s : float
        Moduli [MPa].

    Returns
    -------
    FaceCrack
        The level of the bars is that of their resultant force of tension, of their area where none pulls.

    References
    ----------
    EN 1992-1-1:2004, 7.3.4: strains of the cracked section; the level of the bars and their principal strain are ours.
    """
    h, e, n = np.asarray(h, dtype=float), np.nan_to_num(axes), np.asarray(resultants, dtype=float)
    force = bars.area * np.maximum(bars.stress, 0.0)
    pull = np.where(force.sum(1, keepdims=True) > 0.0, force, bars.area)
    total = pull.sum(1)
    level = np.where(total > 0.0, (pull * e).sum(1) / np.where(total > 0.0, total, 1.0), side * h / 2.0)
    strain = state.at(-level)
    eps_1, eps_2 = principal(strain)
    theta = 0.5 * np.arctan2(strain[:, 2], strain[:, 0] - strain[:, 1])
    near, far = (along(state.at(-at * h / 2.0), theta) for at in (side, -side))
    with np.errstate(divide="ignore", invalid="ignore"):
        x = h * np.where(near <= 0.0, 1.0, np.where(far >= 0.0, 0.0, -far / (near - far)))
    c, s = np.cos(theta), np.sin(theta)
    mean_stress = -(n[:, 0] * c * c + n[:, 1] * s * s + 2.0 * n[:, 2] * c * s) / h
    return FaceCrack(
        h=h,
        d=h / 2.0 + side * level,
        x=x,
        theta=theta,
        eps_1=eps_1,
        eps_2=eps_2,
        near=near,
        far=far,
        sigma_c=mean_stress,
        E_c=E_c,
        E_s=E_s,
        bars=bars,
    )
