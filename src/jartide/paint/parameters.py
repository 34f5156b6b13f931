"""What is not known of a paint: few smooth numbers that bend its absorption and scattering.

A paint starts as the smoothest reflectance of its masstone. Its K/S may differ from that by
a smooth factor, its scattering from what the opacity word says by another: Gaussian processes
of the logarithm over wavelength (Rasmussen & Williams 2006, ch. 2), cut to their leading
functions (Karhunen-Loeve), so that every number is about 1 before anything was read.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from jartide.colour.observer import BANDS_NM, smoothest_reflectance
from jartide.paint.kubelka_munk import absorption_ratio
from jartide.paint.shelf import Opacity, Shelf
from jartide.paint.surface import Surface, inside

# Scattering of one neat coat as the opacity word has it, and how far the word is off (log).
_SCATTERING = {Opacity.TRANSPARENT: 0.4, Opacity.SEMI: 1.5, Opacity.OPAQUE: 4.5}
_WORD_OFF = 1.0
# Deviation of log K/S from the smoothest curve, and over how many nm it bends.
_RATIO_OFF, _RATIO_NM, _RATIO_COUNT = 0.5, 35.0, 14
_SLOPE_OFF, _SLOPE_NM, _SLOPE_COUNT = 0.25, 120.0, 4
# What is the same for all swatches of a shelf, as normal in these units: start and deviation.
_MIRRORED, _K2, _WATER, _LEVEL = (-0.85, 1.0), (0.2, 0.4), (1.4, 0.6), (0.0, 0.25)
_CARRIER = (0.0, 0.2)
_SHARED = 4


@lru_cache(maxsize=1)
def bases() -> tuple[np.ndarray, np.ndarray]:
    """Return the functions, (36, n), that bend log K/S and log S; whitened."""
    ratio = _leading(_RATIO_OFF, _RATIO_NM, _RATIO_COUNT)
    level = np.full((BANDS_NM.size, 1), _WORD_OFF)
    return ratio, np.hstack([level, _leading(_SLOPE_OFF, _SLOPE_NM, _SLOPE_COUNT)])


def _leading(off: float, nm: float, count: int) -> np.ndarray:
    apart = (BANDS_NM[:, None] - BANDS_NM) / nm
    values, functions = np.linalg.eigh(off**2 * np.exp(-0.5 * apart**2))
    last = np.arange(values.size)[::-1][:count]
    return functions[:, last] * np.sqrt(values[last])


def count_per_paint() -> int:
    """Return how many numbers bend one paint."""
    ratio, scattering = bases()
    return ratio.shape[1] + scattering.shape[1]


def carriers_in(shared: np.ndarray) -> int:
    """Return for how many carriers there is a thickness among the shared, (4 + carriers,)."""
    return shared.size - _SHARED


def shared_start(carriers: int) -> tuple[np.ndarray, np.ndarray]:
    """Return start and deviation, (4 + carriers,), of what all swatches share."""
    table = np.array([_MIRRORED, _K2, _WATER, _LEVEL] + [_CARRIER] * carriers)
    return table[:, 0], table[:, 1]


def _logistic(x: float) -> float:
    return float(1 / (1 + np.exp(-x)))


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Parameters:
    """All numbers of a fitted shelf.

    Attributes
    ----------
    masstone : (P, 36) smoothest reflectance as seen
    scattering : (P,) log S of one neat coat as the word has it
    bend : (P, n) see `bases`
    shared : (4 + carriers,) logits of mirrored light, k2 and what water takes of the thickness;
        log scattering of all coats together (how thick the painter's neat coat is), and log
        thickness of a film in each carrier
    """

    masstone: np.ndarray
    scattering: np.ndarray
    bend: np.ndarray
    shared: np.ndarray

    @property
    def surface(self) -> Surface:
        """The surface all swatches were read with."""
        return Surface(mirrored=_logistic(self.shared[0]), k2=_logistic(self.shared[1]))

    @property
    def water_takes(self) -> float:
        """How much of a film's thickness its share of water takes away."""
        return _logistic(self.shared[2])

    def thickness(self, carrier: np.ndarray) -> np.ndarray:
        """Return the thickness of one film in carriers (N,), -1 for neat, in neat coats, (N,)."""
        return np.exp(np.append(self.shared[_SHARED:], 0.0))[carrier]

    def coefficients(self) -> tuple[np.ndarray, np.ndarray]:
        """Return K and S, (P, 36), of one neat coat."""
        ratio, scattering = bases()
        start = absorption_ratio(inside(self.masstone, self.surface))
        split = ratio.shape[1]
        level = self.scattering[:, None] + self.shared[3]
        s = np.exp(level + self.bend[:, split:] @ scattering.T)
        return start * np.exp(self.bend[:, :split] @ ratio.T) * s, s

    def moved(self, bend: np.ndarray, shared: np.ndarray) -> Parameters:
        """Return them a step on: `bend` by paint, (P, knots), and `shared`, (4 + carriers,)."""
        return replace(self, bend=self.bend + bend, shared=self.shared + shared)


def start_of(shelf: Shelf, carriers: int) -> Parameters:
    """Return what is known of a shelf before its swatches are fitted."""
    masstones = np.array([paint.masstone for paint in shelf.paints], dtype=float)
    words = [np.log(_SCATTERING[paint.opacity]) for paint in shelf.paints]
    return Parameters(
        masstone=smoothest_reflectance(masstones),
        scattering=np.array(words),
        bend=np.zeros((len(shelf.paints), count_per_paint())),
        shared=shared_start(carriers)[0],
    )
