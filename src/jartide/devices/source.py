"""Where a value came from: it decides how far it is trusted, and whether it may teach."""

from __future__ import annotations

from enum import StrEnum


class Source(StrEnum):
    """Where a colour, an air reading or a photo came from.

    A stand-in's values are made up: they are shown as such wherever they stand, and teach
    nothing outside the demo. Values kept before sources were are unknown.
    """

    TYPED = "typed"
    DEVICE = "device"
    PHOTO = "photo"
    FILE = "file"
    STAND_IN = "stand_in"
    UNKNOWN = "unknown"


# Only these are said beside a value; the others are what anyone expects.
SAID = (Source.STAND_IN, Source.UNKNOWN)
