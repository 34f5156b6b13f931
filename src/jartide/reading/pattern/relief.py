"""Tell the light and shade of relief from paint.

Light from one side makes what faces it lighter and what turns away darker, and
leaves the kind of colour as it is. Seen under low light it follows the slope of
the surface along the light alone: its power falls with the squared cosine of the
angle to the light and vanishes across it (Kube & Pentland 1988; Koenderink &
Pont 2003). Tones of one chromaticity whose pattern does so are one paint on
relief; the fine shading within a layer that does so is relief on it.
"""

from __future__ import annotations

import cv2
import numpy as np
from scipy import fft

from jartide.colour.spaces import RGB_TO_XYZ, lab_to_linear
from jartide.reading.result import Relief
from jartide.reading.trust.measured import measured, unknown

# Chromaticities (r, g) nearer than this are of one paint in light and shade.
_SAME_PAINT = 0.022
# Share of the power that follows the light, and how well the cosine fits, of tones that are
# light and shade and nothing else. Clouds of paint that are longer one way reach the one or the
# other, not both (drawn ones, 1.2 to 2.5 times as long as wide).
_ALL_LIGHT = (0.68, 0.87)
# One paint's lit and shaded sides differ by no more than this many times in light.
_MOST_CONTRAST = 3.5
# The fine shading looked at, cycles per pixel, and directions told apart.
_BAND = (1 / 40, 1 / 5)
_DIRECTIONS = 18
# Share of the fine shading's power that follows the light, and how well the cosine fits.
_LEAST_SHARE, _LEAST_FIT = 0.1, 0.6
# Fine shading weaker than this is grain and noise.
_LEAST_STRENGTH = 0.005
# Only what lies within the band is seen, and the rest is made up for: on simulated relief of
# known strength this factor brings the two together, give or take half.
_WHOLE_OF_BAND = 2.0
_MOST_PX = 400_000


def shading_of(
    lightness: np.ndarray, labels: np.ndarray, valid: np.ndarray, tones: np.ndarray
) -> np.ndarray | None:
    """Return which layer each tone is of, (K,) uint8, when some are only light and shade.

    None when every tone is a layer of its own. `lightness`, (H, W), is the picture's L*.
    """
    share = np.bincount(labels[valid], minlength=len(tones)) / max(int(valid.sum()), 1)
    linear = np.maximum(lab_to_linear(tones), 1e-6)
    kind = (linear / linear.sum(axis=1, keepdims=True))[:, :2]
    bright = linear.sum(axis=1)
    owner = np.arange(len(tones))
    for base in np.argsort(-share):
        alike = np.abs(kind - kind[base]).max(axis=1) < _SAME_PAINT
        alike &= np.maximum(bright / bright[base], bright[base] / bright) < _MOST_CONTRAST
        alike &= owner == np.arange(len(tones))
        if alike.sum() < 2 or owner[base] != base:
            continue
        # What is of another paint is level here, so that its edges say nothing.
        of_this = alike[np.minimum(labels, len(tones) - 1)] & valid
        usual = float(lightness[of_this].mean()) if of_this.any() else 0.0
        along, fit, _ = follows_light(np.where(of_this, lightness - usual, 0)[::2, ::2])
        if along >= _ALL_LIGHT[0] and fit >= _ALL_LIGHT[1]:
            owner[alike] = base
    if np.array_equal(owner, np.arange(len(tones))):
        return None
    return np.searchsorted(np.unique(owner), owner).astype(np.uint8)


def measure_relief(
    rgb_linear: np.ndarray, labels: np.ndarray, whole: np.ndarray, mm_per_px: float | None
) -> Relief | None:
    """Return the strength of relief and where its light comes from; None where it can't be told.

    Parameters
    ----------
    rgb_linear : (H, W, 3)
    labels, whole : (H, W), the layer at each pixel, and where it is seen whole
    """
    luminance = (rgb_linear @ RGB_TO_XYZ[1].astype(np.float32)).astype(np.float32)
    if luminance.size > _MOST_PX:
        # Half the size is enough for what a lamp does to relief.
        luminance = cv2.resize(luminance, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
        labels, whole = labels[::2, ::2], whole[::2, ::2]
        rows, columns = (min(a, b) for a, b in zip(luminance.shape, labels.shape, strict=True))
        luminance, labels, whole = (part[:rows, :columns] for part in (luminance, labels, whole))
    # Against the layer's own light nearby, so that neither paint nor falloff counts.
    own = np.zeros_like(luminance)
    known = np.zeros(luminance.shape, bool)
    for k in np.unique(labels[whole]) if whole.any() else ():
        mask = ((labels == k) & whole).astype(np.float32)
        around = cv2.GaussianBlur(mask, (0, 0), 14)
        usual = cv2.GaussianBlur(mask * luminance, (0, 0), 14) / np.maximum(around, 1e-3)
        inside = (mask > 0) & (around > 0.15) & (usual > 1e-4)
        own[inside] = np.log(np.maximum(luminance[inside], 1e-5) / usual[inside])
        known |= inside
    if known.mean() < 0.3:
        return None
    own = np.clip(own, -0.7, 0.7)
    share, fit, across = follows_light(own * known)
    band = cv2.GaussianBlur(own * known, (0, 0), 1.2)
    strength = float(band[known].std() * np.sqrt(min(max(share, 0.0), 1.0)))
    if share < _LEAST_SHARE or fit < _LEAST_FIT or strength < _LEAST_STRENGTH:
        return None
    # Power does not tell the lit side from the other; lamps hang above (the usual convention).
    light_deg = across if 0 <= across < 180 else across - 180
    if mm_per_px is None and known.sum() < 4000:
        return Relief(strength=unknown("reason.too_small"), light_deg=unknown("reason.too_small"))
    return Relief(
        strength=measured(
            _WHOLE_OF_BAND * strength, _WHOLE_OF_BAND * strength / 2, _WHOLE_OF_BAND * strength / 2
        ),
        light_deg=measured(light_deg, 12.0, 12.0, least=None),
    )


def follows_light(shading: np.ndarray) -> tuple[float, float, float]:
    """Return the share of power that goes as a squared cosine, how well it fits, and its axis.

    `shading` is (H, W), in any unit, 0 where nothing is known; share and fit are 0..1, the axis is
    the direction of the light, degrees in [0, 180).
    """
    window = np.hanning(shading.shape[0])[:, None] * np.hanning(shading.shape[1])[None]
    power = np.abs(fft.rfft2((shading - shading.mean()) * window, workers=2)) ** 2
    fy = np.fft.fftfreq(shading.shape[0])[:, None]
    fx = np.fft.rfftfreq(shading.shape[1])[None]
    size = np.hypot(fx, fy)
    inside = (size > _BAND[0]) & (size < _BAND[1])
    angle = np.degrees(np.arctan2(-fy, fx + 0 * fy))[inside] % 180
    # Every octave counts alike, or the coarsest would speak for all.
    power = power[inside] * size[inside] ** 2
    which = np.minimum((angle / 180 * _DIRECTIONS).astype(int), _DIRECTIONS - 1)
    mean = np.bincount(which, power, _DIRECTIONS) / np.maximum(
        np.bincount(which, minlength=_DIRECTIONS), 1
    )
    at = np.radians(2 * (np.arange(_DIRECTIONS) + 0.5) * 180 / _DIRECTIONS)
    middle = mean.mean()
    wave = 2 * np.mean(mean * np.exp(1j * at))
    fitted = middle + np.real(wave * np.exp(-1j * at))
    spread = np.sum((mean - middle) ** 2)
    fit = 1 - float(np.sum((mean - fitted) ** 2) / max(spread, 1e-30))
    return float(abs(wave) / max(middle, 1e-30)), fit, float(np.degrees(np.angle(wave)) / 2 % 180)
