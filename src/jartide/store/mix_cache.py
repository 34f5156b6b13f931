"""Indexes of all mixes of a shelf, kept in the cache folder from one run to the next."""

from __future__ import annotations

import contextlib
import hashlib
import os
import tempfile
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
from platformdirs import user_cache_path

from jartide.paint.enumeration import count_mixes
from jartide.paint.fitted import FittedShelf
from jartide.paint.mix_index import MixIndex, build_index, can_index

# What is made sooner than it is read is not kept.
_WORTH_KEEPING = 1_000_000
_MOST_FILES = 6
_FORMAT = 1


def mix_index(
    fitted: FittedShelf,
    paints: list[int],
    most_paints: int,
    most_parts: int,
    progress: Callable[[float], None] | None = None,
    folder: Path | None = None,
) -> MixIndex | None:
    """Return the index of all mixes of some paints; None when there are too many mixes.

    It is read from `folder` (the user's cache unless given) when the same shelf was indexed
    before, and kept there otherwise. A full or read-only disk costs the keeping alone.
    """
    most_paints = min(most_paints, 3, len(paints))
    if not can_index(len(paints), most_paints, most_parts):
        return None
    if count_mixes(len(paints), most_paints, most_parts) < _WORTH_KEEPING:
        return build_index(fitted.parameters, paints, most_paints, most_parts, progress)
    folder = folder or user_cache_path("jar-tide") / "mixes"
    path = folder / f"{_name(fitted, paints, most_paints, most_parts)}.npz"
    with contextlib.suppress(OSError, ValueError, KeyError, zipfile.BadZipFile):
        kept = _read(path, paints, most_paints, most_parts)
        with contextlib.suppress(OSError):
            os.utime(path)
        return kept
    made = build_index(fitted.parameters, paints, most_paints, most_parts, progress)
    with contextlib.suppress(OSError):
        _write(path, made)
        _sweep(folder)
    return made


def _name(fitted: FittedShelf, paints: list[int], most_paints: int, most_parts: int) -> str:
    """Return a name for exactly these coefficients and limits."""
    digest = hashlib.sha256()
    surface = fitted.parameters.surface
    digest.update(repr((_FORMAT, paints, most_paints, most_parts, surface)).encode())
    for table in fitted.parameters.coefficients():
        digest.update(table.astype(np.float32).tobytes())
    return digest.hexdigest()[:32]


def _read(path: Path, paints: list[int], most_paints: int, most_parts: int) -> MixIndex:
    with np.load(path, allow_pickle=False) as kept:
        index = MixIndex(
            paints=tuple(paints),
            most_paints=most_paints,
            most_parts=most_parts,
            lab=kept["lab"],
            mix=kept["mix"],
            begin=kept["begin"],
            low=kept["low"],
            high=kept["high"],
        )
    if index.lab.shape != (count_mixes(len(paints), most_paints, most_parts), 3):
        raise ValueError("index of another size")
    return index


def _write(path: Path, index: MixIndex) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    # Written aside first: a killed run must not leave half an index behind.
    with tempfile.NamedTemporaryFile(dir=path.parent, suffix=".part", delete=False) as file:
        try:
            np.savez(
                file,
                lab=index.lab,
                mix=index.mix,
                begin=index.begin,
                low=index.low,
                high=index.high,
            )
        except OSError:
            Path(file.name).unlink(missing_ok=True)
            raise
    Path(file.name).replace(path)


def _sweep(folder: Path) -> None:
    """Keep the indexes used last."""
    files = sorted(folder.glob("*.npz"), key=lambda file: -file.stat().st_mtime)
    for file in files[_MOST_FILES:]:
        file.unlink(missing_ok=True)
