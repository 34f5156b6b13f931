"""All measures, in the order they are read out block by block."""

from __future__ import annotations

from jartide.measures.lines import LINES
from jartide.measures.measure import Measure
from jartide.measures.patches import CLOUDS, PATCHES, SPECKS
from jartide.measures.structure import BRUSH, CELLS, GRAIN, JOINTS, WEAVE
from jartide.measures.surface import COMMON, EDGES, MOTTLE, PLACES, REPEAT, TEXTURE, TOLD

MEASURES: tuple[Measure, ...] = (
    *LINES,
    *PATCHES,
    *CLOUDS,
    *CELLS,
    *WEAVE,
    *GRAIN,
    *SPECKS,
    *BRUSH,
    *JOINTS,
    *MOTTLE,
    *EDGES,
    *REPEAT,
    *TEXTURE,
    *PLACES,
    *COMMON,
    *TOLD,
)
BY_PATH = {measure.path: measure for measure in MEASURES}


def block_of(name: str) -> tuple[Measure, ...]:
    """Return the measures of one block that are read out one by one, in order."""
    return tuple(measure for measure in MEASURES if measure.block == name and measure.listed)
