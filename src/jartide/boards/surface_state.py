"""Dry against sealed: a board is compared as it will look under the target's surface.

A clear coat, or water, takes the first reflection away: everything is darker and fuller, and no
paint is wrong. Where the states of both surfaces are known and are not the same, the board's
colours are foretold for the target's; where they are not, a shift of all colours that a clear
coat would explain is asked about before anything is repainted.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from jartide.boards.log import State as SurfaceState
from jartide.boards.match import match_layers
from jartide.colour.difference import delta_e_2000
from jartide.paint.dry_down import DryPair, Finish, shifted, shifted_all
from jartide.reading.result import Layer, Reading

# What is foretold by the model alone may be off by this, and by the painter's own records of the
# same change by this, CIEDE2000, 90 % radius. Working values.
_BY_MODEL_DE00, _BY_RECORDS_DE00 = 3.0, 1.5
_SEALS: Mapping[str, Finish] = {
    "dead matt": Finish.MATT,
    "matt": Finish.MATT,
    "eggshell": Finish.EGGSHELL,
    "satin": Finish.SATIN,
    "semi-gloss": Finish.GLOSS,
    "gloss": Finish.GLOSS,
    "mirror": Finish.GLOSS,
}
_DRY = Finish.MATT
# A clear coat explains a shift of all colours that lies this near what it does, as a share of it,
# and that is at least this large, CIEDE2000.
_EXPLAINS, _LEAST_DE00 = 0.4, 2.0
# Both sides of a foretold colour are off alike in part only.
_ALIKE = 0.5


def finish_of(state: SurfaceState, sheen: str | None) -> Finish:
    """Return the surface that a state and one of the seven words of sheen stand for."""
    if state is SurfaceState.WET:
        return Finish.WET
    if state is SurfaceState.DRY:
        return _DRY
    return _SEALS.get(sheen or "satin", Finish.SATIN)


def as_if(
    reading: Reading,
    was: SurfaceState,
    wanted: SurfaceState,
    sheen: str | None = None,
    records: Sequence[DryPair] = (),
) -> Reading:
    """Return a reading with its colours as they would look in another state.

    Parameters
    ----------
    sheen : of the seal, one of the seven words; satin where nobody said
    records : colours of the painter's own that were seen in both states
    """
    if was is wanted:
        return replace(reading, surface_state=was.value)
    before, after = finish_of(was, sheen), finish_of(wanted, sheen)
    known = tuple(records)
    unsure = _BY_RECORDS_DE00 if known else _BY_MODEL_DE00

    colours = reading.colours
    if colours is not None:
        labs = shifted_all(np.array(colours.labs), before, after, known)
        colours = replace(colours, labs=tuple(_lab(lab) for lab in labs))

    def seen(layer: Layer) -> Layer:
        return replace(
            layer,
            lab=None if layer.lab is None else shifted(layer.lab, before, after, known),
            shown_lab=shifted(layer.shown_lab, before, after, known),
            lab_de00=float(np.hypot(layer.lab_de00, unsure)),
        )

    return replace(
        reading,
        layers=tuple(seen(layer) for layer in reading.layers),
        colours=colours,
        common_de00=float(np.hypot(reading.common_de00, _ALIKE * unsure)),
        foretold_de00=unsure,
        surface_state=wanted.value,
    )


def seal_explains(target: Reading, board: Reading) -> SurfaceState | None:
    """Return which state of the *target* would explain what all colours moved by.

    SEALED where the board is lighter and greyer throughout, as an unsealed one is; DRY where it is
    darker and fuller, as a wet or a sealed one is; None where a clear coat does not explain it.
    """
    if not (target.exposure_known and board.exposure_known):
        return None
    match = match_layers(target, board)
    pairs = [(i, j) for i, j in match.pairs if target.layers[i].lab and board.layers[j].lab]
    if len(pairs) < 2:
        return None
    here = np.array([target.layers[i].shown_lab for i, _ in pairs])
    there = np.array([board.layers[j].shown_lab for _, j in pairs])
    share = np.array([target.layers[i].coverage.value or 0.0 for i, _ in pairs])
    share = share / max(float(share.sum()), 1e-9)
    moved = float(share @ delta_e_2000(here, there))
    if moved < _LEAST_DE00:
        return None
    for state, darker, lighter in (
        (SurfaceState.SEALED, here, there),
        (SurfaceState.DRY, there, here),
    ):
        for dry in (Finish.MATT, Finish.DEAD_MATT):
            for seal in (Finish.EGGSHELL, Finish.SATIN, Finish.GLOSS):
                foretold = shifted_all(lighter, dry, seal)
                if float(share @ delta_e_2000(foretold, darker)) <= _EXPLAINS * moved:
                    return state
    return None


def _lab(values: np.ndarray) -> tuple[float, float, float]:
    L, a, b = (float(v) for v in values)
    return L, a, b
