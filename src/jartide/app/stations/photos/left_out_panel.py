"""The panel of what is read and what is not: the one part to read, and parts to leave out."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from jartide.app.stations.photos.opened import Opened
from jartide.app.stations.photos.panel import Panel
from jartide.app.widgets.buttons import ChoiceRow
from jartide.photo.settings import Rect
from jartide.wording import tr

_PENS = ("none", "box", "outline", "brush")


class LeftOutPanel(Panel):
    """Two clear things: read only this part; leave these parts out, drawn or suggested."""

    def build(self) -> None:
        self.words(tr("left_out.only"), weight=600)
        self._region_note = self.words()
        self._region = self.button("", self._switch_region)
        self.words(tr("left_out.leave"), weight=600)
        self.words(tr("left_out.note"))
        self._pen = ChoiceRow(
            [tr(f"pen.{pen}") for pen in _PENS], tr("left_out.draw"), self, gap=16
        )
        self._pen.chosen.connect(lambda n: self.pen_wanted.emit(_PENS[n]))
        self.column.addWidget(self._pen)
        self._hint = self.words(size=14)
        self._hint.hide()
        self._suggested = self.words()
        self._accept = self.button(tr("left_out.accept"), self._accept_all)
        self._last = self.button(tr("left_out.last"), self._take_off)
        self._joints_note = self.words()
        self._joints = self.button("", self._switch_joints)

    def show_pen(self, pen: str) -> None:
        """Show which pen is in the hand."""
        self._pen.show_index(_PENS.index(pen) if pen in _PENS else 0)
        self._hint.setVisible(pen != "none")
        if pen != "none":
            self._hint.setText(tr(f"pen.{pen}.hint"))

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        s = opened.settings
        found = () if opened.flat is None else opened.flat.suggestions
        kinds = Counter(suggestion.fault.value for suggestion in found)
        parts = [tr(f"fault.{kind}", count=count) for kind, count in kinds.items()]
        self._suggested.setText(
            tr("left_out.suggested", what=", ".join(parts)) if parts else tr("left_out.no_fault")
        )
        self._accept.setVisible(bool(found))
        self._last.setEnabled(bool(s.leave_out))
        said = "read" if s.joints_as_lines else "left_out"
        self._joints_note.setText(tr(f"left_out.joints.{said}"))
        self._joints.setText(tr(f"left_out.joints.{said}.change"))
        bounded = s.region is not None or s.corners is not None
        piece = opened.flat is not None and opened.flat.prepared.piece is not None
        self._region_note.setText(
            tr(
                "left_out.region"
                if s.region is not None
                else "left_out.piece"
                if bounded or piece
                else "left_out.no_region"
            )
        )
        self._region.setText(
            tr("left_out.whole" if s.region is not None else "left_out.mark_region")
        )

    def _accept_all(self) -> None:
        if self.opened is not None and self.opened.flat is not None:
            s = self.opened.settings
            shapes = tuple(suggestion.outline for suggestion in self.opened.flat.suggestions)
            new = replace(s, leave_out=(*s.leave_out, *shapes))
            self.settings_wanted.emit(new, tr("undo.left_out"))

    def _take_off(self) -> None:
        if self.opened is not None:
            s = self.opened.settings
            new = replace(s, leave_out=s.leave_out[:-1])
            self.settings_wanted.emit(new, tr("undo.left_out"))

    def _switch_joints(self) -> None:
        if self.opened is not None:
            s = self.opened.settings
            new = replace(s, joints_as_lines=not s.joints_as_lines)
            self.settings_wanted.emit(new, tr("undo.left_out"))

    def _switch_region(self) -> None:
        if self.opened is None:
            return
        s, (w, h) = self.opened.settings, self.opened.size
        middle = Rect(x=round(w / 4), y=round(h / 4), w=round(w / 2), h=round(h / 2))
        new = replace(s, region=middle if s.region is None else None)
        self.settings_wanted.emit(new, tr("undo.region"))
