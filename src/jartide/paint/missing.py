"""Which kind of paint a shelf lacks when no mix comes near a colour."""

from __future__ import annotations

import math
from enum import StrEnum

from jartide.colour.difference import delta_e_2000
from jartide.colour.words import Lab
from jartide.paint.closeness import LIMITS


class Missing(StrEnum):
    """What a shelf would need."""

    LIGHTER = "lighter"
    DARKER = "darker"
    PURER_RED = "purer_red"
    PURER_YELLOW = "purer_yellow"
    PURER_GREEN = "purer_green"
    PURER_BLUE = "purer_blue"
    PURER_VIOLET = "purer_violet"
    GREYER = "greyer"


# Upper bounds of the hue angle of what is wanted, degrees.
_HUES = (
    (60.0, Missing.PURER_RED),
    (115.0, Missing.PURER_YELLOW),
    (200.0, Missing.PURER_GREEN),
    (285.0, Missing.PURER_BLUE),
    (340.0, Missing.PURER_VIOLET),
    (361.0, Missing.PURER_RED),
)


def missing_paint(target: Lab, nearest: Lab) -> Missing | None:
    """Return what would bring a shelf's nearest mix nearer; None when it reads the same."""
    if float(delta_e_2000(target, nearest)) <= LIMITS[-1][0]:
        return None
    chroma = math.hypot(*target[1:]) - math.hypot(*nearest[1:])
    lightness = target[0] - nearest[0]
    if abs(lightness) > abs(chroma):
        return Missing.LIGHTER if lightness > 0 else Missing.DARKER
    if chroma < 0:
        return Missing.GREYER
    hue = math.degrees(math.atan2(target[2], target[1])) % 360
    return next(word for end, word in _HUES if hue < end)
