"""Colours and type of the day and the night bench. All greys are true greys."""

from __future__ import annotations

from dataclasses import dataclass
from importlib.resources import files

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette

from jartide.app.measure import px

FAMILY = "Jar Tide Sans"
# The palette's place for what is said quietly; the style draws nothing with it.
QUIET = QPalette.ColorRole.BrightText


@dataclass(frozen=True, slots=True, kw_only=True)
class Theme:
    """One bench's colours, by what they are used for."""

    name: str
    bench: QColor  # under photos, jars, lanes
    sheet: QColor  # header, foot, side column
    raised: QColor  # buttons, empty jars
    well: QColor  # empty places
    line: QColor  # hairlines
    edge: QColor  # outlines of controls
    shade: QColor  # the target in charts
    water: QColor  # the tide
    land_far: QColor  # what it has still to reach, from its far end
    land_near: QColor  # to the target
    ink: QColor
    ink2: QColor
    ink3: QColor
    accent: QColor  # choice and focus, only ever as a line
    seam: QColor  # between the strata of the core


def _theme(name: str, **colours: str) -> Theme:
    return Theme(name=name, **{key: QColor(value) for key, value in colours.items()})


DAY = _theme(
    "day",
    bench="#d2d2d2",
    sheet="#e8e8e8",
    raised="#f7f7f7",
    well="#dcdcdc",
    line="#b0b0b0",
    edge="#767676",
    shade="#747474",
    water="#727272",
    land_far="#dcdcdc",
    land_near="#f7f7f7",
    ink="#151515",
    ink2="#3a3a3a",
    ink3="#555555",
    accent="#2c4fa3",
    seam="#d6d6d6",
)
NIGHT = _theme(
    "night",
    bench="#313131",
    sheet="#3b3b3b",
    raised="#505050",
    well="#444444",
    line="#585858",
    edge="#a2a2a2",
    shade="#8a8a8a",
    water="#828282",
    land_far="#262626",
    land_near="#343434",
    ink="#f4f4f4",
    ink2="#d6d6d6",
    ink3="#c4c4c4",
    accent="#a9bdf5",
    seam="#a8a8a8",
)


def load_fonts() -> None:
    """Make the shipped typeface known to Qt."""
    for file in sorted(files("jartide").joinpath("data/fonts").iterdir(), key=lambda f: f.name):
        if file.name.endswith(".ttf"):
            QFontDatabase.addApplicationFontFromData(file.read_bytes())


def font(size: int, weight: int = 400) -> QFont:
    """Return the typeface at a pixel size and weight (400, 500, 600, 700)."""
    made = QFont(FAMILY)
    made.setPixelSize(size)
    made.setWeight(QFont.Weight(weight))
    made.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return made


def palette(theme: Theme) -> QPalette:
    """Return the palette for Qt's own widgets."""
    made = QPalette()
    role = QPalette.ColorRole
    for target, colour in (
        (role.Window, theme.bench),
        (role.WindowText, theme.ink),
        (QUIET, theme.ink2),
        (role.Base, theme.raised),
        (role.AlternateBase, theme.well),
        (role.Text, theme.ink),
        (role.Button, theme.raised),
        (role.ButtonText, theme.ink),
        (role.PlaceholderText, theme.ink3),
        (role.ToolTipBase, theme.raised),
        (role.ToolTipText, theme.ink),
        (role.Highlight, theme.ink2),
        (role.HighlightedText, theme.raised),
        (role.Accent, theme.accent),
    ):
        made.setColor(target, colour)
    return made


def style_sheet(theme: Theme) -> str:
    """Return the rules for the text fields and lists that Qt draws."""
    t = {
        key: getattr(theme, key).name()
        for key in ("raised", "edge", "ink", "accent", "sheet", "line", "well", "ink3")
    }
    return f"""
    QLineEdit, QComboBox, QPlainTextEdit {{
        background: {t["raised"]}; color: {t["ink"]}; border: 1px solid {t["edge"]};
        border-radius: {px(6)}px; padding: 0 {px(10)}px;
        min-height: {px(38)}px; font-size: {px(16)}px;
        placeholder-text-color: {t["ink3"]};
    }}
    QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus {{ border: 2px solid {t["accent"]}; }}
    QLineEdit:disabled, QComboBox:disabled {{ color: {t["ink3"]}; background: {t["well"]}; }}
    QComboBox {{ padding: 0 {px(2)}px 0 {px(10)}px; }}
    QComboBox::drop-down {{ border: 0; width: {px(26)}px; }}
    QComboBox QAbstractItemView {{
        background: {t["raised"]}; color: {t["ink"]}; selection-background-color: {t["well"]};
        selection-color: {t["ink"]}; border: 1px solid {t["edge"]}; font-size: {px(16)}px;
    }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: 0; }}
    QScrollBar:horizontal {{ height: {px(8)}px; background: transparent; }}
    QScrollBar:vertical {{ width: {px(8)}px; background: transparent; }}
    QScrollBar::handle {{ background: {t["edge"]}; border-radius: {px(4)}px; min-width: {px(40)}px;
        min-height: {px(40)}px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QToolTip {{ background: {t["raised"]}; color: {t["ink"]}; border: 1px solid {t["edge"]}; }}
    """
