"""The panels that set shape and scale."""

from __future__ import annotations

from dataclasses import replace

from jartide.app.stations.photos.drafts import UNTYPED, corners_draft, length_draft, wants_length
from jartide.app.stations.photos.opened import Opened
from jartide.app.stations.photos.panel import Panel
from jartide.app.widgets.control_column import fill_list, number, put_text, was_edited
from jartide.figures import plain_figure
from jartide.job.words.numbers import plain_words
from jartide.photo.layout import SquaredBy
from jartide.photo.settings import Column, KnownLength, Polygon, Rect, VanishingLines
from jartide.wording import tr

_SHAPES = ("auto", "corners", "lines", "column", "carved", "scan")


class ShapePanel(Panel):
    """How the surface lies: by the card, four corners, lines, a column, a carved piece, a scan;
    and whether the outline that was found is the piece.
    """

    def build(self) -> None:
        self._kind = self.list(tr("step.shape"), self._chosen)
        self._note = self.words()
        with self.group() as self._sized:
            self._size = self.fields(
                tr("step.size.width"), tr("step.size.height"), unit="mm", edited=self._size_edited
            )
        with self.group() as self._asked:
            self.words(tr("piece.ask"), weight=600)
            self._piece_note = self.words()
            self._yes = self.button(tr("piece.yes"), self._confirm)
            self._no = self.button(tr("piece.no"), self._switch_whole)
        self._only = self.button(tr("piece.only"), self._switch_whole)

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        s = opened.settings
        kind = self._kind_of(opened)
        fill_list(self._kind, [(tr(f"shape.{name}"), name) for name in _SHAPES], kind)
        prepared = None if opened.flat is None else opened.flat.prepared
        card = prepared is not None and prepared.card is not None
        piece = None if prepared is None else prepared.sought.piece
        squared = prepared is not None and prepared.layout.squared_by is SquaredBy.CORNERS
        self._note.setText(
            tr(f"shape.auto_{'card' if card else 'piece' if squared else 'note'}")
            if kind == "auto"
            else tr(f"shape.{kind}_note")
        )
        # Asked until the painter has said what to read.
        self._asked.setVisible(kind == "auto" and piece is not None and s.region is None)
        if piece is not None:
            note = "sure" if piece.sure else "likely" if piece.likely else "doubt"
            self._piece_note.setText(tr(f"piece.{note}"))
        self._only.setVisible(kind == "auto" and s.whole_plane)
        values: tuple[float | None, float | None] = (None, None)
        names = (tr("step.size.width"), tr("step.size.height"))
        if s.size_mm is not None:
            values = s.size_mm
        if s.column is not None:
            values = (s.column.diameter_mm, s.column.height_mm)
            names = (tr("shape.diameter"), tr("shape.height"))
        for field, value, name in zip(self._size, values, names, strict=True):
            put_text(field, "" if value is None else plain_figure(value))
            field.setAccessibleName(name)
            field.setPlaceholderText(name)
        self._sized.setVisible(kind in ("corners", "column"))

    def _kind_of(self, opened: Opened) -> str:
        s = opened.settings
        if s.scan:
            return "scan"
        if s.column is not None:
            return "column"
        if s.carved:
            return "carved"
        if s.lines is not None:
            return "lines"
        return "auto" if s.corners is None else "corners"

    def _chosen(self) -> None:
        if self.opened is None:
            return
        s, (w, h) = self.opened.settings, self.opened.size
        kind = self._kind.currentData()
        new = replace(
            s,
            corners=None,
            size_mm=None,
            lines=None,
            column=None,
            carved=False,
            mm_per_px=None,
            scan=False,
        )

        def at(x: float, y: float) -> tuple[float, float]:
            return round(x * w, 1), round(y * h, 1)

        if kind == "corners":
            new = replace(new, corners=corners_draft(self.opened))
        elif kind == "lines":
            new = replace(
                new,
                lines=VanishingLines(
                    level=((at(0.2, 0.2), at(0.8, 0.2)), (at(0.2, 0.8), at(0.8, 0.8))),
                    upright=((at(0.15, 0.25), at(0.15, 0.75)), (at(0.85, 0.25), at(0.85, 0.75))),
                ),
            )
        elif kind == "column":
            edges = ((at(0.25, 0.1), at(0.25, 0.9)), (at(0.75, 0.1), at(0.75, 0.9)))
            new = replace(new, column=Column(left=edges[0], right=edges[1]))
        elif kind == "scan":
            new = replace(new, scan=True, known_length=None)
        elif kind == "carved":
            x, y = at(0.35, 0.35)
            patch = Rect(x=x, y=y, w=round(0.3 * w, 1), h=round(0.3 * h, 1))
            new = replace(new, carved=True, region=s.region or patch)
        self.settings_wanted.emit(new, tr("undo.shape"))

    def _size_edited(self) -> None:
        if self.opened is None or not was_edited(*self._size):
            return
        s = self.opened.settings
        first, second = (number(field.text()) for field in self._size)
        if s.column is not None:
            # One of both is the column's size; the other follows from the photo.
            column = replace(
                s.column, diameter_mm=first, height_mm=None if first is not None else second
            )
            self.settings_wanted.emit(replace(s, column=column), tr("undo.size"))
        elif s.corners is not None:
            both = None if first is None or second is None else (first, second)
            if both != s.size_mm:
                self.settings_wanted.emit(replace(s, size_mm=both), tr("undo.size"))

    def _confirm(self) -> None:
        """The painter says that the outline is the piece."""
        if self.opened is None or self.opened.flat is None:
            return
        s, piece = self.opened.settings, self.opened.flat.prepared.sought.piece
        if piece is not None and (s.mm_per_px is not None or not piece.all_seen()):
            region = Polygon(points=piece.corners)
            self.settings_wanted.emit(replace(s, region=region), tr("undo.piece"))
        elif piece is not None:
            self.settings_wanted.emit(replace(s, corners=piece.corners), tr("undo.piece"))

    def _switch_whole(self) -> None:
        if self.opened is not None:
            s = self.opened.settings
            self.settings_wanted.emit(replace(s, whole_plane=not s.whole_plane), tr("undo.region"))


class ScalePanel(Panel):
    """One length that is known: marked, from the painter's list, or from another photo."""

    def build(self) -> None:
        # What was typed of a length whose ends nobody has laid yet, and on which photo.
        self._typed, self._of = UNTYPED, ""
        self._note = self.words()
        self._toggle = self.button("", self._switch)
        with self.group() as self._marked:
            (self._length,) = self.fields(tr("step.length"), unit="mm", edited=self._edited)
        with self.group() as self._kept:
            self._name = self.fields(tr("scale.name"))[0]
            self._keep = self.button(tr("scale.keep"), self._keep_length)
        self._known = self.list(tr("scale.list"), self._from_list)
        self._forget = self.list(tr("list.forget"), self._forget_one)
        self._other = self.list(tr("scale.other"), self._from_photo)

    def show_opened(self, opened: Opened) -> None:
        super().show_opened(opened)
        if self._of != opened.photo.id:
            self._of, self._typed = opened.photo.id, UNTYPED
        s, known = opened.settings, opened.settings.known_length
        scaled = opened.flat is not None and opened.flat.mm_per_px is not None
        self.setEnabled(not s.scan)
        if s.scan:
            self._note.setText(tr("scale.by_scan"))
        elif known is not None and known.name:
            self._note.setText(tr("step.scale.by", name=known.name))
        elif s.size_mm is not None or _sized(s.column):
            self._note.setText(tr("scale.by_size"))
        elif known is None and scaled:
            self._note.setText(tr("scale.is_known"))
        elif wants_length(opened):
            self._note.setText(tr("scale.lay"))
        else:
            self._note.setText(tr("scale.note"))
        drafted = wants_length(opened)
        self._toggle.setVisible(s.size_mm is None and not _sized(s.column) and not drafted)
        self._toggle.setText(tr("step.length.begin" if known is None else "step.length.clear"))
        if known is not None:
            put_text(self._length, plain_figure(known.length_mm))
        elif self._typed == UNTYPED:
            put_text(self._length, "")
        self._marked.setVisible(known is not None or drafted)
        self._kept.setVisible(known is not None)
        self._known.setVisible(bool(opened.lengths))
        self._forget.setVisible(bool(opened.lengths))
        names: list[tuple[str, object]] = [(name, name) for name, _ in opened.lengths]
        fill_list(self._forget, [(tr("list.forget"), None), *names])
        lengths: list[tuple[str, object]] = [(tr("scale.list"), None)]
        lengths += [(f"{name}, {plain_words(mm)} mm", mm) for name, mm in opened.lengths]
        fill_list(self._known, lengths)
        photos: list[tuple[str, object]] = [(tr("scale.other"), None)]
        photos += [(title, photo.id) for photo, title in opened.others]
        fill_list(self._other, photos)
        self._other.setVisible(bool(opened.others) and s.column is None)

    def _switch(self) -> None:
        if self.opened is None:
            return
        s = self.opened.settings
        new = None if s.known_length is not None else self._marks(None)
        self.settings_wanted.emit(replace(s, known_length=new), tr("undo.length"))

    def _marks(self, length_mm: float | None) -> KnownLength:
        """Two marks in the middle; where a scale is known they start out as long as it says."""
        assert self.opened is not None
        flat, draft = self.opened.flat, length_draft(self.opened.size)
        if length_mm is None:
            known = None if flat is None else flat.length_mm(draft.start, draft.end)
            length_mm = 100.0 if known is None else round(known, 1)
        return KnownLength(start=draft.start, end=draft.end, length_mm=length_mm)

    def _edited(self) -> None:
        if self.opened is None or not was_edited(self._length):
            return
        s, length = self.opened.settings, number(self._length.text())
        if s.known_length is None and wants_length(self.opened):
            self._typed = max(length or UNTYPED, UNTYPED)
            self.asked.emit("draft_length", self._typed)
        elif s.known_length is not None and length is not None:
            known = replace(s.known_length, length_mm=length, name="")
            self.settings_wanted.emit(replace(s, known_length=known), tr("undo.length"))

    def _from_list(self) -> None:
        length = self._known.currentData()
        if self.opened is None or length is None:
            return
        s, name = self.opened.settings, self._known.currentText().rpartition(",")[0]
        known = s.known_length or self._marks(length)
        known = replace(known, length_mm=length, name=name)
        self.settings_wanted.emit(replace(s, known_length=known), tr("undo.length"))

    def _forget_one(self) -> None:
        if self._forget.currentData() is not None:
            self.asked.emit("forget_length", self._forget.currentData())

    def _keep_length(self) -> None:
        if self.opened is not None and self.opened.settings.known_length is not None:
            length = self.opened.settings.known_length.length_mm
            name = self._name.text().strip()
            if name:
                self.asked.emit("keep_length", (name, length))
                self._name.clear()
            else:
                self._name.setFocus()

    def _from_photo(self) -> None:
        if self._other.currentData() is not None:
            self.asked.emit("length_from", self._other.currentData())


def _sized(column: Column | None) -> bool:
    """Tell whether a column's own size gives the scale."""
    return column is not None and (column.diameter_mm is not None or column.height_mm is not None)
