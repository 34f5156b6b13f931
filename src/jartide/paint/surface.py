"""The surface over the paint: what it mirrors and what it throws back into the film.

Saunderson 1942, "Calculation of the color of pigmented plastics":
Rm = f k1 + (1 - k1)(1 - k2) R / (1 - k2 R).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

# Mirrored at normal incidence by a film of refractive index 1.5 (Fresnel).
K1 = 0.04


@dataclass(frozen=True, slots=True, kw_only=True)
class Surface:
    """A finish's surface as one reader or eye sees it.

    Attributes
    ----------
    mirrored : share of the first reflection that is seen, 0 (gloss, or wet) to 1 (dead matt)
    k2 : share of the light from inside that the surface throws back; 0.6 if it is diffuse there
    """

    mirrored: float = 0.3
    k2: float = 0.55


def seen(reflectance: np.ndarray, surface: Surface) -> np.ndarray:
    """Return what is seen, any shape, 0..1, of a layer that reflects `reflectance` inside."""
    k2 = surface.k2
    return surface.mirrored * K1 + (1 - K1) * (1 - k2) * reflectance / (1 - k2 * reflectance)


def inside(shown: np.ndarray, surface: Surface) -> np.ndarray:
    """Return what the layer reflects inside, (0, 1), of what is seen."""
    # The darkest films keep some light of their own, however much the surface mirrors.
    left = np.maximum(shown - surface.mirrored * K1, 0.2 * shown)
    k2 = surface.k2
    return np.clip(left / ((1 - K1) * (1 - k2) + k2 * left), 1e-4, 0.9995)
