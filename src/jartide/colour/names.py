"""What painters call a colour: one word for its hue, strength and lightness together."""

from __future__ import annotations

import math
from collections.abc import Sequence

# Below the first chroma a colour is a grey, below the second a greyed one.
_GREY, _GREYED = 4.0, 10.0
_DARK = 24.0
# Greys by the upper bound of L*: without a cast, with a warm one, with a cool one.
_GREYS = (
    (16.0, "black", "black", "black"),
    (32.0, "charcoal", "charcoal", "slate"),
    (58.0, "grey", "taupe", "slate"),
    (76.0, "grey", "stone", "blue_grey"),
    (90.0, "pale_grey", "bone", "pale_grey"),
    (101.0, "white", "off_white", "white"),
)
# Hues by the upper bound of the CIELAB angle, degrees; each has (upper L*, least chroma, word),
# the first that fits is taken.
_HUES: tuple[tuple[float, tuple[tuple[float, float, str], ...]], ...] = (
    (20, ((30, 0, "wine"), (56, 22, "red"), (56, 0, "rosewood"), (101, 0, "pink"))),
    (44, ((27, 0, "oxblood"), (56, 30, "red"), (56, 0, "red_brown"), (74, 28, "coral"),
          (101, 0, "pink"))),
    (68, ((30, 0, "umber"), (56, 34, "rust"), (56, 0, "brown"), (74, 36, "orange"),
          (74, 0, "tan"), (101, 26, "apricot"), (101, 0, "sand"))),
    (100, ((30, 0, "umber"), (50, 0, "brown"), (74, 26, "ochre"), (74, 0, "sand"),
           (101, 32, "yellow"), (101, 0, "cream"))),
    (125, ((30, 0, "dark_olive"), (72, 0, "olive"), (101, 0, "straw_green"))),
    (172, ((28, 0, "bottle_green"), (74, 16, "green"), (74, 0, "sage"), (101, 0, "mint"))),
    (228, ((30, 0, "deep_teal"), (58, 14, "teal"), (58, 0, "slate"), (82, 14, "turquoise"),
           (82, 0, "blue_grey"), (101, 0, "mint"))),
    (292, ((26, 0, "navy"), (72, 14, "blue"), (72, 0, "slate"), (101, 0, "pale_blue"))),
    (335, ((36, 0, "plum"), (66, 0, "violet"), (101, 0, "lilac"))),
    (361, ((30, 0, "wine"), (56, 0, "rosewood"), (101, 0, "pink"))),
)  # fmt: skip
# Greys lean warm towards these angles; what lies between the two reads as no cast.
_WARM, _COOL = (20.0, 112.0), (165.0, 300.0)
WORDS = tuple(
    sorted(
        {word for _, *words in _GREYS for word in words}
        | {word for _, steps in _HUES for _, _, word in steps}
        | {"grey_green", "grey_pink"}
    )
)


def colour_name(lab: Sequence[float]) -> str:
    """Return the word for one Lab (D65), the last part of a message id `hue.<word>`."""
    lightness, a, b = (float(v) for v in lab)
    chroma = math.hypot(a, b)
    hue = math.degrees(math.atan2(b, a)) % 360
    # Of very light colours less chroma is seen; what is dark and not grey is called by its hue.
    seen = chroma * (0.75 if lightness > 90 else 1.0)
    if seen < (_GREY if lightness < _DARK else _GREYED):
        grey = _grey(lightness, seen, hue)
        if grey is not None:
            return grey
    _, steps = next(one for one in _HUES if hue < one[0])
    return next(word for most, least, word in steps if lightness < most and chroma >= least)


def _grey(lightness: float, seen: float, hue: float) -> str | None:
    """The word for a grey or a greyed colour; None where the hue is what one sees."""
    _, plain, warm, cool = next(one for one in _GREYS if lightness < one[0])
    if seen < _GREY / 2:
        return plain
    if _WARM[0] <= hue <= _WARM[1]:
        return warm
    if _COOL[0] <= hue <= _COOL[1]:
        return cool
    if seen < _GREY or lightness < 16:
        return plain
    if hue < _COOL[0] and hue > _WARM[1]:
        return "grey_green" if lightness < 85 else None
    return "grey_pink" if lightness < 85 else None
