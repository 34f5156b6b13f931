"""When the sun stands on a face: by latitude, day of the year and the way the face looks."""

from __future__ import annotations

import numpy as np

from jartide.plan.site import Facing

# Where nobody said: the middle of the temperate zone.
USUAL_LATITUDE_DEG = 50.0
# Lower than this sun has little strength: degrees above the horizon, and off the face.
_LEAST_HEIGHT_DEG = 8.0
_LEAST_ON_FACE_DEG = 10.0
# Outward direction of each upright face: east, north.
_OUTWARD = {
    Facing.NORTH: (0.0, 1.0),
    Facing.EAST: (1.0, 0.0),
    Facing.SOUTH: (0.0, -1.0),
    Facing.WEST: (-1.0, 0.0),
}


def sun_on_face(
    day_of_year: np.ndarray, hour: np.ndarray, latitude_deg: float, facing: Facing
) -> np.ndarray:
    """Return whether a clear sun warms a face, bool of the shape both arrays broadcast to.

    Parameters
    ----------
    day_of_year : 1 for the first of January
    hour : local time, 0..24; noon is taken as 12, so that summer time may be an hour off
    latitude_deg : north positive, -90..90

    The sun's declination after Cooper (1969), its place in the sky by spherical trigonometry.
    """
    latitude = np.radians(latitude_deg)
    declination = np.radians(23.45) * np.sin(2 * np.pi * (284 + day_of_year) / 365)
    angle = np.radians(15.0 * (hour - 12.0))
    up = np.sin(latitude) * np.sin(declination)
    up = up + np.cos(latitude) * np.cos(declination) * np.cos(angle)
    east = -np.cos(declination) * np.sin(angle)
    north = np.sin(declination) * np.cos(latitude)
    north = north - np.cos(declination) * np.cos(angle) * np.sin(latitude)
    risen = up > np.sin(np.radians(_LEAST_HEIGHT_DEG))
    if facing is Facing.LEVEL:
        return risen & (up > np.sin(np.radians(2 * _LEAST_ON_FACE_DEG)))
    out = _OUTWARD[facing]
    return risen & (east * out[0] + north * out[1] > np.sin(np.radians(_LEAST_ON_FACE_DEG)))
