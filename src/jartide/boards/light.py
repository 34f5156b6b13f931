"""Whether a match depends on the light: an ensemble of plausible pigments for each colour.

One reconstruction gives equal spectra to equal colours and would hide every metamer. Here each
colour is made by many pigment mixtures, each brought to exactly that colour by a smooth
correction, and seen in other lights.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import BANDS_NM, band_weights, observer_bands, smoothest_reflectance
from jartide.colour.spaces import WHITE_D65, lab_to_xyz, xyz_to_lab
from jartide.colour.spectra import planck
from jartide.colour.words import Lab

MEMBERS = 60
_PAIRS = 400
_PIGMENTS = 60
# Above this a painter sees that two patches part.
_SEEN_DE00 = 2.0


class Lamp(StrEnum):
    """The lights a finish is looked at in."""

    DAYLIGHT = "daylight"
    WARM = "warm"
    COLD_LED = "cold_led"


class Risk(StrEnum):
    """How likely the match breaks in another light."""

    SMALL = "small"
    SOME = "some"
    LARGE = "large"


@dataclass(frozen=True, slots=True, kw_only=True)
class InLight:
    """Two colours in one light.

    Attributes
    ----------
    target, board : as seen by an eye used to that light, middle of the ensemble, Lab
    de00 : how far apart, middle of the ensemble
    worst_de00 : what nine in ten pigment pairs stay under
    """

    lamp: Lamp
    target: Lab
    board: Lab
    de00: float
    worst_de00: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LightRisk:
    """A pair of colours in all lights, and the risk that their match depends on it."""

    lights: tuple[InLight, ...]
    risk: Risk


@lru_cache(maxsize=3)
def lamp_weights(lamp: Lamp) -> np.ndarray:
    """Return weights, (36, 3), from reflectance to XYZ under a lamp; white gives its own white."""
    if lamp is Lamp.DAYLIGHT:
        return band_weights()
    if lamp is Lamp.WARM:
        power = planck(2856.0, BANDS_NM)
    else:
        # A cold white LED: a narrow blue pump and a broad phosphor.
        pump = np.exp(-0.5 * ((BANDS_NM - 452) / 10) ** 2)
        phosphor = np.exp(-0.5 * ((BANDS_NM - 552) / 52) ** 2)
        power = pump + 0.72 * phosphor
    weights = observer_bands() * power[:, None]
    return weights / weights[:, 1].sum()


def seen_in(reflectance: np.ndarray, lamp: Lamp) -> np.ndarray:
    """Return Lab, (..., 3), of reflectances (..., 36) to an eye adapted to the lamp.

    Adaptation by Bradford's cone responses to the white of the lamp (Lam 1985), then to D65.
    """
    weights = lamp_weights(lamp)
    xyz = np.asarray(reflectance) @ weights
    if lamp is Lamp.DAYLIGHT:
        return xyz_to_lab(xyz)
    white = weights.sum(axis=0)
    gains = (_BRADFORD @ WHITE_D65) / (_BRADFORD @ white)
    return xyz_to_lab(xyz @ (np.linalg.inv(_BRADFORD) @ np.diag(gains) @ _BRADFORD).T)


_BRADFORD = np.array(
    [[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]]
)


@lru_cache(maxsize=4)
def _pigments(seed: int) -> np.ndarray:
    """K/S curves, (60, 36), of made-up pigments: edges and bands as pigments have them."""
    rng = np.random.default_rng(seed)
    curves = []
    for number in range(_PIGMENTS):
        kind = number % 3
        centre, width = rng.uniform(420, 660), rng.uniform(14, 60)
        if kind == 0:  # yellow to red: takes up all below an edge
            curve = 1 / (1 + np.exp((BANDS_NM - centre) / width * 2))
        elif kind == 1:  # green to violet: one band
            curve = np.exp(-0.5 * ((BANDS_NM - centre) / (1.6 * width)) ** 2)
        else:  # blacks and umbers: nearly flat, more towards the blue
            curve = 0.5 + rng.uniform(0, 0.6) * (730 - BANDS_NM) / 350
        second = np.exp(-0.5 * ((BANDS_NM - rng.uniform(400, 700)) / rng.uniform(20, 60)) ** 2)
        curves.append(curve + rng.uniform(0, 0.25) * second + 0.01)
    return np.array(curves)


def ensemble(lab: Lab, count: int = MEMBERS, seed: int = 0) -> np.ndarray:
    """Return plausible reflectances, (count, 36), that all show one colour in daylight.

    Mixtures of three made-up pigments in white by Kubelka-Munk, nearest in colour of many,
    each corrected onto the colour by the smoothest change of ln(R / (1 - R)).
    """
    rng = np.random.default_rng([seed, 5])
    pigments = _pigments(seed)
    tries = 120 * count
    which = rng.integers(0, _PIGMENTS, (tries, 3))
    amounts = 10 ** rng.uniform(-3, 1.2, (tries, 3))
    ratio = np.einsum("nk,nkb->nb", amounts, pigments[which]) + 0.004
    mixed = 1 + ratio - np.sqrt(ratio**2 + 2 * ratio)
    wanted = np.array(lab, float)
    apart = np.linalg.norm(xyz_to_lab(mixed @ band_weights()) - wanted, axis=1)
    near = mixed[np.argsort(apart, kind="stable")[: 2 * count]]
    fixed, off = _onto(near, wanted)
    good = fixed[off < 0.3][:count]
    if good.shape[0] < count:
        # A colour few mixtures reach: the smoothest curve, bent at random and brought back.
        smooth = np.clip(smoothest_reflectance(wanted)[0], 1e-3, 1 - 1e-3)
        centres = rng.uniform(400, 700, (4 * count, 4, 1))
        humps = np.exp(-0.5 * ((BANDS_NM - centres) / rng.uniform(20, 60, centres.shape)) ** 2)
        bent = np.log(smooth / (1 - smooth)) + np.einsum(
            "nk,nkb->nb", rng.normal(0, 0.45, (4 * count, 4)), humps
        )
        more, off = _onto(1 / (1 + np.exp(-bent)), wanted)
        order = np.argsort(off, kind="stable")[: count - good.shape[0]]
        return np.vstack([good, more[order]])
    return good


def _onto(reflectance: np.ndarray, lab: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Bring reflectances onto a colour; what they are still off by, CIEDE2000."""
    weights, wanted = band_weights(), lab_to_xyz(lab)
    logit = np.log(np.clip(reflectance, 1e-4, 1 - 1e-4) / (1 - np.clip(reflectance, 1e-4, 0.9999)))
    # Three smooth humps: enough to move three coordinates, none narrow enough to be a trick.
    basis = np.exp(-0.5 * ((BANDS_NM[None] - np.array([[450], [545], [620]])) / 55) ** 2)
    shift = np.zeros((reflectance.shape[0], 3))
    for _ in range(25):
        shown = 1 / (1 + np.exp(-(logit + shift @ basis)))
        missing = wanted - shown @ weights
        slope = np.einsum("nb,kb,bc->nck", shown * (1 - shown), basis, weights)
        slope = slope + 1e-9 * np.eye(3)
        step = np.linalg.solve(slope, missing[..., None])[..., 0]
        shift += np.clip(step, -0.8, 0.8)
    shown = 1 / (1 + np.exp(-(logit + shift @ basis)))
    return shown, delta_e_2000(xyz_to_lab(shown @ weights), lab)


def light_risk(
    target: Lab,
    board: Lab,
    *,
    target_spectra: np.ndarray | None = None,
    board_spectra: np.ndarray | None = None,
    seed: int = 0,
) -> LightRisk:
    """Return how a pair of colours would look in three lights.

    `target_spectra`, `board_spectra` : (N, 36) measured or predicted reflectances from 380 to
    730 nm that take the place of the ensemble.
    """
    of_target = _spectra(target, target_spectra, seed)
    # Another seed: a board's pigments are not the target's.
    of_board = _spectra(board, board_spectra, seed + 1)
    rng = np.random.default_rng([seed, 9])
    first = rng.integers(0, len(of_target), _PAIRS)
    second = rng.integers(0, len(of_board), _PAIRS)
    lights = []
    for lamp in Lamp:
        a, b = seen_in(of_target, lamp), seen_in(of_board, lamp)
        apart = delta_e_2000(a[first], b[second])
        lights.append(
            InLight(
                lamp=lamp,
                target=_lab(np.median(a, axis=0)),
                board=_lab(np.median(b, axis=0)),
                de00=float(np.median(apart)),
                worst_de00=float(np.percentile(apart, 90)),
            )
        )
    day = lights[0].de00
    most = max(light.worst_de00 for light in lights[1:])
    usual = max(light.de00 for light in lights[1:])
    if most - day < _SEEN_DE00:
        risk = Risk.SMALL
    else:
        risk = Risk.LARGE if usual - day >= _SEEN_DE00 else Risk.SOME
    return LightRisk(lights=tuple(lights), risk=risk)


def _spectra(lab: Lab, known: np.ndarray | None, seed: int) -> np.ndarray:
    if known is None:
        return ensemble(lab, seed=seed)
    return np.atleast_2d(np.asarray(known, float))


def _lab(values: np.ndarray) -> Lab:
    return float(values[0]), float(values[1]), float(values[2])
