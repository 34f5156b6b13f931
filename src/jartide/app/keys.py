"""Every key of the window, in one list: what it does, and what the window calls for it."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtGui import QKeySequence


@dataclass(frozen=True, slots=True, kw_only=True)
class Key:
    """One key. `does` is the window's method, with the number it is given, if any."""

    keys: str
    does: str
    by: int | None = None


KEYS = (
    Key(keys="Ctrl+N", does="new_job"),
    Key(keys="Ctrl+O", does="open_photos"),
    Key(keys="Ctrl+V", does="paste"),
    Key(keys="Ctrl+S", does="save_job"),
    Key(keys="Ctrl+P", does="print_shown"),
    Key(keys="Ctrl+Z", does="undo"),
    Key(keys="Ctrl+Shift+Z", does="redo"),
    Key(keys="Ctrl+Return", does="press_primary"),
    Key(keys="Alt+Right", does="step_on", by=1),
    Key(keys="Alt+Left", does="step_on", by=-1),
    Key(keys="Alt+Down", does="page_on", by=1),
    Key(keys="Alt+Up", does="page_on", by=-1),
    Key(keys="F1", does="show_help"),
    Key(keys="F7", does="toggle_glance"),
    Key(keys="F8", does="toggle_row"),
    Key(keys="F11", does="switch_full_screen"),
    Key(keys="Ctrl+,", does="show_settings"),
    Key(keys="Esc", does="escape"),
    Key(keys="Ctrl+Q", does="close"),
)


def with_key(words: str, keys: str) -> str:
    """Return a tip with the key that does the same, as this desktop writes it."""
    return f"{words} ({QKeySequence(keys).toString(QKeySequence.SequenceFormat.NativeText)})"
