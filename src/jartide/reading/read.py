"""Picture -> Reading: one call that does all the measuring."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np

from jartide.colour.spaces import linear_to_lab
from jartide.errors import ReadingError
from jartide.families import family_named
from jartide.photo.picture import Picture
from jartide.reading.correlation import correlation_length
from jartide.reading.direction import Lay, lay_of_picture, lay_shares
from jartide.reading.layers import LayerMap, read_layers
from jartide.reading.lines import LinePieces, line_pieces, measure_lines
from jartide.reading.measured import Measured
from jartide.reading.paths import measured_values, with_scale_error
from jartide.reading.profiles import measure_profiles
from jartide.reading.result import ALGORITHM, LINE_ROLES, Lines, Pattern, Reading, Role
from jartide.reading.ridges import find_centre_lines
from jartide.reading.spectrum import size_spectrum
from jartide.wording import Message

LEAST_PX = 400
# Lines speak for the whole pattern's direction when they make up a fair part of what is seen.
_LINES_LEAD_SHARE = 0.005
Progress = Callable[[float], None]


def _no_progress(fraction: float) -> None:
    pass


def read_picture(
    picture: Picture, family: str = "auto", seed: int = 0, progress: Progress = _no_progress
) -> tuple[Reading, LayerMap]:
    """Return the reading of a picture and the map of its layers.

    `progress` is called with the fraction done and may raise `Cancelled`.

    Raises
    ------
    ReadingError : one sentence, when there is too little to read.
    """
    valid = picture.valid()
    if valid.sum() < LEAST_PX or min(picture.shape) < 8:
        raise ReadingError("error.reading.small", pixels=int(valid.sum()), least=LEAST_PX)
    kind = family_named(family)
    rng = np.random.default_rng(seed)
    rgb = np.maximum(picture.rgb_linear, 0)
    lab = linear_to_lab(rgb)
    light = np.ascontiguousarray(lab[..., 0])
    progress(0.15)
    with ThreadPoolExecutor(1) as pool:
        # Needs nothing of the layers, so it goes on beside them on the second core.
        lay = pool.submit(lay_of_picture, light, valid)
        spectrum = pool.submit(size_spectrum, light, valid, picture.mm_per_px)
        centre_lines = find_centre_lines(light, valid)
        progress(0.4)
        profiles = measure_profiles(rgb, centre_lines, rng)
        progress(0.5)
        layers = read_layers(rgb, lab, valid, profiles, kind, picture.mm_per_px)
        progress(0.85)
        shown = np.array([layer.shown_lab for layer in layers.layers])
        of_lines = np.array([layer.role in LINE_ROLES for layer in layers.layers])
        pieces = line_pieces(rgb, centre_lines, profiles, shown, of_lines, rng)
        progress(0.95)
        pattern = _read_pattern(
            picture, light, valid, pieces, layers, lay.result(), spectrum.result()
        )
    progress(1.0)
    if picture.scale_error > 0:
        pattern = with_scale_error(pattern, picture.scale_error)
    unsure = picture.colour_radius()
    seen_layers = tuple(
        replace(layer, lab_de00=float(np.hypot(layer.lab_de00, unsure))) for layer in layers.layers
    )
    reading = Reading(
        algorithm=ALGORITHM,
        photo_size=picture.photo_size,
        photo_mm_per_px=(
            None if picture.mm_per_px is None else picture.mm_per_px / picture.reduced
        ),
        width_px=picture.shape[1],
        height_px=picture.shape[0],
        mm_per_px=picture.mm_per_px,
        balance_known=picture.balance_known,
        exposure_known=picture.exposure_known,
        family=family,
        layers=seen_layers,
        pattern=pattern,
        warnings=(
            *picture.warnings,
            *_finish_warnings(picture, pattern),
            *_layer_warnings(layers),
            *_pattern_warnings(pattern),
        ),
        sheen=None if picture.sheen is None else picture.sheen.word.value,
        metal=picture.metal,
    )
    return reading, layers


def _read_pattern(
    picture: Picture,
    light: np.ndarray,
    valid: np.ndarray,
    pieces: LinePieces,
    layers: LayerMap,
    lay: Lay,
    spectrum: tuple[Measured, ...],
) -> Pattern:
    area = int(valid.sum())

    def lines_of(layer: int | None) -> Lines | None:
        return measure_lines(pieces, layer, area, picture.shape, picture.mm_per_px, picture.reduced)

    lines = lines_of(None)
    by_layer = [
        (layer.id, own)
        for number, layer in enumerate(layers.layers)
        if layer.role in LINE_ROLES and (own := lines_of(number)) is not None
    ]
    direction, spread, shares = lay.direction_deg, lay.spread_deg, lay.shares
    line_share = sum(
        layer.coverage.value or 0.0
        for layer in layers.layers
        if layer.role in (Role.VEIN, Role.CRACK)
    )
    if (
        lines is not None
        and line_share >= _LINES_LEAD_SHARE
        and lines.direction_deg.value is not None
    ):
        direction, spread = lines.direction_deg, lines.direction_spread_deg
        shares = lay_shares(pieces.lines.normal_deg + 90, pieces.lines.step_px)
    return Pattern(
        direction_deg=direction,
        direction_spread_deg=spread,
        directionality=lay.directionality,
        correlation_mm=correlation_length(light, _mottle(layers, valid), picture.mm_per_px),
        lines=lines,
        lines_by_layer=tuple(by_layer),
        spectrum=spectrum,
        lay=shares,
    )


def _mottle(layers: LayerMap, valid: np.ndarray) -> np.ndarray:
    """Where only ground, clouds and patches are seen, with a margin to lines and specks."""
    import cv2

    apart = [n for n, layer in enumerate(layers.layers) if layer.role in {*LINE_ROLES, Role.SPECK}]
    if not apart:
        return valid
    covered = np.isin(layers.seen, apart).astype(np.uint8)
    left = valid & (cv2.dilate(covered, np.ones((5, 5), np.uint8)) == 0)
    # Grain all over leaves no mottle beside it: then the grain is the mottle.
    return left if left.sum() > 0.4 * valid.sum() else valid


# Lines of fewer original pixels, and regions of fewer clouds, can hardly be measured.
_FEW_PX = 2.5
_FEW_CLOUDS = 5.0


def _finish_warnings(picture: Picture, pattern: Pattern) -> list[tuple[str, Message]]:
    """Say when the photo is too coarse or the region too small for this finish."""
    found: list[tuple[str, Message]] = []
    if picture.mm_per_px is None:
        return found
    per_mm = picture.reduced / picture.mm_per_px
    width = None if pattern.lines is None else pattern.lines.width_mm.median.value
    if width is not None and width * per_mm < _FEW_PX:
        wanted = max(1, round(1.6 * _FEW_PX / width))
        found.append(
            ("px_per_mm", Message("warning.px_per_mm", now=round(per_mm, 1), wanted=wanted))
        )
    cloud = pattern.correlation_mm.value
    side = min(picture.shape) * picture.mm_per_px
    if cloud is not None and side < _FEW_CLOUDS * cloud:
        wanted_mm = round(2 * _FEW_CLOUDS * cloud / 10) * 10
        found.append(("region_small", Message("warning.region_small", mm=wanted_mm)))
    return found


def _layer_warnings(layers: LayerMap) -> list[tuple[str, Message]]:
    return [
        (f"layers[{number}].lab.too_fine", Message("warning.layer_too_fine", name=layer.name))
        for number, layer in enumerate(layers.layers)
        if layer.lab is None
    ]


def _pattern_warnings(pattern: Pattern) -> list[tuple[str, Message]]:
    """Say why each value that can't be trusted is missing."""
    warnings = []
    for path, value in measured_values(pattern, "pattern"):
        if value.value is None and value.reason is not None:
            warnings.append((f"{path}.{value.reason.id.split('.')[-1]}", value.reason))
    return warnings
