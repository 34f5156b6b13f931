"""Colour in painters' words: lightness, undertone, and which way two colours differ."""

from __future__ import annotations

import math
from collections.abc import Sequence
from enum import StrEnum

Lab = tuple[float, float, float]


class Tone(StrEnum):
    """Lightness in words; the value is the message id's last part."""

    NEAR_BLACK = "near_black"
    DEEP = "deep"
    DARK = "dark"
    MID = "mid"
    LIGHT = "light"
    PALE = "pale"
    NEAR_WHITE = "near_white"


class Cast(StrEnum):
    """The hue family a colour leans to; NEUTRAL for a true grey."""

    NEUTRAL = "neutral"
    PINKISH = "pinkish"
    REDDISH = "reddish"
    ORANGE = "orange"
    YELLOWISH = "yellowish"
    OLIVE = "olive"
    GREENISH = "greenish"
    BLUE_GREEN = "blue_green"
    BLUISH = "bluish"
    VIOLET = "violet"


# Upper bounds of L*; steps of about 14, wider in the middle where a word is looser.
_TONES = (
    (10, Tone.NEAR_BLACK),
    (24, Tone.DEEP),
    (40, Tone.DARK),
    (60, Tone.MID),
    (77, Tone.LIGHT),
    (91, Tone.PALE),
    (101, Tone.NEAR_WHITE),
)
# Upper bounds of the CIELAB hue angle, degrees: red lies near 27, yellow near 90,
# green near 150, cyan near 200, blue near 270.
_CASTS = (
    (15, Cast.PINKISH),
    (45, Cast.REDDISH),
    (72, Cast.ORANGE),
    (100, Cast.YELLOWISH),
    (125, Cast.OLIVE),
    (175, Cast.GREENISH),
    (225, Cast.BLUE_GREEN),
    (290, Cast.BLUISH),
    (335, Cast.VIOLET),
    (361, Cast.PINKISH),
)
# Below this chroma a colour reads as a true grey beside a neutral one.
NEUTRAL_CHROMA = 1.5


def tone(lab: Sequence[float]) -> Tone:
    """Return the lightness word of one Lab."""
    return next(word for bound, word in _TONES if lab[0] < bound or bound == 101)


def cast(lab: Sequence[float]) -> Cast:
    """Return which way one Lab leans from the true grey of its lightness."""
    _, a, b = lab
    if math.hypot(a, b) < NEUTRAL_CHROMA:
        return Cast.NEUTRAL
    hue = math.degrees(math.atan2(b, a)) % 360
    return next(word for bound, word in _CASTS if hue < bound)


class Shift(StrEnum):
    """How a colour differs from the one it should be, by its largest part."""

    LIGHTER = "lighter"
    DARKER = "darker"
    WARMER = "warmer"
    COOLER = "cooler"
    GREENER = "greener"
    PINKER = "pinker"
    STRONGER = "stronger"
    GREYER = "greyer"


def shift(target: Sequence[float], board: Sequence[float]) -> Shift:
    """Return what `board` is, compared with `target`; both one Lab.

    Warm is towards orange (hue 60 degrees), cool away from it; green and pink
    lie across. When the difference runs along the target's own chroma it is a
    matter of strength, as long as a colour is left.
    """
    dl, da, db = (board[i] - target[i] for i in range(3))
    chroma = math.hypot(target[1], target[2])
    if abs(dl) >= math.hypot(da, db):
        return Shift.LIGHTER if dl > 0 else Shift.DARKER
    if chroma > 8:
        along = (da * target[1] + db * target[2]) / chroma
        if along > _ALONG * math.hypot(da, db):
            return Shift.STRONGER
        if -along > _ALONG * math.hypot(da, db) and _stays_a_colour(target, board):
            return Shift.GREYER
    return _hue_shift(da, db)


# The difference lies along the colour's own hue when it turns from it by less than 25 degrees.
_ALONG = 0.906
# A colour that keeps this chroma, and this share of its own, has lost strength; one that comes
# near grey is seen to have gained the hue it moved towards.
_KEEPS_CHROMA, _KEEPS_SHARE = 5.0, 0.35


def _stays_a_colour(target: Sequence[float], board: Sequence[float]) -> bool:
    left = (board[1] * target[1] + board[2] * target[2]) / math.hypot(target[1], target[2])
    return left > _KEEPS_CHROMA and left > _KEEPS_SHARE * math.hypot(target[1], target[2])


def _hue_shift(da: float, db: float) -> Shift:
    angle = math.degrees(math.atan2(db, da)) % 360
    if 15 <= angle < 105:
        return Shift.WARMER
    if 105 <= angle < 195:
        return Shift.GREENER
    if 195 <= angle < 285:
        return Shift.COOLER
    return Shift.PINKER


class Undertone(StrEnum):
    """How warm a colour is beside a true grey of its lightness."""

    WARM = "warm"
    COOL = "cool"
    EVEN = "even"


class Strength(StrEnum):
    """How far a colour is from the true grey of its lightness."""

    HINT = "hint"
    CLEAR = "clear"
    FULL = "full"


# Chroma up to which a cast is a hint, and up to which the colour still reads as a grey.
_HINT_CHROMA, _CLEAR_CHROMA = 5.0, 14.0


def undertone(lab: Sequence[float]) -> tuple[Undertone, Cast, Strength]:
    """Return a colour's undertone against the true grey of its lightness.

    Warm is within 90 degrees of orange (hue 60), cool opposite; within 15 degrees of
    the line between, and at no chroma, it is neither.
    """
    _, a, b = lab
    chroma = math.hypot(a, b)
    leaning = cast(lab)
    strength = Strength.FULL
    if chroma < _CLEAR_CHROMA:
        strength = Strength.HINT if chroma < _HINT_CHROMA else Strength.CLEAR
    if leaning is Cast.NEUTRAL:
        return Undertone.EVEN, leaning, strength
    towards_orange = math.cos(math.atan2(b, a) - math.radians(60))
    if abs(towards_orange) < math.sin(math.radians(15)):
        return Undertone.EVEN, leaning, strength
    return (Undertone.WARM if towards_orange > 0 else Undertone.COOL), leaning, strength


def beside(lab: Sequence[float], neighbour: Sequence[float]) -> Shift | None:
    """Return which way a colour's cast lies from a neighbour's, lightness aside; None if alike."""
    da, db = lab[1] - neighbour[1], lab[2] - neighbour[2]
    if math.hypot(da, db) < 2.0:
        return None
    # Through grey and out on the other side it is another hue, not a greyer one.
    if lab[1] * neighbour[1] + lab[2] * neighbour[2] < 0:
        return _hue_shift(da, db)
    return shift(neighbour, (neighbour[0], lab[1], lab[2]))
