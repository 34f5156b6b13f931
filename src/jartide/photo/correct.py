"""Colour correction from patches of known colour, and how far it can be trusted.

Three models of rising freedom: exposure and white balance; a 3 x 3 matrix; a
root-polynomial of degree 2 (Finlayson, Mackiewicz & Hurlbert 2015, "Color
correction using root-polynomial regression"), which keeps its colours when the
light grows. Greys also tell the camera's tone curve, one for all channels.
The model is chosen by leaving patches out in turn; a freer one is taken only
when it predicts them better than white balance alone.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.optimize import least_squares

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import (
    decode_srgb,
    encode_srgb,
    lab_to_linear,
    linear_to_lab,
)

_GREY_CHROMA = 6.0
_MOST_BEND = 0.5
_PAPER_L = 90.0
Tone = tuple[float, float, float]
STRAIGHT: Tone = (0.0, 0.0, 0.0)
# Most cameras add contrast: the curve that undoes it is expected near the first, within the
# second (standard deviations). Set by hand on simulated cameras other than those that
# `make accuracy` draws.
_USUAL_TONE = np.array([0.0, 0.16, 0.05])
_TONE_SPREAD = np.array([0.08, 0.08, 0.08])


class Model(StrEnum):
    """How camera colours are carried to true ones."""

    NONE = "none"
    WHITE = "white"
    MATRIX = "matrix"
    ROOT_POLYNOMIAL = "root-polynomial"


class Grade(StrEnum):
    """Where the known colours came from: it decides how far the result can be trusted."""

    NONE = "none"
    PATCH = "patch"
    PRINTED = "card as printed"
    MEASURED = "card measured"
    CHART = "chart"
    SCAN = "scan"


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class KnownColours:
    """Patches as seen and as they are.

    Attributes
    ----------
    seen : (N, 3) linear light of the photo, light's falloff taken out
    lab : (N, 3) their true colours
    trust : (N,) standard deviation of the true colours, CIEDE2000
    """

    seen: np.ndarray
    lab: np.ndarray
    trust: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Correction:
    """From the photo's linear light to true linear light.

    Attributes
    ----------
    grade, model : what it rests on, and its form
    tone : the three numbers of the tone curve; zeros leave light as it is
    matrix : (3, K) on the channels and, for a root-polynomial, their roots of products
    left_out_mean, left_out_max : CIEDE2000 of patches left out in turn; None below two patches
    lightness_sd, chroma_sd : standard deviations of a corrected colour's L* and of its a*, b*
    """

    grade: Grade
    model: Model
    tone: Tone
    matrix: np.ndarray
    left_out_mean: float | None
    left_out_max: float | None
    lightness_sd: float
    chroma_sd: float

    def apply(self, rgb_linear: np.ndarray) -> np.ndarray:
        """Return corrected linear light, float32, of (..., 3)."""
        return _apply(rgb_linear, self.tone, self.matrix).astype(np.float32)


# Ridge towards white balance alone, against patches' weight; of several, patches left out choose.
# Printed inks are only expected to be what the file asks: printers differ, so a good print may
# say much about the camera's matrix and a poor one next to nothing.
_PULLS = {Model.WHITE: (0.0,), Model.MATRIX: (0.02,), Model.ROOT_POLYNOMIAL: (0.008,)}
_PRINTED_PULLS = {Model.WHITE: (0.0,), Model.MATRIX: (0.03, 0.1, 0.3)}

# The correction of a photo without any known colour.
NO_CORRECTION = Correction(
    grade=Grade.NONE,
    model=Model.NONE,
    tone=(0.0, 0.0, 0.0),
    matrix=np.eye(3),
    left_out_mean=None,
    left_out_max=None,
    lightness_sd=8.0,
    chroma_sd=6.0,
)


# The correction of a scan with its profile: good flatbeds stay within 1 to 2 CIEDE2000 of it.
SCANNED = Correction(
    grade=Grade.SCAN,
    model=Model.NONE,
    tone=(0.0, 0.0, 0.0),
    matrix=np.eye(3),
    left_out_mean=None,
    left_out_max=None,
    lightness_sd=0.8,
    chroma_sd=0.8,
)


def tone_undone(rgb: np.ndarray, tone: Tone) -> np.ndarray:
    """Return light, (..., 3), with the camera's tone curve undone: a quartic on encoded values
    that keeps black and white.

    Pixels go through a table, since a curve of a million takes longer than all the rest.
    """
    if tone == STRAIGHT:
        return rgb
    if rgb.size < 10_000:
        return _tone_exact(rgb, tone)
    levels = np.linspace(0, 1, 2049)
    # Closer in the darks, where encoded values change fast.
    table = _tone_exact(levels**2, tone).astype(np.float32)
    where = np.sqrt(np.clip(rgb, 0, 1)) * 2048
    low = np.minimum(where.astype(np.int32), 2047)
    part = (where - low).astype(np.float32)
    return table[low] * (1 - part) + table[low + 1] * part


def grey_tone(known: KnownColours) -> Tone:
    """Return the camera's tone curve as the greys among known colours tell it."""
    greys = _greys(known)
    return _fit_tone(known, greys, _USUAL_TONE) if greys.sum() >= 4 else STRAIGHT


def relit(seen: np.ndarray, factor: float, tone: Tone) -> np.ndarray:
    """Return what the photo would show, (3,) linear, had the light been `factor` as strong.

    The camera's curve lies between the light and the photo, so it is undone first.
    """
    levels = np.linspace(0, 1, 1025) ** 2
    light = np.maximum.accumulate(_tone_exact(levels, tone))
    return np.interp(np.interp(seen, levels, light) * factor, light, levels)


def _greys(known: KnownColours) -> np.ndarray:
    return np.hypot(known.lab[:, 1], known.lab[:, 2]) < _GREY_CHROMA


def _tone_exact(rgb: np.ndarray, tone: Tone) -> np.ndarray:
    return _bent(encode_srgb(np.clip(rgb, 0, 1)), tone)


def _bent(p: np.ndarray, tone: Tone) -> np.ndarray:
    """Light of encoded values bent by the curve."""
    s = 1 - 2 * p
    q = p + p * (1 - p) * (tone[0] + tone[1] * s + tone[2] * s**2)
    return decode_srgb(np.clip(q, 0, 1))


def _terms(rgb: np.ndarray, count: int) -> np.ndarray:
    """The channels, (..., 3), and for six terms the roots of their products."""
    if count == 3:
        return rgb
    r, g, b = (np.maximum(rgb[..., n], 0) for n in range(3))
    roots = np.stack([np.sqrt(r * g), np.sqrt(g * b), np.sqrt(r * b)], axis=-1)
    return np.concatenate([np.maximum(rgb, 0), roots], axis=-1)


def _apply(rgb: np.ndarray, tone: Tone, matrix: np.ndarray) -> np.ndarray:
    return _terms(tone_undone(np.asarray(rgb), tone), matrix.shape[1]) @ matrix.T.astype(rgb.dtype)


def fit_correction(known: KnownColours, grade: Grade) -> Correction:
    """Return the correction that known colours allow.

    One patch gives exposure and white balance. A card as printed gives them
    and, from its greys, the tone curve; its inks say a little about the
    camera's matrix, never so much that a bad print bends colours.
    """
    count = len(known.seen)
    greys = _greys(known)
    models = [Model.WHITE]
    if grade is not Grade.PATCH and count >= 6 and (~greys).sum() >= 3:
        models.append(Model.MATRIX)
        if grade is not Grade.PRINTED and count >= 9:
            models.append(Model.ROOT_POLYNOMIAL)
    with_tone = greys.sum() >= 4
    tone = _fit_tone(known, greys, _USUAL_TONE) if with_tone else STRAIGHT
    rests = _left_out_tones(known, greys, tone) if with_tone else [tone] * count
    pulls = _PRINTED_PULLS if grade is Grade.PRINTED else _PULLS
    # White balance comes first: of equals the least free is taken.
    forms = [(model, pull) for model in models for pull in pulls[model]]
    errors = [_left_out(known, greys, form, rests, grade) for form in forms]
    best = int(np.argmin([e.mean() for e in errors])) if count > 1 else 0
    matrix = _fit(known, greys, forms[best], tone, grade)
    # How far inks stray from what is expected of them is the printer's error, not the photo's.
    left_out = errors[best][greys] if grade is Grade.PRINTED else errors[best]
    mean = None if left_out.size == 0 else float(left_out.mean())
    lightness, chroma = _trust(grade, known, mean)
    return Correction(
        grade=grade,
        model=forms[best][0],
        tone=tone,
        matrix=matrix,
        left_out_mean=mean,
        left_out_max=None if left_out.size == 0 else float(left_out.max()),
        lightness_sd=lightness,
        chroma_sd=chroma,
    )


def _trust(grade: Grade, known: KnownColours, mean: float | None) -> tuple[float, float]:
    """Standard deviations of L* and of a*, b*; calibrated on simulated boards (docs/photos.md)."""
    trust = known.trust[_greys(known)] if grade is Grade.PRINTED else known.trust
    own = float(np.sqrt(np.mean(trust**2) / len(trust)))
    left = 0.0 if mean is None else mean
    if grade is Grade.PRINTED:
        return float(np.hypot(0.55, own)), 0.81
    if grade in (Grade.MEASURED, Grade.CHART):
        return float(np.hypot(0.29, 0.2 * left)), float(np.hypot(0.4, 0.29 * left))
    return float(np.hypot(1.2, own)), float(np.hypot(1.5, own))


def _fit(
    known: KnownColours, greys: np.ndarray, form: tuple[Model, float], tone: Tone, grade: Grade
) -> np.ndarray:
    """The matrix, (3, K), that carries the patches' light, its tone undone, to the true one."""
    model, strength = form
    truth = lab_to_linear(known.lab)
    light = tone_undone(known.seen, tone)
    # Errors in Lab count: light at L* 20 weighs more than as much light at L* 90.
    weight = 1 / ((known.lab[:, 0] + 16) / 116) ** 2 / np.maximum(known.trust, 0.3)
    use = greys if greys.sum() >= 1 and grade is not Grade.PATCH else np.ones(len(truth), bool)
    if grade is Grade.PRINTED and (known.lab[:, 0] > _PAPER_L).any():
        # The greys of one printer share its cast; bare paper has none.
        use = use & (known.lab[:, 0] > _PAPER_L)
    gains = np.sum((weight**2)[use, None] * light[use] * truth[use], axis=0) / np.maximum(
        np.sum((weight**2)[use, None] * light[use] ** 2, axis=0), 1e-12
    )
    if model is Model.WHITE:
        return np.diag(gains)
    terms = _terms(light * gains, 3 if model is Model.MATRIX else 6)
    start = np.eye(3, terms.shape[1])
    # Ridge towards white balance alone: few patches must not bend colours they say nothing of.
    bound = ~greys if grade is Grade.PRINTED else np.ones(len(truth), bool)
    pull = strength * np.mean(weight[bound])
    if grade is Grade.PRINTED:
        pull *= np.sqrt(np.sum(bound))
    rows = np.concatenate([terms * weight[:, None], pull * np.eye(terms.shape[1])])
    wanted = np.concatenate(
        [(truth - terms @ start.T) * weight[:, None], np.zeros((terms.shape[1], 3))]
    )
    change = np.linalg.lstsq(rows, wanted, rcond=None)[0].T
    matrix = start + change
    if matrix.shape[1] == 3:
        return matrix * gains
    roots = np.sqrt([gains[0] * gains[1], gains[1] * gains[2], gains[0] * gains[2]])
    return matrix * np.concatenate([gains, roots])


def _fit_tone(known: KnownColours, greys: np.ndarray, start: np.ndarray) -> Tone:
    """The tone curve that makes the greys' light true, whatever the lamp's tint."""
    seen, wanted = known.seen[greys], known.lab[greys]
    encoded = encode_srgb(np.clip(seen, 0, 1))
    weights = np.array([1.0, 0.5, 0.5]) / np.maximum(known.trust[greys], 0.4)[:, None]
    lightest = int(np.argmax(wanted[:, 0]))
    true_light = lab_to_linear(wanted[lightest])
    bent = _bent(encoded[lightest], (start[0], start[1], start[2]))
    gains = np.log(np.maximum(true_light / np.maximum(bent, 1e-4), 1e-3))

    def residuals(numbers: np.ndarray) -> np.ndarray:
        light = _bent(encoded, (numbers[0], numbers[1], numbers[2])) * np.exp(numbers[3:])
        off = (linear_to_lab(light) - wanted) * weights
        return np.concatenate([off.ravel(), (numbers[:3] - _USUAL_TONE) / _TONE_SPREAD])

    found = least_squares(
        residuals, np.concatenate([start, gains]), method="lm", xtol=1e-4, ftol=1e-5, max_nfev=150
    )
    bends = np.clip(found.x[:3], -_MOST_BEND, _MOST_BEND)
    return float(bends[0]), float(bends[1]), float(bends[2])


def _left_out_tones(known: KnownColours, greys: np.ndarray, tone: Tone) -> list[Tone]:
    """The tone curve without each patch in turn; only a grey's absence changes it."""
    found = []
    for out in range(len(known.seen)):
        rest = greys & (np.arange(len(greys)) != out)
        found.append(tone if not greys[out] else _fit_tone(known, rest, np.array(tone)))
    return found


def _left_out(
    known: KnownColours,
    greys: np.ndarray,
    form: tuple[Model, float],
    tones: list[Tone],
    grade: Grade,
) -> np.ndarray:
    """CIEDE2000 of every patch predicted by a fit to all others, (N,); empty below two."""
    count = len(known.seen)
    if count < 2:
        return np.zeros(0)
    found = np.empty((count, 3))
    for out in range(count):
        rest = np.arange(count) != out
        part = KnownColours(seen=known.seen[rest], lab=known.lab[rest], trust=known.trust[rest])
        matrix = _fit(part, greys[rest], form, tones[out], grade)
        found[out] = _apply(known.seen[out], tones[out], matrix)
    return delta_e_2000(linear_to_lab(found), known.lab)
