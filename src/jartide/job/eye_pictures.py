"""Pictures for the eye: a surface as it looks from a distance, and where two of them differ."""

from __future__ import annotations

import cv2
import numpy as np

from jartide.boards.eye import as_seen
from jartide.boards.light import LightRisk, light_risk
from jartide.boards.log import State
from jartide.boards.match import match_layers
from jartide.boards.seen import View
from jartide.boards.series import Frame, frame_of
from jartide.boards.surroundings import picked_colour
from jartide.boards.where import where_differs
from jartide.colour.spaces import decoding_table
from jartide.colour.words import Lab
from jartide.job.flat import Flat, encoded
from jartide.reading.result import Reading
from jartide.wording import Message

# Pictures on the boards' panes are shown no larger: what an eye makes of them is computed so.
_PANE_PX = 560


def seen_from(rgb_linear: np.ndarray, mm_per_px: float, viewing_m: float) -> np.ndarray:
    """Return a picture for the eye, (H, W, 3) linear light, as it is resolved at a distance."""
    return encoded(as_seen(rgb_linear, mm_per_px, viewing_m))


def for_the_eye(
    code: np.ndarray, mm_per_px: float, *, hasty: bool = False
) -> tuple[np.ndarray, float]:
    """Return a flat picture, (H, W, 3) linear light, as it is looked at, and its mm per px.

    `hasty` takes half as many pixels a side: while the distance is moved.
    """
    height, width = code.shape[:2]
    factor = min(1.0, _PANE_PX / (2 if hasty else 1) / max(height, width))
    size = max(1, round(width * factor)), max(1, round(height * factor))
    small = cv2.resize(code, size, interpolation=cv2.INTER_AREA) if factor < 1 else code
    return decoding_table(256)[small], mm_per_px * width / size[0]


def missed_share(approved: Flat, panel: Flat, viewing_m: float) -> float:
    """Return how much of a panel hardly shows the approved board's pattern."""
    return where_differs(_view(approved), _view(panel), viewing_m).missed_share


def watched_frame(
    flat: Flat, minutes: float, state: State | None, before: Lab, after: Lab
) -> Frame:
    """Judge one frame of a series."""
    rgb = decoding_table(256)[flat.code]
    return frame_of(rgb, minutes, before, after, state)


def colour_at(code: np.ndarray, at: tuple[float, float]) -> Lab:
    """Return the colour of a picture, (H, W, 3) uint8, at a spot in shares of its size."""
    return picked_colour(decoding_table(256)[code], at)


def layer_lights(
    target: Reading, board: Reading, spectra: dict[int, np.ndarray]
) -> tuple[tuple[Message, LightRisk], ...]:
    """Return how each matched layer's pair of colours fares in other lights.

    `spectra`, (36,) reflectances, are the board's own mixes' where measured, by layer's number.
    """
    match = match_layers(target, board)
    found = []
    for i, j in match.pairs:
        L, a, b = (float(v) for v in match.board_lab[j])
        known = None if i not in spectra else spectra[i][None]
        risk = light_risk(target.layers[i].shown_lab, (L, a, b), board_spectra=known)
        found.append((target.layers[i].name, risk))
    return tuple(found)


# A spot of the board that differs by less than this stays grey.
_SEEN_JND = 1.0


def difference_picture(target: Flat, board: Flat, viewing_m: float) -> np.ndarray:
    """Return the board's picture with all turned grey that does not differ, (H, W, 3) uint8."""
    found = where_differs(_view(target), _view(board), viewing_m)
    height, width = board.code.shape[:2]
    strength = np.clip((found.jnd - _SEEN_JND) / 2.0, 0, 1)
    shown = cv2.resize(strength, (width, height), interpolation=cv2.INTER_LINEAR)[..., None]
    # Grey on the side away from the board's own lightness, with a ghost of it left.
    middle = float(board.code.mean())
    grey = 200.0 if middle < 118 else 70.0
    ghost = 0.84 * grey + 0.16 * board.code.astype(np.float32)
    return np.rint(ghost + shown * (board.code - ghost)).astype(np.uint8)


def _view(flat: Flat) -> View:
    assert flat.view is not None
    return flat.view
