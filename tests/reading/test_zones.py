"""Zones are read by themselves, and suggested where the layers speak for them."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.families import family_named
from jartide.reading.heights import suggest_heights
from jartide.reading.read import read_picture
from jartide.reading.suggest import suggest_parts, suggest_zones
from jartide.reading.zones import Zone, ZoneKind, edge_zone

from .test_decisions import GROUND, PATCH, SPOT, blots, picture_of


def test_zones_are_read_by_themselves():
    label = np.zeros((320, 320), int)
    label[:, 160:] = blots()[:, 160:]
    picture = picture_of(label, (GROUND, PATCH, SPOT))
    left = Zone(kind=ZoneKind.FIELD, outlines=(((0.0, 0.0), (0.5, 0.0), (0.5, 1.0), (0.0, 1.0)),))
    other = Zone(kind=ZoneKind.OTHER, outlines=edge_zone(0.2).outlines, family="stone")
    reading, _ = read_picture(picture, zones=(left, other))
    field, edge = reading.zones
    assert field.share == pytest.approx(0.5, abs=0.01)
    assert field.coverages[0].value > 0.97
    assert not field.layers
    assert edge.family == "stone"
    assert edge.layers


def test_two_halves_and_a_worn_rim_are_suggested_and_clouds_are_not():
    halves = np.zeros((240, 240), np.uint8)
    halves[:, 140:] = 1
    everywhere = np.ones((240, 240), bool)
    found = suggest_parts(halves, everywhere, 2)
    assert len(found) == 2
    assert found[1].mask((240, 240))[:, 150:].all()
    rim = edge_zone().mask((240, 240)).astype(np.uint8)
    (worn,) = suggest_parts(rim, everywhere, 2)
    assert worn.kind is ZoneKind.EDGES
    assert suggest_parts(blots()[:240, :240].astype(np.uint8), everywhere, 3) == ()


def mouldings(seed=0, shape=(320, 320)):
    """Three ridges across, lights brushed over them and sparsely beside: labels, and the ridges."""
    rng = np.random.default_rng(seed)
    rows = np.arange(shape[0])[:, None] * np.ones(shape[1])
    ridge = (rows // 32) % 3 == 1
    streak = np.kron(rng.random((shape[0] // 2, shape[1] // 20)), np.ones((2, 20)))
    return (streak < np.where(ridge, 0.85, 0.08)).astype(np.uint8), ridge


def test_ridges_and_hollows_are_suggested_by_where_the_lights_lie():
    label, ridge = mouldings()
    everywhere = np.ones(label.shape, bool)
    tones_L = np.array([30.0, 60.0])
    zones = suggest_heights(tones_L, label, everywhere, family_named("brushed"))
    assert [zone.kind for zone in zones] == [ZoneKind.RIDGES, ZoneKind.HOLLOWS]
    assert (zones[0].mask(label.shape) == ridge).mean() > 0.96
    assert (zones[0].mask(label.shape) ^ zones[1].mask(label.shape)).mean() > 0.97
    # Bloom settles in the hollows: there the light parts stand back.
    zones = suggest_heights(tones_L, label, everywhere, family_named("verdigris"))
    assert [zone.kind for zone in zones] == [ZoneKind.HOLLOWS, ZoneKind.RIDGES]
    # Marble is polished flat, and an even field has no heights whatever it is.
    assert suggest_heights(tones_L, label, everywhere, family_named("marble")) == ()
    even = (np.random.default_rng(3).random(label.shape) < 0.4).astype(np.uint8)
    assert suggest_heights(tones_L, even, everywhere, family_named("brushed")) == ()


def test_suggested_ridges_are_read_with_their_own_shares():
    label, ridge = mouldings()
    picture = picture_of(label, ((30.0, 2.0, 4.0), (60.0, 4.0, 12.0)))
    _, layers = read_picture(picture, "brushed")
    zones = suggest_zones(layers, family_named("brushed"))
    reading, _ = read_picture(picture, "brushed", zones=zones)
    shares = {zone.kind: zone.coverages[-1].value for zone in reading.zones}
    assert shares["ridges"] == pytest.approx(label[ridge].mean(), abs=0.06)
    assert shares["hollows"] == pytest.approx(label[~ridge].mean(), abs=0.06)
