"""Settings that must be known before a workspace is open: text size, language, where it lies."""

from __future__ import annotations

import json
import os
import tempfile
from dataclasses import asdict, dataclass
from pathlib import Path

from platformdirs import user_config_path

from jartide.errors import WorkspaceError
from jartide.wording import languages

TEXT_SCALES = (100, 115, 130)


@dataclass(frozen=True, slots=True, kw_only=True)
class AppSettings:
    """What holds for the whole application.

    Attributes
    ----------
    text_scale : percent; everything drawn grows with the text
    workspace : folder that is opened, "" for the usual one
    window : width and height of the window when it was last closed, px; None before
    full_screen : whether it filled the screen then
    """

    text_scale: int = 100
    language: str = "en"
    reduced_motion: bool = False
    workspace: str = ""
    window: tuple[int, int] | None = None
    full_screen: bool = False


def settings_file() -> Path:
    """Return where the settings lie."""
    return user_config_path("jar-tide", appauthor=False) / "settings.json"


def read_settings(file: Path | None = None) -> AppSettings:
    """Return the settings; of a file that is missing or damaged, the usual ones."""
    path = settings_file() if file is None else file
    try:
        kept = json.loads(path.read_text(encoding="utf-8"))
    except (OSError, ValueError, RecursionError):
        return AppSettings()
    if not isinstance(kept, dict):
        return AppSettings()
    # Read before the window is shown: without the converter, whose types take a second to load.
    scale, language, place = (kept.get(key) for key in ("text_scale", "language", "workspace"))
    return AppSettings(
        text_scale=scale if scale in TEXT_SCALES else 100,
        language=language if language in languages() else "en",
        reduced_motion=kept.get("reduced_motion") is True,
        workspace=place if isinstance(place, str) else "",
        window=_size(kept.get("window")),
        full_screen=kept.get("full_screen") is True,
    )


def _size(kept: object) -> tuple[int, int] | None:
    """A window's size as it was kept; None for anything else."""
    if not isinstance(kept, list) or len(kept) != 2:
        return None
    width, height = kept
    if not (isinstance(width, int) and isinstance(height, int) and 0 < min(width, height) < 20_000):
        return None
    return width, height


def write_settings(settings: AppSettings, file: Path | None = None) -> None:
    """Keep the settings.

    Raises
    ------
    WorkspaceError : when they can't be written; the old ones are as they were.
    """
    path = settings_file() if file is None else file
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, half_done = tempfile.mkstemp(dir=path.parent)
        with os.fdopen(handle, "w", encoding="utf-8") as out:
            json.dump(asdict(settings), out, indent=1)
        os.replace(half_done, path)
    except OSError as error:
        why = error.strerror or type(error).__name__
        raise WorkspaceError("error.settings.write", name=str(path), why=why) from error
