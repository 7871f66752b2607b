"""Critical perimeters of punching: line integrals of their segments, and shear that varies linearly along them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Perimeter:
    """A critical perimeter in plan, about the middle of the loaded area.

    Attributes
    ----------
    segments : ndarray, shape (s, 2, 2)
        Ends of its straight pieces [mm]; pieces that carry no shear are left out.
    """

    segments: Floats

    @cached_property
    def lengths(self) -> Floats:
        """Length of each piece [mm], shape (s,)."""
        return np.asarray(np.linalg.norm(self.segments[:, 1] - self.segments[:, 0], axis=1))

    @cached_property
    def u(self) -> float:
        """Length [mm]."""
        return float(self.lengths.sum())

    @cached_property
    def centroid(self) -> Floats:
        """Centroid of the line [mm], shape (2,)."""
        return np.asarray(self.lengths @ self.segments.mean(1) / max(self.u, 1e-12))

    @property
    def extent(self) -> Floats:
        """Size along both axes [mm], shape (2,)."""
        return np.asarray(np.ptp(self.segments.reshape(-1, 2), axis=0))

    def first_moment(self, direction: ArrayLike, about: ArrayLike) -> float:
        """Integral of the distance |e| along a direction from a place [mm2]: W_1 of EN 1992-1-1, (6.40)."""
        e = (self.segments - np.asarray(about)) @ np.asarray(direction, dtype=float)
        a, b = np.abs(e[:, 0]), np.abs(e[:, 1])
        crossing = e[:, 0] * e[:, 1] < 0.0
        mean = np.where(crossing, (a**2 + b**2) / np.maximum(2.0 * (a + b), 1e-12), (a + b) / 2.0)
        return float(self.lengths @ mean)

    def beyond(self, direction: ArrayLike, start: float) -> Perimeter:
        """The part of the perimeter beyond a distance along a direction [mm]."""
        e = self.segments @ np.asarray(direction, dtype=float) - start
        a, b = e[:, 0], e[:, 1]
        with np.errstate(divide="ignore", invalid="ignore"):
            root = np.where(a == b, 0.0, a / (a - b))[:, None]
        crossing = self.segments[:, 0] + root * (self.segments[:, 1] - self.segments[:, 0])
        first = np.where((a < 0.0)[:, None], crossing, self.segments[:, 0])
        last = np.where((b < 0.0)[:, None], crossing, self.segments[:, 1])
        return Perimeter(np.stack([first, last], 1)[(a > 0.0) | (b > 0.0)])

    def second_moments(self, d: float) -> Floats:
        """Second moments of the vertical faces of depth d about the centroid [mm4], shape (2, 2)."""
        r = self.segments - self.centroid
        a, b = r[:, 0], r[:, 1]
        # Simpson's rule is exact for squares
        ends = np.einsum("si,sj->sij", a, a) + np.einsum("si,sj->sij", b, b)
        middle = np.einsum("si,sj->sij", a + b, a + b)
        t = (b - a) / np.maximum(self.lengths, 1e-12)[:, None]
        along = np.einsum("s,si,sj->ij", self.lengths, t, t)
        return np.asarray(d * np.einsum("s,sij->ij", self.lengths / 6.0, ends + middle) + d**3 / 12.0 * along)

    def worst_place(self, V: float, moment: ArrayLike, d: float) -> Floats:
        """Place of the maximum stress of a force and of a moment that shear carries, varying linearly.

        Parameters
        ----------
        V : float
            Force [N].
        moment : array_like, shape (2,)
            V times the eccentricity along both axes from the centroid of the perimeter [N mm].
        d : float
            Depth of the faces [mm].

        Returns
        -------
        ndarray, shape (2,)
            From the centroid [mm].
        """
        slope = np.linalg.pinv(self.second_moments(d)) @ np.asarray(moment, dtype=float)
        r = (self.segments - self.centroid).reshape(-1, 2)
        return np.asarray(r[np.abs(V / (self.u * d) + r @ slope).argmax()])
