"""Every figure of the single measures, on made fields and at the edges of what they take."""

from __future__ import annotations

from dataclasses import fields, is_dataclass
from functools import lru_cache
from pathlib import Path

import numpy as np
import pytest
from scipy import ndimage

from jartide.families import family_named
from jartide.reading.joints.crossing import responses, standing_out, turned, unrest_of
from jartide.reading.joints.find_joints import find_joints
from jartide.reading.joints.parallel import find_parallel, reduced_to, scaled
from jartide.reading.joints.profile import measure_profile
from jartide.reading.layers.colours import colour_shares
from jartide.reading.layers.covers import find_edges
from jartide.reading.layers.passages import passage_width, steepness
from jartide.reading.layers.position import measure_position, sits
from jartide.reading.layers.soft_tones import blend, heap_of, settled, with_one_more
from jartide.reading.layers.tones import colour_cells, find_tones, flatness_of, nearest_tone
from jartide.reading.lines.blur import bar_of, own_colour, peak_cover, picture_blur_px, without_blur
from jartide.reading.lines.crossings import evenness, spacing_px, walk_across
from jartide.reading.lines.profiles import measure_profiles
from jartide.reading.lines.ridges import find_centre_lines
from jartide.reading.lines.skeletons import branch_pixels, forks, skeleton_of
from jartide.reading.lines.wander import tortuosity
from jartide.reading.pattern.cells import find_cells, measure_cells
from jartide.reading.pattern.correlation import correlation_length
from jartide.reading.pattern.crumbs import with_crumbs
from jartide.reading.pattern.direction import (
    axial_mean,
    axial_spread,
    lay_of_picture,
    lay_of_samples,
    lay_shares,
)
from jartide.reading.pattern.grain import find_grain
from jartide.reading.pattern.knots import find_knots
from jartide.reading.pattern.patches import calmed, measure_patches
from jartide.reading.pattern.peaks import direction_peaks
from jartide.reading.pattern.pieces import clark_evans, nearest_px, pieces_of
from jartide.reading.pattern.relief import follows_light, shading_of
from jartide.reading.pattern.repeat import measure_repeat
from jartide.reading.pattern.specks import measure_specks
from jartide.reading.pattern.spectrum import size_spectrum
from jartide.reading.pattern.weave import find_threads, measure_weave
from jartide.reading.trust.measured import jackknife_half_width, measured, weighted_percentile
from jartide.reading.trust.own_error import judged, least_change
from jartide.reading.trust.tiles import count_by_tile, density_half_width, tile_of
from tests.kept_values import check

FOLDER = Path(__file__).parent / "kept_measures"
MM_PER_PX = 0.4


@lru_cache(maxsize=32)
def cloud(size=(120, 150), sigma=(4.0, 4.0), seed=1):
    """Smooth noise, about 50 of lightness and 10 either way."""
    noise = np.random.default_rng(seed).normal(size=size)
    smooth = ndimage.gaussian_filter(noise, sigma)
    return (50 + 10 * smooth / smooth.std()).astype(np.float32)


def all_of(field):
    return np.ones(field.shape[:2], bool)


def holed(field):
    """A corner is not read."""
    valid = all_of(field)
    valid[: field.shape[0] // 4, : field.shape[1] // 3] = False
    return valid


@lru_cache(maxsize=4)
def lined():
    """Fine dark lines over a light cloud, most of them leaning."""
    field = cloud(sigma=(9.0, 9.0), seed=3).copy()
    y, x = np.mgrid[: field.shape[0], : field.shape[1]]
    for n, (slope, at) in enumerate(((0.5, 10), (0.6, 45), (0.4, 80), (-0.3, 130), (0.55, 100))):
        off = np.abs(y - slope * x - at + 40 + 3 * np.sin(x / 11 + n)) / (1 + 0.3 * n)
        field -= 22 * np.exp(-((off / 1.6) ** 2))
    return field.astype(np.float32)


def rgb_of(lightness):
    grey = ((lightness + 16) / 116) ** 3
    return (grey[..., None] * np.array([1.0, 0.92, 0.8])).astype(np.float32)


def lab_of(lightness):
    return np.stack([lightness, 0.1 * lightness - 4, 12 - 0.05 * lightness], -1).astype(np.float32)


def _direction():
    rng = np.random.default_rng(4)
    angle, weight = rng.uniform(0, 180, 300) ** 0.9, rng.uniform(0, 1, 300)
    tiles = rng.integers(0, 16, 300)
    leaning = cloud(sigma=(2.0, 9.0), seed=5)
    small = [cloud(size=size, sigma=(2.0, 5.0), seed=6) for size in ((23, 60), (24, 60), (25, 60))]
    return {
        "mean": axial_mean(angle, weight),
        "spread": [axial_spread(r) for r in (0.05, 0.4, 0.9, 0.999)],
        "shares": lay_shares(angle, weight),
        "samples": lay_of_samples(angle, weight, tiles, 2.0),
        "picture": [lay_of_picture(leaning, valid) for valid in (all_of(leaning), holed(leaning))],
        "small": [lay_of_picture(one, all_of(one)) for one in small],
        "peaks": direction_peaks(
            np.r_[rng.normal(30, 6, 200), rng.normal(110, 9, 120)], np.ones(320)
        ),
    }  # fmt: skip


def _spectra():
    fields_ = [cloud(sigma=(s, s), seed=7) for s in (1.5, 4.0, 9.0)]
    tile = cloud(size=(30, 40), sigma=(3.0, 3.0), seed=8)
    repeated = np.tile(tile, (5, 5))
    return {
        "size": [size_spectrum(f, all_of(f), MM_PER_PX) for f in fields_],
        "holed": size_spectrum(fields_[1], holed(fields_[1]), MM_PER_PX),
        "unscaled": size_spectrum(fields_[1], all_of(fields_[1]), None),
        "mottle": [correlation_length(f, all_of(f), MM_PER_PX) for f in fields_],
        "repeat": measure_repeat(repeated, all_of(repeated), MM_PER_PX),
        "none": measure_repeat(fields_[0], all_of(fields_[0]), MM_PER_PX),
    }


def _patches():
    field = cloud(sigma=(5.0, 5.0), seed=9)
    masks = [field > 56, (field < 44) & (field > 36)]
    valid = holed(field)
    pieces = pieces_of(masks[0], valid, 6.0)
    points = np.random.default_rng(2).uniform(0, 100, (2, 40))
    near = nearest_px(points[0], points[1])
    return {
        "patches": measure_patches(masks, field / 100, valid, MM_PER_PX, 1.0),
        "reduced": measure_patches(masks[:1], field / 100, all_of(field), MM_PER_PX, 2.5),
        "unscaled": measure_patches(masks[:1], field / 100, all_of(field), None, 1.0),
        "calm": calmed(masks[0]),
        "pieces": pieces,
        "gathered": pieces_of(masks[0], valid, 6.0, gathered=True),
        "near": near,
        "evans": clark_evans(near, 10_000.0, 400.0),
        "crumbs": with_crumbs((field > 58).astype(np.int32) + (field > 62)),
    }


def _specks_and_cells():
    rng = np.random.default_rng(10)
    spots = np.zeros((120, 150), bool)
    for y, x, r in zip(rng.integers(5, 115, 40), rng.integers(5, 145, 40), rng.uniform(1, 3.4, 40),
                       strict=True):  # fmt: skip
        yy, xx = np.ogrid[:120, :150]
        spots |= (yy - y) ** 2 + (xx - x) ** 2 < r**2
    seeds = rng.uniform(0, 1, (30, 2)) * (120, 150)
    yy, xx = np.mgrid[:120, :150]
    far = np.sort(np.hypot(yy[..., None] - seeds[:, 0], xx[..., None] - seeds[:, 1]), axis=2)
    net = far[..., 1] - far[..., 0] < 2.2
    valid = np.ones_like(net)
    return {
        "specks": measure_specks([spots], valid, MM_PER_PX),
        "cells": measure_cells(find_cells(net, valid), net.astype(np.float32), valid, MM_PER_PX),
        "knots": find_knots(cloud(sigma=(6.0, 6.0), seed=13) - 25 * spots, valid, MM_PER_PX),
    }


def _threads_and_grain():
    y, x = np.mgrid[:160, :160]
    rng = np.random.default_rng(14)
    cloth = 60 + 5 * np.sin(2 * np.pi * x / 6.2) + 4 * np.sin(2 * np.pi * y / 7.1)
    cloth = (cloth + rng.normal(0, 1.2, cloth.shape)).astype(np.float32)
    wood = 55 + 8 * np.sin(2 * np.pi * (x + 4 * np.sin(y / 30)) / 11)
    wood = (wood + rng.normal(0, 1, wood.shape)).astype(np.float32)
    return {
        "threads": find_threads(cloth, all_of(cloth)),
        "weave": measure_weave(cloth, all_of(cloth), MM_PER_PX),
        "no weave": measure_weave(cloud(), all_of(cloud()), MM_PER_PX),
        "grain": find_grain(wood, all_of(wood), 90.0, MM_PER_PX),
    }


def _steady(record):
    """All but what lies at both ends of the half circle by a last digit: directions of lines."""
    found = {field.name: getattr(record, field.name) for field in fields(record)}
    return {
        name: _steady(value) if is_dataclass(value) else value
        for name, value in found.items()
        if name != "normal_deg"
    }


def _lines():
    field = lined()
    found = find_centre_lines(field, all_of(field))
    profiles = measure_profiles(rgb_of(field), found, np.random.default_rng(15))
    row, column = np.nonzero(field < 40)
    crossings = walk_across(row, column, 30.0, all_of(field))
    skeleton, half = skeleton_of(ndimage.binary_opening(field < 42))
    return {
        "found": _steady(found),
        "profiles": _steady(profiles),
        "crossings": crossings,
        "spacing": [
            spacing_px(np.array([3.0, 5.0, 2.0]), np.array([90.0, 120.0, 75.0])),
            evenness(np.array([3.0, 8.0, 5.0, 12.0]), 9.0),
        ],
        "skeleton": skeleton,
        "half": half,
        "branches": branch_pixels(skeleton),
        "forks": forks(skeleton, half),
        "wander": tortuosity(found, 3.0),
    }


def _blurs():
    width, soft = np.linspace(0.6, 9, 12), np.linspace(0.5, 4, 12)
    u = np.linspace(0.05, 4, 15)
    beside, centre = np.tile([60.0, 2.0, 8.0], (15, 1)), np.tile([52.0, 3.0, 9.0], (15, 1))
    return {
        "bar": bar_of(width, soft),
        "peak": peak_cover(u),
        "own": own_colour(centre, beside, u),
        "without": [without_blur(width, soft, blur) for blur in (0.4, 1.1)],
        "picture": [picture_blur_px(r, e) for r in (1.0, 2.5) for e in (None, 0.9, 3.0)],
    }


def _tones():
    light = cloud(sigma=(7.0, 7.0), seed=16)
    stepped = np.where(light > 52, 70.0, np.where(light < 44, 30.0, 50.0)).astype(np.float32)
    noise = np.random.default_rng(17).normal(0, 0.8, (*stepped.shape, 3)).astype(np.float32)
    lab = lab_of(stepped) + noise
    flat = flatness_of(lab)
    tones = find_tones(lab.reshape(-1, 3), flat.ravel())
    # Clouds without a flat tone.
    even = lab_of(cloud(sigma=(6.0, 6.0), seed=18))
    heap = heap_of(even.reshape(-1, 3))
    some = np.array([[35.0, -0.5, 10.2], [62.0, 2.2, 8.9]], np.float32)
    return {
        "flat": flat,
        "tones": tones,
        "nearest": nearest_tone(lab, tones),
        "cells": colour_cells(lab),
        "edges": find_edges(lab, flat),
        "treads": find_edges(lab, flat, treads=True),
        "shares": colour_shares(lab, holed(lab)),
        "heap": heap,
        "blend": blend(even.reshape(-1, 3)[:600], some),
        "settled": settled(heap, some),
        "more": with_one_more(heap, some),
    }


# The tones of two layers, Lab.
TWO = np.array([[45.0, 0.5, 9.7], [58.0, 1.8, 9.1]])


def _places():
    light = cloud(sigma=(8.0, 8.0), seed=19)
    y, x = np.mgrid[: light.shape[0], : light.shape[1]]
    low = np.clip((y / light.shape[0]) ** 2 * (light > 46), 0, 1).astype(np.float32)
    rim = np.minimum.reduce([y, x, light.shape[0] - y, light.shape[1] - x]) < 9
    positions = [
        measure_position(low, all_of(light)),
        measure_position((rim * 0.8 + 0.1).astype(np.float32), all_of(light)),
        measure_position(
            low, all_of(light), whole_piece=False, hollows=light < 44, ridges=light > 56
        ),
    ]
    labels = (light > 52).astype(np.int32)
    return {
        "positions": positions,
        "sits": [sits(one) for one in positions if one is not None],
        "passage": [
            passage_width(rgb_of(cloud(sigma=(s, s), seed=20)), all_of(light)) for s in (2, 6)
        ],
        "steep": steepness(lab_of(light)),
        "shading": shading_of(light, labels, all_of(light), TWO),
        "light": follows_light(light - light.mean()),
    }  # fmt: skip


def _joints():
    field = cloud(size=(150, 200), sigma=(10.0, 10.0), seed=21).copy()
    for row in range(0, 150, 37):
        field[row : row + 3] = 78
        shift = 20 if row // 37 % 2 else 0
        field[row : row + 37, shift::53] = field[row : row + 37, shift + 1 :: 53] = 78
    valid = all_of(field)
    weight = valid.astype(np.float32)
    ways = find_parallel(field, valid, 4)
    turn = turned(field, weight, 0.0)
    answers = responses(turn.lightness, turn.weight, 1, 4)
    return {
        "ways": ways,
        "scaled": [scaled(one, 2.0) for one in ways],
        "reduced": reduced_to(field, valid, 90),
        "profile": [measure_profile(lab_of(field), valid, one) for one in ways],
        "joints": find_joints(lab_of(field), valid, MM_PER_PX, family_named("stone")),
        "boards": find_joints(lab_of(field), valid, MM_PER_PX, family_named("wood")),
        "answers": answers,
        "standing": standing_out(answers),
        "unrest": unrest_of(answers),
    }


def _trust():
    rng = np.random.default_rng(22)
    tiles, of_tile = rng.integers(0, 16, 200), rng.uniform(0, 9, 200)
    rows, columns = rng.integers(0, 120, 90), rng.integers(0, 150, 90)
    valid = holed(cloud())
    values, weights = rng.uniform(0, 9, 50), rng.uniform(0, 1, 50)
    paths = ("lines.spacing_mm", "lines.contrast_L", "cells.count_per_dm2", "grain.length_mm")
    return {
        "measured": [measured(3.0, 0.4, 1.1), measured(0.2, 0.5, 0.1, least=None)],
        "jackknife": [
            jackknife_half_width(tiles, lambda kept: float(of_tile[kept].mean())),
            jackknife_half_width(tiles, lambda kept: float(20 * of_tile[kept].mean()) % 180, 180.0),
        ],
        "percentiles": [weighted_percentile(values, weights, s) for s in (0.1, 0.5, 0.9)],
        "judged": [judged(path, 3.0, 0.5) for path in paths],
        "least": [least_change(judged(path, 3.0, 0.5)) for path in paths],
        "tiles": tile_of(rows, columns, valid),
        "counts": count_by_tile(cloud() > 55, valid),
        "density": density_half_width(rows, columns, valid),
    }


CASES = {
    "direction": _direction, "spectra": _spectra, "patches": _patches,
    "specks and cells": _specks_and_cells, "threads and grain": _threads_and_grain,
    "lines": _lines, "blurs": _blurs, "tones": _tones, "places": _places, "joints": _joints,
    "trust": _trust,
}  # fmt: skip


@pytest.mark.parametrize("case", CASES)
def test_no_figure_of_a_measure_has_changed(case):
    check(FOLDER, case, CASES[case]())
