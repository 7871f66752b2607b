"""Transverse shear of the ultimate stage: the principal shear without links, bars raised to avoid them, links."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from sandwich.design.settings import Settings
from sandwich.standards.interface import ShearDemand, ShearSection

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
_HALVINGS: Final = 12
ALIKE: Final = 1e-6  # of ratios: of faces with the same steel that in tension counts
BESIDE: Final = 1  # within an effective depth of the face of a support


@dataclass(frozen=True)
class ShearCheck:
    """Worst shear of p points: force and resistance without links [N/mm], utilisation [-], combination.

    A point without any resistance has an infinite utilisation. Where links are allowed: their area over the area
    of the plan [-] and its combination, cot theta [-], force and limit of the struts at their worst [N/mm] and the
    combination, and how much the bars were raised to avoid links [-]. `support` is 1 within an effective depth of a
    support and 2 inside one, where the force is shown and not designed for; up to the face the strut limit stays.
    """

    v_Ed: Floats
    v_Rd_c: Floats
    utilisation: Floats
    by: Ints
    a_sw: Floats
    a_sw_by: Ints
    cot_theta: Floats
    v_strut: Floats
    v_max: Floats
    v_max_by: Ints
    raised: Floats
    support: Ints


@dataclass(frozen=True)
class ShearRows:
    """Shear, resistance without links [N/mm], depth [mm] and face in tension of p points and k combinations."""

    v_Ed: Floats
    capacity: Floats
    d: Floats
    bottom_tension: NDArray[np.bool_]
    support: Ints

    @property
    def use(self) -> Floats:
        """Shear over the resistance without links; zero at supports."""
        return np.where(self.support[:, None] > 0, 0.0, self.ratio)

    @property
    def ratio(self) -> Floats:
        """The same everywhere."""
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.asarray(np.where(self.v_Ed > 0.0, self.v_Ed / self.capacity, 0.0))


@dataclass(frozen=True)
class ShearInput:
    """What the clause needs, for rows: shear, direction, depth [mm], steel ratio [-], axial force [N/mm].

    `sound` says that the section is uncracked in bending along the shear, so that bars of either face count.
    """

    v_Ed: Floats
    phi: Floats
    bottom_tension: NDArray[np.bool_]
    d: Floats
    rho: Floats
    n_phi: Floats
    sound: NDArray[np.bool_]


def shear_input(
    settings: Settings, loads: Floats, h: Floats, axes: Floats, a_s: Floats, cracking: Floats | float
) -> ShearInput:
    """Quantities in the direction of the principal shear; loads (..., 8), h (...), axes and a_s (..., b).

    `cracking` is the stress up to which the extreme fibre counts as uncracked [MPa].
    """
    standard = settings.standard
    v_Ed, phi = standard.principal_shear(loads[..., 6], loads[..., 7])
    c, s = np.cos(phi), np.sin(phi)
    n_phi = loads[..., 0] * c * c + loads[..., 1] * s * s + 2 * loads[..., 2] * s * c
    m_phi = loads[..., 3] * c * c + loads[..., 4] * s * s + 2 * loads[..., 5] * s * c
    bottom = m_phi >= 0.0
    d, rho = _face(settings, phi, bottom, h, axes, a_s)
    # uncracked in bending along the shear: no crack of the face in tension to shear along, either face's bars count
    sound = n_phi / h + 6.0 * np.abs(m_phi) / h**2 <= cracking
    d_far, rho_far = _face(settings, phi, ~bottom, h, axes, a_s)
    better = sound & (rho_far > rho * (1.0 + ALIKE))
    return ShearInput(
        v_Ed=v_Ed,
        phi=phi,
        bottom_tension=bottom,
        d=np.where(better, d_far, d),
        rho=np.where(better, rho_far, rho),
        n_phi=n_phi,
        sound=sound,
    )


def _face(
    settings: Settings, phi: Floats, bottom: NDArray[np.bool_], h: Floats, axes: Floats, a_s: Floats
) -> tuple[Floats, Floats]:
    """Effective depth [mm] and steel ratio [-] of the bottom, or the top, in the direction of the shear."""
    standard, sides, angles = settings.standard, settings.bars.sides, settings.bars.angles
    there = np.isfinite(axes)
    of_face = np.where(bottom[..., None], sides >= 0, sides <= 0) & there
    # a face without bars has no steel to count on; its depth is taken as that of the other face
    counted = np.where(of_face.any(-1, keepdims=True), of_face, there)
    e = np.nan_to_num(axes)
    low = np.where(bottom[..., None], e, -e)
    depth = h[..., None] / 2 + np.where(of_face, low, np.abs(e))
    along = np.cos(phi[..., None] - angles) ** 2 * counted
    share = along / np.maximum(along.sum(-1, keepdims=True), 1e-12)
    d = (depth * share).sum(-1)
    ratio = np.where(of_face, a_s, 0.0) / depth
    if settings.shear_steel == "cos4":
        straight = (ratio * np.cos(phi[..., None] - angles) ** 4).sum(-1)
        return d, standard.tension_ratio(straight, np.zeros(straight.shape), np.zeros(straight.shape))
    rho = standard.tension_ratio(
        (ratio * np.cos(angles) ** 2).sum(-1), (ratio * np.sin(angles) ** 2).sum(-1), phi,
        (ratio * np.sin(angles) * np.cos(angles)).sum(-1),
    )  # fmt: skip
    return d, rho


def shear_rows(
    combined: Floats,
    situations: list[str],
    h: Floats,
    axes: Floats,
    a_s: Floats,
    settings: Settings,
    support: Ints | None = None,
) -> ShearRows:
    """Principal shear and resistance without links; `combined` has shape (p, k, 8), `a_s` (p, b), `support` (p,)."""
    p, k, _ = combined.shape
    q = shear_input(
        settings,
        combined,
        np.broadcast_to(h[:, None], (p, k)),
        np.broadcast_to(axes[:, None], (p, k, axes.shape[1])),
        np.broadcast_to(a_s[:, None], (p, k, axes.shape[1])),
        np.array([settings.standard.flexural_tension(settings.concrete, s) for s in situations]),
    )
    capacity = np.empty((p, k))
    for j, situation in enumerate(situations):
        sigma = settings.standard.axial_stress(settings.concrete, situation, q.n_phi[:, j], h)
        section = ShearSection(
            settings.concrete, settings.steel, situation, d=q.d[:, j], h=h, rho_l=q.rho[:, j], sigma=sigma
        )
        capacity[:, j] = settings.standard.shear_resistance(section)
    at = np.zeros(p, dtype=np.int64) if support is None else support
    return ShearRows(q.v_Ed, capacity, q.d, q.bottom_tension, at)


def check_shear(
    rows: ShearRows, need: NDArray[np.bool_], raised: Floats, situations: list[str], settings: Settings
) -> ShearCheck:
    """Worst shear over the combinations of p points, with links in the rows (p, k) that need them."""
    p, k = rows.v_Ed.shape
    at = np.arange(p)
    by = rows.ratio.argmax(1)
    area, most, cot = np.zeros((p, k)), np.full((p, k), np.inf), np.ones((p, k))
    pressed = need | (rows.support == BESIDE)[:, None]
    if pressed.any():
        cot_theta = settings.links.cot_theta if settings.links is not None else 1.0
        for j, situation in enumerate(situations):
            forces = rows.v_Ed[:, j], rows.d[:, j], rows.capacity[:, j]
            found = settings.standard.links(
                ShearDemand(settings.concrete, settings.steel, situation, *forces, cot_theta)
            )
            area[:, j] = np.where(need[:, j], found.a_sw, 0.0)
            most[:, j] = np.where(pressed[:, j], found.v_max, np.inf)
            cot[:, j] = found.cot_theta
    # of rows with equal links, the minimum links, the one with most shear
    heaviest, worst = (area + 1e-12 * np.minimum(rows.use, 1e6)).argmax(1), (rows.v_Ed / most).argmax(1)
    return ShearCheck(
        v_Ed=rows.v_Ed[at, by],
        v_Rd_c=rows.capacity[at, by],
        utilisation=rows.ratio[at, by],
        by=by,
        a_sw=area[at, heaviest],
        a_sw_by=heaviest,
        cot_theta=cot[at, heaviest],
        v_strut=np.where(np.isfinite(most[at, worst]), rows.v_Ed[at, worst], 0.0),
        v_max=most[at, worst],
        v_max_by=worst,
        raised=raised,
        support=rows.support,
    )


def raise_bars(
    combined: Floats,
    situations: list[str],
    h: Floats,
    axes: Floats,
    a_s: Floats,
    settings: Settings,
    support: Ints | None = None,
) -> Floats:
    """Factors (p, b) on the bars in tension with which a point needs no links; 1 where the ratio is too small."""
    factors = np.ones(a_s.shape)
    if settings.links is None or settings.links.raise_bars <= 1.0:
        return factors

    def rows(which: Ints, steel: Floats) -> ShearRows:
        near = None if support is None else support[which]
        return shear_rows(combined[which], situations, h[which], axes[which], steel, settings, near)

    first = rows(np.arange(len(a_s)), a_s)
    over = np.asarray(first.use > 1.0)
    bottom, top = (np.asarray(np.any(over & face, axis=1)) for face in (first.bottom_tension, ~first.bottom_tension))
    sides = settings.bars.sides
    pulls = (bottom[:, None] & (sides >= 0)) | (top[:, None] & (sides <= 0))

    def raised(which: Ints, by: Floats) -> Floats:
        return np.where(pulls[which], by[:, None], 1.0)

    def holds(which: Ints, by: Floats) -> NDArray[np.bool_]:
        return np.asarray((rows(which, a_s[which] * raised(which, by)).use <= 1.0).all(1))

    short = np.flatnonzero(over.any(1))
    high = np.full(len(short), settings.links.raise_bars)
    enough = holds(short, high)
    short, high = short[enough], high[enough]
    low = np.ones(len(short))
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        good = holds(short, middle)
        high, low = np.where(good, middle, high), np.where(good, low, middle)
    factors[short] = raised(short, high)
    return factors
