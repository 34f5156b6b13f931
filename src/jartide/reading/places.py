"""Where on the photo a measure was taken: lines by width, outlines, spots, threads, a repeat."""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np

from jartide.families import family_named
from jartide.measures.entries import BY_PATH
from jartide.reading.layers.layer_map import LayerMap
from jartide.reading.lines.line_pieces import line_pieces
from jartide.reading.pattern.grain import find_grain
from jartide.reading.pattern.knots import find_knots
from jartide.reading.pattern.measure_pattern import cells_of, scene_of
from jartide.reading.pattern.pieces import pieces_of
from jartide.reading.pattern.weave import find_threads
from jartide.reading.read import Basis
from jartide.reading.result import LINE_ROLES, Reading, Role

# Outlines of more areas than this only blur the photo.
_MOST_RINGS = 1500
# Which sets of threads a measure is of, where it is not of both.
_SETS = {
    "weave.warp_per_cm": (0,),
    "weave.warp_direction_deg": (0,),
    "weave.weft_per_cm": (1,),
    "weave.weft_direction_deg": (1,),
}


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Places:
    """What to draw over a picture; all in shares of its width and height from the top left.

    Attributes
    ----------
    points, widths : (N, 2) centre-line points, and how wide the line is there as a share of
        the picture's width; NaN where that is not known
    rings : closed outlines, (M, 2) each
    spots : (K, 3) middles and radii, these as shares of the width
    strokes : (S, 4) straight lines from x, y to x, y
    """

    points: np.ndarray
    widths: np.ndarray
    rings: tuple[np.ndarray, ...]
    spots: np.ndarray
    strokes: np.ndarray


def places_of(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    """Return where a measure, by the path of its entry, was taken."""
    if reading.family != basis.family:
        # Told by the picture itself, so it was measured as of that family.
        evidence = replace(basis.evidence, family=family_named(reading.family))
        basis = replace(basis, family=reading.family, evidence=evidence)
    find = {
        "lines": _lines,
        "patches": _patches,
        "clouds": _clouds,
        "specks": _specks,
        "cells": _cells,
        "grain": _grain,
        "weave": _weave,
        "brush": _brush,
        "repeat": _repeat,
    }.get(BY_PATH[path].block, _mottle)
    return find(path, basis, reading, layers)


def _places(basis: Basis, **found) -> Places:
    """Make places from pixels."""
    height, width = basis.picture.shape
    scale = np.array([width, height], float)
    points = np.asarray(found.get("points", np.zeros((0, 2))), float).reshape(-1, 2)
    spots = np.asarray(found.get("spots", np.zeros((0, 3))), float).reshape(-1, 3)
    strokes = np.asarray(found.get("strokes", np.zeros((0, 4))), float).reshape(-1, 4)
    return Places(
        points=(points + 0.5) / scale,
        widths=np.asarray(found.get("widths", np.full(len(points), np.nan)), float) / width,
        rings=tuple((ring + 0.5) / scale for ring in found.get("rings", ())),
        spots=np.column_stack([(spots[:, :2] + 0.5) / scale, spots[:, 2] / width]),
        strokes=strokes / np.tile(scale, 2),
    )


def _lines(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    evidence = basis.evidence
    rng = np.random.default_rng([basis.seed, 1])
    pieces = line_pieces(
        evidence.rgb_linear,
        basis.centre_lines,
        evidence.profiles,
        layers.layers,
        layers.masks(),
        rng,
    )
    if path == "lines.junctions_per_dm2":
        own = pieces.fork_layer == -1
        spots = np.column_stack(
            [pieces.fork_column[own], pieces.fork_row[own], np.full(own.sum(), 9.0)]
        )
        return _places(basis, spots=spots)
    lines, profiles = pieces.lines, pieces.profiles
    count = int(max(lines.piece.max(initial=0), profiles.lines.piece.max(initial=0))) + 1
    number = np.bincount(profiles.lines.piece, minlength=count)
    total = np.bincount(profiles.lines.piece, profiles.width_px, minlength=count)
    width = np.where(number > 0, total / np.maximum(number, 1), np.nan)[lines.piece]
    return _places(basis, points=np.column_stack([lines.column, lines.row]), widths=width)


def _rings(basis: Basis, masks: list[np.ndarray]) -> Places:
    rings: list[np.ndarray] = []
    for mask in masks:
        found, _ = cv2.findContours(
            mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE
        )
        rings += [ring[:, 0].astype(float) for ring in found if len(ring) > 2]
    rings.sort(key=len, reverse=True)
    return _places(basis, rings=rings[:_MOST_RINGS])


def _of_roles(layers: LayerMap, roles: tuple[Role, ...]) -> list[np.ndarray]:
    masks = zip(layers.masks(), layers.layers, strict=True)
    return [mask for mask, layer in masks if layer.role in roles]


def _patches(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    return _rings(basis, _of_roles(layers, (Role.PATCH, Role.RUN)))


def _clouds(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    return _rings(basis, _of_roles(layers, (Role.CLOUD,)))


def _brush(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    return _rings(basis, _of_roles(layers, (Role.BRUSH,)))


def _mottle(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    apart = (*LINE_ROLES, Role.SPECK)
    keep = [r for r in Role if r not in apart and r is not Role.GROUND]
    return _rings(basis, _of_roles(layers, tuple(keep)))


def _specks(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    valid = basis.evidence.valid
    spots = []
    for mask in _of_roles(layers, (Role.SPECK,)):
        found = pieces_of(mask, valid, 4)
        radius = np.sqrt(found.area_px / np.pi) + 3
        spots.append(np.column_stack([found.column, found.row, radius]))
    return _places(basis, spots=np.concatenate([np.zeros((0, 3)), *spots]))


def _scene(basis: Basis):
    evidence = basis.evidence
    return scene_of(
        basis.picture, evidence.rgb_linear, evidence.lab, evidence.valid, evidence.family
    )


def _cells(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    found = cells_of(_scene(basis), layers, layers.masks())
    if found is None:
        return _places(basis)
    cells, _ = found
    label, factor = cells.pieces.label, cells.factor
    rings = []
    for number in range(1, int(label.max()) + 1):
        own = (label == number).astype(np.uint8)
        outlines, _ = cv2.findContours(own, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
        rings += [ring[:, 0] * float(factor) for ring in outlines if len(ring) > 2]
        if len(rings) >= _MOST_RINGS:
            break
    return _places(basis, rings=rings)


def _grain(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    scene = _scene(basis)
    mm = basis.picture.mm_per_px
    if path == "grain.knots" and mm is not None:
        knots = find_knots(scene.lightness, scene.valid, mm)
        return _places(basis, spots=[(k.column, k.row, k.radius_mm / mm) for k in knots])
    if path == "grain.pores_per_cm2":
        masks = _of_roles(layers, (Role.GRAIN,))
        masks.sort(key=lambda mask: -int(mask.sum()))
        return _rings(basis, masks[1:])
    way = reading.pattern.grain
    if way is None or way.direction_deg.value is None:
        return _places(basis)
    lines = find_grain(scene.lightness, scene.valid, way.direction_deg.value, mm)
    if lines is None:
        return _places(basis)
    return _places(basis, points=np.column_stack([lines.column, lines.row]))


def _weave(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    """The lattice of threads: straight lines where each set's wave is highest."""
    scene = _scene(basis)
    found = find_threads(scene.lightness, scene.valid)
    if found is None:
        return _places(basis)
    which = _SETS.get(path, (0, 1))
    height, width = scene.lightness.shape
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    strokes = []
    for number in which:
        threads = found[number]
        turned = (scene.lightness - scene.lightness.mean()) * np.exp(
            -2j * np.pi * (threads.fx * x + threads.fy * y)
        )
        # The middle of a thread is where its wave is darkest or lightest: half a turn apart.
        start = -np.angle(turned[scene.valid].mean()) / (2 * np.pi)
        along = np.array([-threads.fy, threads.fx]) / threads.per_px
        across = np.array([threads.fx, threads.fy]) / threads.per_px**2
        corners = np.array([(0, 0), (width, 0), (0, height), (width, height)], float)
        phase = corners @ np.array([threads.fx, threads.fy])
        reach = float(np.hypot(width, height))
        for turn in np.arange(np.floor(phase.min()), np.ceil(phase.max()) + 1):
            middle = across * (turn + start)
            middle = middle + along * ((np.array([width / 2, height / 2]) - middle) @ along)
            strokes.append((*(middle - along * reach), *(middle + along * reach)))
    return _places(basis, strokes=strokes)


def _repeat(path: str, basis: Basis, reading: Reading, layers: LayerMap) -> Places:
    repeat, mm = reading.pattern.repeat, basis.picture.mm_per_px
    if repeat is None or repeat.period_mm is None or mm is None:
        return _places(basis)
    height, width = basis.picture.shape
    step = np.array(repeat.period_mm) / mm
    middle = np.array([width, height]) / 2 - step / 2
    end = middle + step
    return _places(
        basis,
        strokes=[(*middle, *end)],
        spots=[(*middle, 14.0), (*end, 14.0)],
    )
