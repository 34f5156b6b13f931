"""A camera on a stand."""

from __future__ import annotations

from typing import Protocol


class CameraDevice(Protocol):
    """Anything that takes a photo when asked."""

    @property
    def name(self) -> str:
        """What the painter calls it."""
        ...

    def take(self) -> bytes:
        """Take one photo and return the bytes of its file (JPEG, or the maker's raw).

        Raises
        ------
        DeviceError : one sentence, when it can't.
        """
        ...
