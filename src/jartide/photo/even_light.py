"""Even the light: a smooth surface of relative light, from the picture or from a blank board.

From the picture: a second-order surface over the lightness that remains when
each pixel's own tone is taken out. Tones are found and taken out in turn with
the surface, so that clouds and veins, which share one light, do not pass for
falloff. What could be chance is shrunk away: with clouds as large as the
picture, falloff and clouds can't be told apart, and that is said.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.colour.spaces import RGB_TO_XYZ, linear_to_lab

_SMALL_PX = 160
_ROUNDS = 6
# Before looking: the logarithm of the light slopes by about this much over half the
# picture, and bends by this share of its slope.
_SLOPE = 0.16
_BEND = 0.08
_PLAIN_SHARE = 0.15
# On photographs of real materials what seemed stronger than this was the material itself: a wall
# dark above and red below, a cliff in shade.
_MOST_STRENGTH = 0.48


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LightField:
    """Relative light over a picture: exp of a polynomial in x and y, each -1..1 across it.

    Attributes
    ----------
    coefficients : (M,) of 1, x, y, x^2, xy, y^2 (and third-order terms from a blank board)
    strength : share of the light lost from the brightest to the dimmest place, 0..1
    log_sd : standard deviation of the logarithm of what may be left
    told_apart : whether the picture's own clouds could be told from falloff
    """

    coefficients: np.ndarray
    strength: float
    log_sd: float
    told_apart: bool

    def log_light(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return the logarithm of the light at places, of any shape, -1..1 across the picture."""
        return _powers(x, y, len(self.coefficients)) @ self.coefficients


def _powers(x: np.ndarray, y: np.ndarray, count: int) -> np.ndarray:
    terms = [np.ones_like(x), x, y, x**2, x * y, y**2]
    if count > 6:
        terms += [x**3, x**2 * y, x * y**2, y**3]
    return np.stack(terms, axis=-1)


def _grid(shape: tuple[int, int]) -> tuple[np.ndarray, np.ndarray]:
    """x and y, (H, W), -1..1 at the picture's edges."""
    rows, columns = shape
    x = (np.arange(columns) + 0.5) / columns * 2 - 1
    y = (np.arange(rows) + 0.5) / rows * 2 - 1
    return np.meshgrid(x, y)


def log_light_over(field: LightField, shape: tuple[int, int]) -> np.ndarray:
    """Return the logarithm of the light for every pixel, (H, W) float32."""
    # Smooth: a coarse grid, enlarged, is as good and a hundred times as fast.
    rows, columns = min(shape[0], 96), min(shape[1], 96)
    coarse = field.log_light(*_grid((rows, columns))).astype(np.float32)
    return cv2.resize(coarse, (shape[1], shape[0]), interpolation=cv2.INTER_LINEAR)


def _with_strength(
    coefficients: np.ndarray, log_sd: float, told_apart: bool, valid: np.ndarray
) -> LightField:
    x, y = _grid(valid.shape)
    light = (_powers(x, y, len(coefficients)) @ coefficients)[valid]
    low, high = np.quantile(light, [0.01, 0.99]) if light.size else (0.0, 0.0)
    return LightField(
        coefficients=coefficients,
        strength=float(1 - np.exp(low - high)),
        log_sd=log_sd,
        told_apart=told_apart,
    )


def _small(rgb: np.ndarray, valid: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Reduce a picture and its mask, averaging valid pixels only."""
    ratio = min(1.0, _SMALL_PX / max(rgb.shape[:2]))
    size = (max(8, round(rgb.shape[1] * ratio)), max(8, round(rgb.shape[0] * ratio)))
    weight = cv2.resize(valid.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    total = cv2.resize(
        np.maximum(rgb, 0) * valid[..., None].astype(np.float32), size, interpolation=cv2.INTER_AREA
    )
    return total / np.maximum(weight, 1e-6)[..., None], weight > 0.5


def seen_from(field: LightField, x: np.ndarray, y: np.ndarray, valid: np.ndarray) -> LightField:
    """Return a falloff as it lies over a part of the picture it was estimated from.

    Parameters
    ----------
    x, y : (N, M), where points spread evenly over the part lie in that picture, -1..1 across it
    valid : (H, W) bool, where the part is read
    """
    own_x, own_y = _grid((x.shape[0], x.shape[1]))
    terms = _powers(own_x, own_y, len(field.coefficients)).reshape(-1, len(field.coefficients))
    values = field.log_light(x, y).reshape(-1)
    known = np.isfinite(values)
    solved = np.linalg.lstsq(terms[known], values[known], rcond=None)[0]
    return _with_strength(solved, field.log_sd, field.told_apart, valid)


def light_from_picture(rgb_linear: np.ndarray, valid: np.ndarray) -> LightField:
    """Estimate the falloff from a picture of the finish itself.

    Parameters
    ----------
    rgb_linear : (H, W, 3) linear light
    valid : (H, W) bool, True where the surface is
    """
    rgb, seen = _small(rgb_linear, valid)
    if seen.sum() < 400:
        return LightField(coefficients=np.zeros(6), strength=0.0, log_sd=0.15, told_apart=False)
    x, y = _grid(seen.shape)
    terms = _powers(x, y, 6)[seen]
    light = rgb[seen]
    log = np.log(np.maximum(light @ RGB_TO_XYZ[1], 1e-3))
    # Without tones first: tones told apart before any evening would swallow the falloff.
    coefficients = _robust(terms, log)
    plain = _coefficient_spread(terms, log - terms @ coefficients, x[seen], y[seen])
    fitted = terms @ coefficients
    fitted -= fitted.mean()
    for _ in range(_ROUNDS):
        tones = _tones(light / np.exp(fitted)[:, None])
        centre = np.zeros(len(log))
        for tone in np.unique(tones):
            own = tones == tone
            centre[own] = np.median((log - fitted)[own])
        rest = log - centre
        coefficients = _robust(terms, rest)
        fitted = terms @ coefficients
        fitted -= fitted.mean()
    rest = log - centre
    # Tones fit themselves to what they are taken from, so their residuals promise too much:
    # the truth lies between theirs and that of the plain picture.
    spread = _coefficient_spread(terms, rest - terms @ coefficients, x[seen], y[seen])
    spread = spread + _PLAIN_SHARE * plain
    coefficients[0] = 0.0
    # A lamp's falloff is mostly a slope, bent by a fraction of it: what the picture says is
    # drawn towards that as far as it is unsure (the mean of a normal posterior).
    slope = float(np.hypot(coefficients[1], coefficients[2]))
    likely = np.diag([_SLOPE**2] * 2 + [(_BEND * slope + 0.003) ** 2] * 3)
    unsure = spread[1:, 1:]
    shrunk = np.zeros(6)
    shrunk[1:] = likely @ np.linalg.solve(likely + unsure, coefficients[1:])
    left = np.einsum("ni,ij,nj->n", terms[:, 1:], spread[1:, 1:], terms[:, 1:]).mean()
    log_sd = float(np.sqrt(left))
    field = _with_strength(shrunk, log_sd, True, seen)
    told_apart = log_sd < 0.10 or field.strength > 3 * log_sd
    if field.strength > _MOST_STRENGTH:
        # No lamp falls off like this over one board: these are clouds, or a shadow.
        told_apart, log_sd = False, max(log_sd, field.strength / 3)
    return _with_strength(shrunk, log_sd, bool(told_apart), seen)


def _tones(rgb: np.ndarray) -> np.ndarray:
    """Label pixels, (N,), with one of a few tones by lightness and hue."""
    lab = linear_to_lab(np.clip(rgb, 0, 4).astype(np.float32)).astype(np.float32)
    # Falloff moves lightness alone: hue and chroma part tones more surely.
    lab *= np.array([0.7, 1.4, 1.4], np.float32)
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 12, 0.3)
    cv2.setRNGSeed(7)
    none_yet = np.empty((0, 1), np.int32)
    _, labels, _ = cv2.kmeans(lab, 4, none_yet, stop, 1, cv2.KMEANS_PP_CENTERS)
    return labels.ravel()


def _robust(terms: np.ndarray, values: np.ndarray) -> np.ndarray:
    """Fit with Tukey's biweight: glare, dirt and rare tones weigh nothing."""
    weight = np.ones(len(values))
    solved = np.zeros(terms.shape[1])
    for _ in range(5):
        rows = terms * weight[:, None]
        solved = np.linalg.lstsq(rows.T @ terms, rows.T @ values, rcond=None)[0]
        off = values - terms @ solved
        scale = max(1.4826 * float(np.median(np.abs(off - np.median(off)))), 1e-4)
        weight = np.clip(1 - (off / (4.7 * scale)) ** 2, 0, None) ** 2
    return solved


def _coefficient_spread(
    terms: np.ndarray, off: np.ndarray, x: np.ndarray, y: np.ndarray
) -> np.ndarray:
    """Covariance of the coefficients when neighbours share clouds: sums over tiles as units."""
    tiles = 6
    tile = np.clip(((y + 1) / 2 * tiles).astype(int), 0, tiles - 1) * tiles
    tile += np.clip(((x + 1) / 2 * tiles).astype(int), 0, tiles - 1)
    scale = max(1.4826 * float(np.median(np.abs(off))), 1e-4)
    kept = np.clip(off, -3 * scale, 3 * scale)
    scores = np.stack(
        [np.bincount(tile, terms[:, n] * kept, tiles * tiles) for n in range(terms.shape[1])]
    )
    inverse = np.linalg.pinv(terms.T @ terms)
    # Six numbers were fitted to as few as 36 tiles: correct for the freedom they took.
    used = max(int(np.sum(np.bincount(tile, minlength=tiles * tiles) > 0)), 8)
    return inverse @ (scores @ scores.T) @ inverse * used / (used - 6)


def light_from_blank(rgb_linear: np.ndarray, valid: np.ndarray) -> LightField:
    """Return the falloff from a photo, (H, W, 3) linear, of an even board in the same place."""
    rgb, seen = _small(rgb_linear, valid)
    x, y = _grid(seen.shape)
    terms = _powers(x, y, 10)[seen]
    log = np.log(np.maximum(rgb[seen] @ RGB_TO_XYZ[1], 1e-3))
    coefficients = _robust(terms, log)
    off = log - terms @ coefficients
    coefficients[0] = 0.0
    return _with_strength(coefficients, float(np.std(off) * 0.3), True, seen)
