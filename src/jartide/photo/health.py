"""What is wrong with a photo, each in one sentence that says what to do."""

from __future__ import annotations

import cv2
import numpy as np

from jartide.photo.even_light import LightField
from jartide.photo.load import Photo
from jartide.wording import Message

Warnings = list[tuple[str, Message]]

_TILE = 512
# Standard deviation of the blur, original px, above which fine veins are lost, and how
# many pixels of the reading it must spread over to matter.
_BLUR_PX = 2.2
_BLUR_READ_PX = 1.1
_NOISE_CODE = 9.0
# JPEG of quality 70 shows 1.6 on a grainy stone, of 40 about 2.
_BLOCKS = 1.8
_CLIPPED = 0.01
_UNEVEN = 0.15
_GAMUT = 0.03
# Shares are of about this many pixels, spread evenly.
_SAMPLES = 60_000


def photo_warnings(
    photo: Photo,
    rgb: np.ndarray,
    where: np.ndarray,
    valid: np.ndarray,
    reduced: float,
    balance_known: bool,
) -> Warnings:
    """Return what is wrong with a photo where it is to be read.

    Parameters
    ----------
    rgb, valid : the corrected flat picture and its mask
    where : (H, W, 2) original px of its pixels
    reduced : original px per picture px
    """
    found: Warnings = []
    tiles = _tiles(photo, where, valid)
    if tiles:
        blur = np.median([v for t in tiles if (v := _blur_px(t)) is not None] or [0.0])
        if blur > _BLUR_PX and blur > _BLUR_READ_PX * reduced:
            found.append(("blur", Message("warning.blur", px=round(float(blur), 1))))
        noise = float(np.median([_noise(t) for t in tiles]))
        if noise > _NOISE_CODE * max(1.0, reduced / 2):
            found.append(("noise", Message("warning.noise")))
        if float(np.median([_blockiness(t) for t in tiles])) > _BLOCKS:
            found.append(("compression", Message("warning.compression")))
    found += _clipping(photo, where, valid)
    if balance_known:
        step = max(1, round((valid.sum() / _SAMPLES) ** 0.5))
        share = _near_gamut_edge(rgb[::step, ::step][valid[::step, ::step]])
        if share > _GAMUT:
            percent = max(1, round(100 * share))
            found.append(("gamut", Message("warning.gamut", percent=percent)))
    return found


def light_warnings(field: LightField, evened: bool) -> Warnings:
    """Return what there is to say about the light's falloff."""
    percent = round(100 * field.strength)
    if not field.told_apart:
        return [("light_unsure", Message("warning.light_unsure"))]
    if not evened and field.strength > _UNEVEN:
        return [("uneven_light", Message("warning.uneven_light", percent=percent))]
    return []


def _tiles(photo: Photo, where: np.ndarray, valid: np.ndarray) -> list[np.ndarray]:
    """A few full-resolution grey tiles, float32 code values, where the photo is read."""
    rows, columns = np.nonzero(valid)
    if rows.size == 0:
        return []
    width, height = photo.size
    tiles = []
    for share in (0.2, 0.5, 0.8):
        n = int(share * (rows.size - 1))
        x, y = np.nan_to_num(where[rows[n], columns[n]])
        left = int(np.clip(x - _TILE / 2, 0, max(0, width - _TILE))) // 8 * 8
        top = int(np.clip(y - _TILE / 2, 0, max(0, height - _TILE))) // 8 * 8
        part = photo.code[top : top + _TILE, left : left + _TILE]
        if min(part.shape[:2]) < 64:
            continue
        if part.dtype == np.uint16:
            part = (part >> 8).astype(np.uint8)
        tiles.append(
            cv2.cvtColor(np.ascontiguousarray(part), cv2.COLOR_RGB2GRAY).astype(np.float32)
        )
    return tiles


def _blur_px(grey: np.ndarray) -> float | None:
    """Deviation of the blur from its sharpest edges, px; None without edges.

    An edge's steepness before and after a further known blur gives its own
    (Zhuo & Sim 2011, "Defocus map estimation from a single image").
    """
    more = 1.5
    again = cv2.GaussianBlur(grey, (0, 0), more)

    def steep(picture: np.ndarray) -> np.ndarray:
        return cv2.magnitude(
            cv2.Sobel(picture, cv2.CV_32F, 1, 0, scale=1 / 8),
            cv2.Sobel(picture, cv2.CV_32F, 0, 1, scale=1 / 8),
        )

    first, second = steep(grey), steep(again)
    strong = (first > max(6.0, float(np.quantile(first, 0.995)))) & (second > 0.5)
    if strong.sum() < 60:
        return None
    ratio = first[strong] / second[strong]
    own = more / np.sqrt(np.maximum(ratio**2 - 1, 1e-3))
    return float(np.quantile(own, 0.25))


def _noise(grey: np.ndarray) -> float:
    """Standard deviation of the noise, code values (Immerkaer 1996), in the quieter half."""
    kernel = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32) / 6
    rough = np.abs(cv2.filter2D(grey, cv2.CV_32F, kernel))
    local = cv2.blur(rough, (16, 16))
    return float(np.sqrt(np.pi / 2) * np.quantile(local, 0.2))


def _blockiness(grey: np.ndarray) -> float:
    """How much larger steps are across some eighth line than across the others."""
    worst = 1.0
    for axis in (0, 1):
        step = np.abs(np.diff(grey, axis=axis)).mean(axis=1 - axis)
        step = step[: len(step) // 8 * 8].reshape(-1, 8).mean(axis=0)
        worst = max(worst, float(step.max() / max(np.median(step), 1.0)))
    return worst


def _clipping(photo: Photo, where: np.ndarray, valid: np.ndarray) -> Warnings:
    step = max(1, round((valid.sum() / _SAMPLES) ** 0.5))
    at = np.nan_to_num(where[::step, ::step][valid[::step, ::step]])
    x = np.clip(at[:, 0].astype(int), 0, photo.size[0] - 1)
    y = np.clip(at[:, 1].astype(int), 0, photo.size[1] - 1)
    code = photo.code[y, x]
    top = np.iinfo(code.dtype).max
    most = np.maximum(np.maximum(code[:, 0], code[:, 1]), code[:, 2])
    burnt = float(np.mean(most >= 0.992 * top))
    black = float(np.mean(most <= 0.008 * top))
    found: Warnings = []
    if burnt > _CLIPPED:
        found.append(("clipping", Message("warning.burnt", percent=max(1, round(100 * burnt)))))
    if black > 4 * _CLIPPED:
        found.append(("black", Message("warning.black", percent=max(1, round(100 * black)))))
    return found


def _near_gamut_edge(rgb: np.ndarray) -> float:
    """Share of colours with a channel at or below nothing while another is not: out of sRGB."""
    lowest, highest = rgb.min(axis=1), rgb.max(axis=1)
    return float(np.mean((lowest < 0.01 * highest) & (highest > 0.02)))
