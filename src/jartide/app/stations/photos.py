"""Photos: from a photo as taken to a flat, true-scaled, neutral one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtGui import QImage, QResizeEvent
from PySide6.QtWidgets import QLabel, QLineEdit, QWidget

from jartide.app.document import Document
from jartide.app.kit import Kit
from jartide.app.stations.base import Station
from jartide.app.theme import font
from jartide.app.widgets.buttons import INSET, Button, ChoiceRow
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.header import StationState
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.photo_view import Marks, PhotoView, Tool
from jartide.app.widgets.print_shelf import Print, PrintShelf
from jartide.app.widgets.steps_list import ROW_HEIGHT, Step, StepRow
from jartide.app.widgets.surface_pane import SurfacePane
from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.photo.settings import PhotoSettings, Point
    from jartide.store.records import Photo

_SHELF_H = 152
_COLUMN = 268
_STEPS = ("corners", "size", "length", "grey")


class PhotosStation(Station):
    """The shelf of photos, the opened one with its marks, and what makes it ready."""

    add_wanted = Signal(bool)  # whether the photo is of a new board

    name = "photos"

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._photo_id: str | None = None
        self._images: dict[str, QImage] = {}
        self._step = "corners"
        self._shelf = PrintShelf(
            (112, 104), 246, add=(tr("shelf.add"), tr("shelf.drop")), parent=self
        )
        self._shelf.chosen.connect(self.choose)
        self._shelf.add_wanted.connect(lambda: self.add_wanted.emit(False))
        self._view = PhotoView(self)
        self._view.moved.connect(self._mark_moved)
        self._pane = SurfacePane(self)
        self._pane.setAccessibleName(tr("photos.squared"))
        self._use = ChoiceRow([tr("use.target"), tr("use.mood")], tr("photos.use"), self)
        self._use.chosen.connect(self._use_chosen)
        self._rows = {name: StepRow(self) for name in _STEPS}
        for name, row in self._rows.items():
            row.clicked.connect(lambda _=False, n=name: self._choose_step(n))
        self._rows["corners"].setChecked(True)
        self._toggle = Button("", self)
        self._toggle.clicked.connect(self._toggle_step)
        self._field_1, self._field_2 = QLineEdit(self), QLineEdit(self)
        self._times, self._unit = QLabel("×", self), QLabel("mm", self)
        for label in (self._times, self._unit):
            label.setFont(font(16))
        for field in (self._field_1, self._field_2):
            field.editingFinished.connect(self._fields_edited)
        document.changed.connect(self.refresh)
        document.picture_ready.connect(lambda _: self.refresh())

    # ---- which photo

    def photo(self) -> Photo | None:
        """Return the opened photo."""
        photos = self.document.photos()
        found = next((p for p in photos if p.id == self._photo_id), None)
        if found is None and photos:
            found = self.document.target() or photos[0]
            self._photo_id = found.id
        return found

    def choose(self, photo_id: str) -> None:
        """Open one of the photos."""
        self._photo_id = photo_id
        self.refresh()

    def refresh(self) -> None:
        if not self.isVisible() or self.document.finish is None:
            return
        photo = self.photo()
        self._shelf.show_prints([self._print(p) for p in self.document.photos()], self._photo_id)
        for widget in (self._view, self._pane, self._use, self._toggle, *self._rows.values()):
            widget.setVisible(photo is not None)
        if photo is None:
            for widget in (self._field_1, self._field_2, self._times, self._unit):
                widget.hide()
            self.foot_changed.emit()
            self.update()
            return
        self.document.want_picture(photo)
        preview, flat = self.document.preview(photo), self.document.flat(photo)
        if preview is not None:
            image = self._image(photo.sha256, preview.code)
            self._view.show_photo(image, preview.scale, preview.size)
            self._place()
        else:
            self._view.show_photo(None, 1.0, (1.0, 1.0))
            self._view.show_message(tr("photos.opening"))
        if flat is not None:
            image = self._image(f"{photo.sha256} {photo.settings}", flat.code)
            self._pane.show_surface(image, flat.mm_per_px)
        else:
            refusal = self.document.refusal(photo)
            self._pane.show_surface(None, None, refusal or tr("photos.squaring"))
        self._view.show_marks(_marks(photo.settings), _TOOL[self._step])
        self._use.setVisible(photo.use != "board")
        self._use.show_index(0 if photo.use == "target" else 1)
        self._show_steps(photo)
        self.foot_changed.emit()
        self.update()

    def _image(self, key: str, code) -> QImage:
        if key not in self._images:
            if len(self._images) > 24:
                self._images.clear()
            self._images[key] = to_image(code)
        return self._images[key]

    def _print(self, photo: Photo) -> Print:
        self.document.want_picture(photo)
        preview = self.document.preview(photo)
        image = None if preview is None else self._image(photo.sha256, preview.code)
        return Print(
            key=photo.id,
            image=image,
            title=self.photo_title(photo),
            lines=_state_lines(photo),
            asks="" if _scaled(photo.settings) or photo.use == "mood" else tr("photos.needs_scale"),
        )

    def photo_title(self, photo: Photo) -> str:
        """Return what a photo is called: the target, or its board."""
        for board, _ in self.document.boards():
            if board.id == photo.board_id:
                return tr("board.numbered", number=board.number)
        return tr(f"use.{photo.use}")

    # ---- the steps

    def _choose_step(self, name: str) -> None:
        self._step = name
        self.refresh()

    def _show_steps(self, photo: Photo) -> None:
        s = photo.settings
        steps = {
            "corners": Step(
                sign="ready" if s.corners else "todo",
                name=tr("step.corners"),
                state=tr("step.corners.set" if s.corners else "step.corners.none"),
                note=tr("step.corners.set_note" if s.corners else "step.corners.none_note"),
            ),
            "size": Step(
                sign="ready" if s.size_mm else "todo",
                name=tr("step.size"),
                state=f"{s.size_mm[0]:g} × {s.size_mm[1]:g} mm"
                if s.size_mm
                else tr("word.unknown"),
                note=tr("step.size.set_note" if s.size_mm else "step.size.none_note"),
            ),
            "length": Step(
                sign="ready" if s.known_length else "todo",
                name=tr("step.length"),
                state=f"{s.known_length.length_mm:g} mm" if s.known_length else tr("word.none"),
                note=tr("step.length.set_note" if s.known_length else "step.length.none_note"),
            ),
            "grey": Step(
                sign="ready" if s.neutral else "todo",
                name=tr("step.grey"),
                state=_grey_state(s),
                note=tr("step.grey.set_note" if s.neutral else "step.grey.none_note"),
            ),
        }
        # Either of two steps sets the scale; the other one is not asked for then.
        for one, other in (("size", "length"), ("length", "size")):
            if steps[one].sign == "todo" and steps[other].sign == "ready":
                steps[one] = replace(steps[one], note=tr("step.not_needed"))
        for name, row in self._rows.items():
            row.show_step(steps[name])
            row.setChecked(name == self._step)
        self._show_editor(s)

    def _show_editor(self, s: PhotoSettings) -> None:
        """Show the fields and the button of the chosen step."""
        is_set = {
            "corners": s.corners is not None,
            "size": s.size_mm is not None,
            "length": s.known_length is not None,
            "grey": s.neutral is not None,
        }[self._step]
        self._toggle.setText(tr(f"step.{self._step}.{'clear' if is_set else 'begin'}"))
        self._toggle.setVisible(self._step != "size" or is_set)
        one = self._step in ("length", "grey") and is_set
        two = self._step == "size" and s.corners is not None
        self._field_1.setVisible(one or two)
        self._field_2.setVisible(two)
        self._times.setVisible(two)
        self._unit.setVisible(one or two)
        values = ["", ""]
        names = ("", "")
        if self._step == "size":
            names = (tr("step.size.width"), tr("step.size.height"))
            if s.size_mm:
                values = [f"{v:g}" for v in s.size_mm]
        elif self._step == "length" and s.known_length:
            names, values[0] = (tr("step.length"), ""), f"{s.known_length.length_mm:g}"
        elif self._step == "grey" and s.neutral:
            names = (tr("step.grey.lightness"), "")
            values[0] = "" if s.neutral.lightness is None else f"{s.neutral.lightness:g}"
        self._unit.setText(tr("step.grey.unit") if self._step == "grey" else "mm")
        for field, value, name in zip((self._field_1, self._field_2), values, names, strict=True):
            if field.text() != value and not (field.hasFocus() and field.isModified()):
                field.setText(value)
            field.setAccessibleName(name)
            field.setPlaceholderText(name)
        self._place_editor()

    def _toggle_step(self) -> None:
        """Set or clear what the chosen step stands for."""
        from jartide.photo.settings import KnownLength, Neutral, Rect

        photo = self.photo()
        preview = None if photo is None else self.document.preview(photo)
        if photo is None or preview is None:
            return
        (w, h), s = preview.size, photo.settings
        if self._step == "corners":
            quad = ((0.15, 0.15), (0.85, 0.15), (0.85, 0.85), (0.15, 0.85))
            corners = _four([(round(x * w), round(y * h)) for x, y in quad])
            new = (
                replace(s, corners=None, size_mm=None)
                if s.corners
                else replace(s, corners=corners, mm_per_px=None)
            )
        elif self._step == "size":
            new = replace(s, size_mm=None)
        elif self._step == "length":
            marks = KnownLength(
                start=(round(0.3 * w), round(0.6 * h)),
                end=(round(0.6 * w), round(0.6 * h)),
                length_mm=100.0,
            )
            new = replace(s, known_length=None if s.known_length else marks)
        else:
            side = round(0.05 * min(w, h))
            rect = Rect(x=round(w * 0.8), y=round(h * 0.4), w=side, h=side)
            new = replace(s, neutral=None if s.neutral else Neutral(rect=rect))
        self.document.set_settings(photo, new, tr(f"undo.{self._step}"))

    def _fields_edited(self) -> None:
        """Take over a typed size, length or lightness; nonsense is put back as it was."""
        photo = self.photo()
        sender = self.sender()
        if photo is None or not isinstance(sender, QLineEdit) or not sender.isModified():
            return
        s = photo.settings
        first, second = (_number(f.text()) for f in (self._field_1, self._field_2))
        new = s
        if self._step == "size":
            if first is None or second is None:
                return  # still only one of both
            new = replace(s, size_mm=(first, second))
        elif self._step == "length" and s.known_length and first is not None:
            new = replace(s, known_length=replace(s.known_length, length_mm=first))
        elif self._step == "grey" and s.neutral:
            new = replace(s, neutral=replace(s.neutral, lightness=first))
        for field in (self._field_1, self._field_2):
            field.setModified(False)
        self.document.set_settings(photo, new, tr(f"undo.{self._step}"))
        self.refresh()

    def _mark_moved(self, number: int, x: float, y: float, done: bool) -> None:
        """Keep a mark where it was dropped; while it is dragged only the screen follows."""
        photo = self.photo()
        if photo is None or not done:
            return
        s, to = photo.settings, (round(x, 1), round(y, 1))
        if self._step in ("corners", "size") and s.corners is not None:
            corners = list(s.corners)
            corners[number] = to
            new = replace(s, corners=_four(corners))
        elif self._step == "length" and s.known_length is not None:
            known = s.known_length
            moved = replace(known, start=to) if number == 0 else replace(known, end=to)
            new = replace(s, known_length=moved)
        elif self._step == "grey" and s.neutral is not None:
            new = replace(
                s, neutral=replace(s.neutral, rect=_stretched(s.neutral.rect, number, to))
            )
        else:
            return
        self.document.set_settings(
            photo, new, tr(f"undo.{self._step}"), drag=f"{photo.id} {self._step} {number}"
        )

    def _use_chosen(self, index: int) -> None:
        from jartide.store.records import PhotoUse

        photo = self.photo()
        if photo is None:
            return
        use = PhotoUse.TARGET if index == 0 else PhotoUse.MOOD
        old, new = [photo], [replace(photo, use=use)]
        target = self.document.target()
        if use is PhotoUse.TARGET and target is not None and target.id != photo.id:
            # A finish has one target: the old one stays as a photo for mood.
            old.append(target)
            new.append(replace(target, use=PhotoUse.MOOD))
        self.document.change(tr("undo.use"), old, new)

    def _remove(self) -> None:
        photo = self.photo()
        if photo is None:
            return
        board = next((b for b, _ in self.document.boards() if b.id == photo.board_id), None)
        title = self.photo_title(photo)
        records = [photo] if board is None else [photo, board]
        self.document.remove(tr("undo.removed", name=title), *records)

    # ---- header and foot

    def header_state(self) -> StationState:
        photos = self.document.photos()
        ready = sum(_scaled(p.settings) or p.use == "mood" for p in photos)
        return StationState(
            name=tr("station.photos"),
            note=tr("photos.count", count=len(photos)) if photos else tr("photos.none"),
            level=ready / len(photos) if photos else 0,
        )

    def foot_state(self) -> FootState:
        photo = self.photo()
        if photo is None:
            add = Action(
                text=tr("shelf.add"), run=lambda: self.add_wanted.emit(False), primary=True
            )
            return FootState(text=tr("photos.empty"), note=tr("photos.empty_note"), actions=(add,))
        title = self.photo_title(photo)
        remove = Action(text=tr("photos.remove"), run=self._remove)
        if photo.use == "board":
            go = Action(
                text=tr("photos.compare"),
                run=lambda: self.station_wanted.emit("boards"),
                primary=True,
            )
        else:
            go = Action(
                text=tr("photos.read"),
                run=lambda: self.station_wanted.emit("reading"),
                primary=True,
                enabled=photo.use == "target",
            )
        refusal = self.document.refusal(photo)
        if refusal is not None:
            return FootState(
                text=refusal, sign="stop", actions=(remove, replace(go, enabled=False))
            )
        if not _scaled(photo.settings):
            return FootState(
                text=tr("photos.not_scaled", title=title),
                note=tr("photos.not_scaled_note"),
                sign="todo",
                actions=(remove, go),
            )
        note = tr("photos.grey_note") if photo.settings.neutral is None else tr("photos.ready_note")
        return FootState(
            text=tr("photos.ready", title=title), note=note, sign="ready", actions=(remove, go)
        )

    # ---- layout

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._place()

    def _place(self) -> None:
        w, h = self.width(), self.height()
        self._shelf.setGeometry(24, 12, w - 48, _SHELF_H - 12)
        column = w - 24 - _COLUMN
        top = _SHELF_H + 50
        room = column - 20 - 24 - 24 - 24  # for both photos
        # The photo as taken is as high as there is room; the squared one takes what is left.
        taken = min(round((h - top - 18) * self._view.aspect()), round(room * 0.66))
        flat = min(room - taken, h - top - 122)
        self._view.setGeometry(24, top, taken, h - top - 18)
        self._pane.setGeometry(24 + taken + 24, top, flat, min(flat + 26, h - top - 70))
        self._use.move(self._pane.x(), self._pane.y() + self._pane.height() + 34)
        for number, row in enumerate(self._rows.values()):
            row.setGeometry(column, top - 8 + number * ROW_HEIGHT, _COLUMN, ROW_HEIGHT)
        self._place_editor()

    def _place_editor(self) -> None:
        column = self.width() - 24 - _COLUMN
        y = _SHELF_H + 42 + len(_STEPS) * ROW_HEIGHT + 14
        if self._field_2.isVisibleTo(self):
            self._field_1.setGeometry(column, y, 92, 42)
            self._times.setGeometry(column + 102, y, 16, 42)
            self._field_2.setGeometry(column + 124, y, 92, 42)
            self._unit.setGeometry(column + 226, y, 42, 42)
            y += 54
        elif self._field_1.isVisibleTo(self):
            self._field_1.setGeometry(column, y, 110, 42)
            self._unit.setGeometry(column + 120, y, _COLUMN - 120, 42)
            y += 54
        self._toggle.setFixedWidth(_COLUMN + 2 * INSET)
        self._toggle.move(column - INSET, y)

    def paint(self, kit: Kit) -> None:
        w, h = self.width(), self.height()
        kit.fill(0, 0, w, _SHELF_H, "bench")
        kit.fill(0, _SHELF_H, w, h - _SHELF_H, "sheet")
        kit.across(0, _SHELF_H, w)
        photo = self.photo()
        if photo is None:
            y = _SHELF_H + 110
            kit.text(0, y, tr("photos.first_title"), 24, 600, "ink", w, "centre")
            for number in (1, 2, 3):
                y += 48 if number == 1 else 34
                kit.text(0, y, tr(f"photos.first_{number}"), 16, 400, "ink2", w, "centre")
            return
        y = _SHELF_H + 16
        advance = kit.text(24, y, tr("photos.as_taken"), 18, 700)
        hint = tr(f"photos.hint.{self._step}")
        kit.text(24 + advance + 14, y + 2, hint, 15, 400, "ink2", self._view.width() - advance - 14)
        kit.text(self._pane.x(), y, tr("photos.squared"), 18, 700)
        flat = self.document.flat(photo)
        if flat is not None and flat.mm_per_px is not None:
            height, width = flat.code.shape[:2]
            size = f"{width * flat.mm_per_px:.0f} × {height * flat.mm_per_px:.0f} mm"
            kit.text(self._pane.x(), y + 2, size, 15, 400, "ink2", self._pane.width(), "right")
        if self._use.isVisible():
            kit.text(self._pane.x(), self._use.y() - 24, tr("photos.use"), 15, 400, "ink2")
        column = w - 24 - _COLUMN
        kit.upright(column - 20, y, h - y - 18)
        kit.text(column, y, tr("photos.made_ready"), 18, 700)


_TOOL = {
    "corners": Tool.CORNERS,
    "size": Tool.CORNERS,
    "length": Tool.LENGTH,
    "grey": Tool.GREY,
}


def _marks(settings: PhotoSettings) -> Marks:
    known, neutral = settings.known_length, settings.neutral
    grey: tuple = ()
    if neutral is not None:
        r = neutral.rect
        grey = ((r.x, r.y), (r.x + r.w, r.y + r.h))
    return Marks(
        corners=settings.corners or (),
        length=() if known is None else (known.start, known.end),
        length_label="" if known is None else f"{known.length_mm:g} mm",
        grey=grey,
    )


def _four(points: Sequence[Point]) -> tuple[Point, Point, Point, Point]:
    first, second, third, fourth = points
    return first, second, third, fourth


def _stretched(rect, number: int, to: tuple[float, float]):
    """The rectangle with one of its two marked corners moved."""
    from jartide.photo.settings import Rect

    corners = [(rect.x, rect.y), (rect.x + rect.w, rect.y + rect.h)]
    corners[number] = to
    (x0, y0), (x1, y1) = corners
    return Rect(x=min(x0, x1), y=min(y0, y1), w=abs(x1 - x0), h=abs(y1 - y0))


def _number(text: str) -> float | None:
    """A number as people type it: with a comma or a point, perhaps with its unit."""
    try:
        return float(text.strip().removesuffix("mm").strip().replace(",", "."))
    except ValueError:
        return None


def _grey_state(settings: PhotoSettings) -> str:
    if settings.neutral is None:
        return tr("word.none")
    if settings.neutral.lightness is None:
        return tr("step.grey.tint_only")
    return tr("step.grey.known", lightness=f"{settings.neutral.lightness:g}")


def _scaled(settings: PhotoSettings) -> bool:
    from jartide.photo.prepare import has_scale

    return has_scale(settings)


def _state_lines(photo: Photo) -> tuple[str, ...]:
    """What is done to a photo: its shape and scale in one line, its colour in the next."""
    shape = [
        tr(f"photos.is_{what}")
        for what, done in (
            ("squared", photo.settings.corners is not None),
            ("scaled", _scaled(photo.settings)),
        )
        if done
    ]
    lines = [", ".join(shape)] if shape else []
    if photo.settings.neutral is not None:
        lines.append(tr("photos.is_neutral"))
    return tuple(lines) or (tr("photos.as_it_came"),)
