"""The pattern column: lay dial, size stair and the numbers, with a board laid over if wanted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtWidgets import QWidget

from jartide.app.elements.lay_dial import draw_lay_dial
from jartide.app.elements.size_stair import draw_size_stair
from jartide.app.kit import Kit
from jartide.app.widgets.painted import Painted
from jartide.wording import tr


@dataclass(frozen=True, slots=True, kw_only=True)
class PatternRows:
    """What the column shows of one reading."""

    lay: tuple[float, ...]
    lay_words: str
    spectrum: tuple[float | None, ...]
    size_words: str
    numbers: tuple[tuple[str, str], ...]


class PatternView(Painted):
    """Shows the target's pattern, and a board's over it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._target: PatternRows | None = None
        self._board: PatternRows | None = None

    def show_pattern(self, target: PatternRows | None, board: PatternRows | None) -> None:
        """Show a pattern; `board` is laid over it, None for none."""
        self._target, self._board = target, board
        if target is not None:
            numbers = "; ".join(f"{name}: {value}" for name, value in target.numbers)
            self.setAccessibleName(
                f"{tr('pattern.lay')}: {target.lay_words}. {tr('pattern.size')}: "
                f"{target.size_words}. {numbers}"
            )
        self.update()

    def paint(self, kit: Kit) -> None:
        w, target, board = self.width(), self._target, self._board
        kit.text(0, 0, tr("pattern.lay"), 16, 700)
        words = target.lay_words if target else ""
        kit.text(60, 1, words, 15, 400, "ink", w - 60, "right")
        dial = min(w - 24.0, 252.0)
        empty: Sequence[float] = (0.0,) * 30
        draw_lay_dial(
            kit,
            (w - dial) / 2,
            52,
            dial,
            target.lay if target else empty,
            board.lay if board else (),
        )
        y = 52 + dial / 2 + 38
        kit.across(0, y, w)
        y += 12
        kit.text(0, y, tr("pattern.size"), 16, 700)
        kit.text(60, y + 1, target.size_words if target else "", 15, 400, "ink", w - 60, "right")
        labels = [
            tr("pattern.size_label", size=s) if s == 32 else str(s) for s in (1, 2, 4, 8, 16, 32)
        ]
        draw_size_stair(
            kit,
            0,
            y + 50,
            w,
            68,
            labels,
            target.spectrum if target else (None,) * 6,
            board.spectrum if board else (),
        )
        y += 50 + 68 + 32
        rows = target.numbers if target else ()
        beside = dict(board.numbers) if board else {}
        for name, value in rows:
            kit.across(0, y, w)
            other = beside.get(name)
            shown = f"{value}  |  {other}" if other else value
            advance = kit.text(0, y + 6, shown, 17, 600, "ink", w, "right")
            kit.text(0, y + 7, name, 15, 400, "ink2", w - advance - 8)
            y += 34
