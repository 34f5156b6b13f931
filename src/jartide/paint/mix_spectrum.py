"""What a mix throws back at each wavelength, where its paints' spectra were measured."""

from __future__ import annotations

import numpy as np

from jartide.paint.fitted import FittedShelf
from jartide.paint.hiding import parts_row
from jartide.paint.kubelka_munk import absorption_ratio, hiding_reflectance
from jartide.paint.recipe import Part
from jartide.paint.surface import inside, seen


def mix_spectrum(fitted: FittedShelf, parts: tuple[Part, ...]) -> np.ndarray | None:
    """Return the reflectance, (36,) from 380 to 730 nm, of a hiding film of a mix.

    Each paint's K over S is that of its own measured spectrum, its S is the fit's, which knows
    the paints' strengths (two-constant Kubelka-Munk theory; Duncan 1940). None unless every
    paint in the mix was measured: a guessed spectrum would hide what parts in other light.
    """
    if not parts:
        return None
    surface = fitted.parameters.surface
    weights = parts_row(fitted, parts)[0]
    weights = weights / weights.sum()
    _, scatter = fitted.parameters.coefficients()
    k, s = np.zeros(scatter.shape[1]), np.zeros(scatter.shape[1])
    for paint in np.flatnonzero(weights):
        swatches = fitted.shelf.paints[int(paint)].swatches
        spectrum = next((swatch.spectrum for swatch in swatches if swatch.spectrum), ())
        if not spectrum:
            return None
        ratio = absorption_ratio(inside(np.clip(spectrum, 1e-3, 0.999), surface))
        k += weights[paint] * ratio * scatter[paint]
        s += weights[paint] * scatter[paint]
    return seen(hiding_reflectance(k, s), surface)
