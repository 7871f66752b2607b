"""Values of cases without signs from those of their modes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sandwich.job.walls import Spectrum
from sandwich.mechanics.modal import combine_modes

Floats = NDArray[np.float64]


def with_modes(values: Floats, cases: tuple[str, ...], spectra: dict[str, Spectrum]) -> Floats:
    """Values by case (c, ...) with those of spectra from their modes, where these are known."""
    out, index = values.copy(), {c: i for i, c in enumerate(cases)}
    for name, spectrum in spectra.items():
        modes = values[[index[m] for m in spectrum.modes]]
        leader = spectrum.modes.index(spectrum.signs_of) if spectrum.signs_of is not None else None
        made = combine_modes(modes, spectrum.periods, spectrum.damping, spectrum.combination, signs_of=leader)
        known = np.isfinite(modes).all(0)
        out[index[name]] = np.where(known, np.where(known, made, 0.0), values[index[name]])
    return out
