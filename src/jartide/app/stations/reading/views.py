"""What the Reading station shows, made from a reading: rows, pictures, words for the foot."""

from __future__ import annotations

import numpy as np
from PySide6.QtGui import QColor

from jartide.app.widgets.core_list import LayerRow
from jartide.app.widgets.pattern_view import PatternRows
from jartide.boards.together import Together
from jartide.colour.spaces import encode_srgb, srgb_hex
from jartide.job.analysis import Analysis
from jartide.job.words.number_rows import number_groups
from jartide.job.words.numbers import lay_words, layer_words, size_words
from jartide.reading.result import Layer, Reading
from jartide.wording import say, tr


def busy_words(fraction: float) -> str:
    """What is being found at this fraction of the work."""
    if fraction < 0.15:
        return "reading.busy.prepare"
    return "reading.busy.lines" if fraction < 0.6 else "reading.busy.layers"


def doubt(layer: Layer) -> str:
    """Return "check by eye" for a colour that should be."""
    if layer.reader_lab is not None:
        return ""
    return tr("reading.by_eye") if layer.lab is None or layer.gamut_edge else ""


def layer_row(layer: Layer, reading: Reading) -> LayerRow:
    """Return a layer as the list beside the core shows it."""
    return LayerRow(
        name=say(layer.name),
        colour=QColor(srgb_hex(layer.best_lab or layer.shown_lab)),
        coverage=layer.coverage.value or 0.0,
        words=layer_words(layer, reading),
        doubt=doubt(layer),
    )


def pattern_rows(reading: Reading) -> PatternRows:
    """Return the pattern as its column shows it."""
    pattern = reading.pattern
    return PatternRows(
        lay=pattern.lay,
        lay_words=lay_words(pattern),
        spectrum=tuple(m.value for m in pattern.spectrum),
        size_words=size_words(pattern),
        groups=number_groups(reading),
    )


def lifted(analysis: Analysis, number: int, *, but_one: bool):
    """The surface with one layer alone (or all but it); the rest is a flat grey with a ghost."""
    code, own = analysis.flat.code, analysis.layers.labels == number
    shown = ~own if but_one else own
    light = analysis.reading.layers[number].shown_lab[0]
    # Light behind a dark layer, dark behind a light one.
    grey = 214 if (light < 55) != but_one else 58
    ghost = (0.16 * code + 0.84 * grey).astype(np.uint8)
    return np.where(shown[..., None], code, ghost)


def cover_map(analysis: Analysis, number: int):
    """How much of each pixel one layer covers: white all of it, black none."""
    cover = analysis.layers.covers.of(number) * analysis.layers.valid
    code = np.rint(encode_srgb(0.02 + 0.88 * cover) * 255).astype(np.uint8)
    return np.repeat(code[..., None], 3, axis=2)


def spread_words(together: Together) -> str:
    """How far the photos' colours lie apart, in words."""
    apart = max((layer.spread_de00 for layer in together.layers), default=0.0)
    return tr("amount.hair" if apart < 2 else "amount.little" if apart < 5 else "amount.much")
