"""Photos: from a photo as taken to a flat, true-scaled, neutral one."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
from PySide6.QtCore import Signal
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QWidget

from jartide.app.card_out import ask_to_print, card_button
from jartide.app.elements.photo_marks import Mark, Point
from jartide.app.stations.base import Station
from jartide.app.stations.photos.card_panel import CardPanel
from jartide.app.stations.photos.check_panels import BoardPanel, CheckPanel
from jartide.app.stations.photos.colour_panels import ColourPanel, LightPanel, SheenPanel
from jartide.app.stations.photos.device_panels import ReaderPanel, StandPanel, WatchPanel, WaysPanel
from jartide.app.stations.photos.drafts import (
    LengthDraft,
    length_draft,
    wants_length,
    with_drafts,
)
from jartide.app.stations.photos.geometry_panels import ScalePanel, ShapePanel
from jartide.app.stations.photos.left_out_panel import LeftOutPanel
from jartide.app.stations.photos.marks import STEPS, marks_of, moved, shape_of
from jartide.app.stations.photos.opened import Opened, steps_of
from jartide.app.stations.photos.panel import Panel
from jartide.app.stations.photos.photos_foot import photo_foot
from jartide.app.stations.photos.requests import PanelRequests
from jartide.app.stations.photos.steps_column import StepsColumn
from jartide.app.stations.photos.two_pictures import TwoPictures
from jartide.app.watch import FolderWatch
from jartide.app.widgets.first_words import FirstWords
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import Ground, Hairline, column, row
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.photo_view import Pen
from jartide.app.widgets.print_shelf import AddPlace, Print, PrintShelf
from jartide.app.widgets.tool_link import ToolLink
from jartide.boards.together import MOST_PHOTOS
from jartide.devices.registry import Kind
from jartide.job.flat import Stand
from jartide.job.open_job import OpenJob
from jartide.job.outside_devices import offered, source_brief
from jartide.job.photo_jobs import PhotoJobs
from jartide.job.standing import ONLY_LOOKED_AT
from jartide.photo.card.design import CardSize
from jartide.photo.settings import PhotoSettings, Rect
from jartide.store.records import Board, Photo, PhotoUse
from jartide.wording import tr

_BRUSH_SHARE = 0.02
# Half of the square that a press takes as a patch, in shares of the shorter side.
_SPOT_SHARE = 0.025
_TOOLS = ("ways", "stand", "reader", "watch")
_NEEDS_NO_PHOTO = ("ways", "stand", "watch")
# Pictures as large as the screen, and as small as they stand on the shelf.
_KEPT_IMAGES, _KEPT_PRINT_IMAGES = 6, 400
_USES = ("target", "surroundings", "mood")
_PANELS: dict[str, type[Panel]] = {
    "card": CardPanel,
    "shape": ShapePanel,
    "scale": ScalePanel,
    "colour": ColourPanel,
    "light": LightPanel,
    "left_out": LeftOutPanel,
    "sheen": SheenPanel,
    "check": CheckPanel,
    "board": BoardPanel,
    "ways": WaysPanel,
    "stand": StandPanel,
    "reader": ReaderPanel,
    "watch": WatchPanel,
}


class PhotosStation(Station):
    """The tray of photos, the opened one with its marks, and what makes it ready."""

    add_wanted = Signal(bool)  # whether the photo is of a new board

    name = "photos"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self.jobs = PhotoJobs(job)
        self.watch = FolderWatch(self)
        self._requests = PanelRequests(self, self)
        self.watch.lost.connect(self._requests.watch_lost)
        self.watch.back.connect(self._requests.watch_back)
        self._photo_id: str | None = None
        self._images: dict[str, QImage] = {}
        self._print_images: dict[str, QImage] = {}
        self._step: str | None = None  # the step whose panel is open; None shows the list
        self.reader_at: Point | None = None
        self._length: LengthDraft | None = None  # half given, of the opened photo
        self._shelf = PrintShelf((112, 104), 246, parent=self)
        self._shelf.chosen.connect(self.choose)
        self._ways = ToolLink(tr("tool.ways"), self)
        self._ways.clicked.connect(lambda _=False: self.open_step("ways"))
        self._add = AddPlace(tr("shelf.add"), tr("shelf.drop"), parent=self)
        self._add.clicked.connect(lambda: self.add_wanted.emit(False))
        self._card_buttons = (card_button("print", job, self), card_button("save", job, self))
        self._beside = TwoPictures(_USES, self)
        self._view, self._pane = self._beside.view, self._beside.pane
        self._view.moved.connect(self._mark_moved)
        self._view.drawn.connect(self._drawn)
        self._before, self._use = self._beside.before, self._beside.use
        self._before.chosen.connect(lambda _: self.refresh())
        self._use.chosen.connect(self._use_chosen)
        self._side = StepsColumn(list(STEPS), self)
        self._side.picked.connect(lambda name: self.open_step(name or None))
        self._rows = self._side.rows
        self._lay_out()
        self._panels: dict[str, Panel] = {}
        job.events.changed.connect(self.refresh)
        job.events.picture_ready.connect(self._picture_came)

    def panel(self, name: str) -> Panel:
        """Return a step's panel, made when it is first opened: some need heavy modules."""
        if name not in self._panels:
            panel = self._panels[name] = _PANELS[name]()
            self._side.add_panel(name, panel)
            panel.settings_wanted.connect(self.put_settings)
            panel.pen_wanted.connect(self._pen_wanted)
            panel.asked.connect(self._requests.do)
        return self._panels[name]

    # ---- which photo

    def photo(self) -> Photo | None:
        """Return the opened photo."""
        photos = self.job.records.photos()
        found = next((p for p in photos if p.id == self._photo_id), None)
        if found is None and photos:
            found = self.job.readings.target() or photos[0]
            self._photo_id = found.id
        return found

    def choose(self, photo_id: str) -> None:
        """Open one of the photos."""
        self._photo_id = photo_id
        self.reader_at, self._length = None, None
        self._pen_wanted("none")
        self.refresh()

    def step_on(self, by: int) -> None:
        ids = [photo.id for photo in self.job.records.photos()]
        photo = self.photo()
        if photo is not None:
            self.choose(ids[(ids.index(photo.id) + by) % len(ids)])

    def print_now(self) -> bool:
        ask_to_print(self, CardSize.A6)
        return True

    def open_step(self, name: str | None) -> None:
        """Open one step's panel, or the list of all steps."""
        self._step = name
        self._length = None
        self._pen_wanted("none")
        self.refresh()
        if name is not None:
            self._side.back.setFocus()

    def escape(self) -> bool:
        if self._view.stop_drawing():
            return True
        if self._step is not None:
            self.open_step(None)
            return True
        return False

    def _picture_came(self, photo_id: str) -> None:
        """Show a photo's new picture; of one that is not open only its print changes."""
        photo, came = self.photo(), self.job.records.photo(photo_id)
        if photo is None or came is None or photo.id == photo_id:
            self.refresh()
        elif self.isVisible():
            self._shelf.show_print(self._print(came))

    def refresh(self) -> None:
        if not self.isVisible() or self.job.finish is None:
            return
        photo = self.photo()
        self._shelf.show_prints([self._print(p) for p in self.job.records.photos()], self._photo_id)
        opened = None if photo is None else self._opened(photo)
        self._beside.setVisible(photo is not None)
        self._empty.setVisible(photo is None)
        if photo is not None and opened is not None:
            self._show_pictures(photo, opened)
        self._show_column(opened)
        for button in self._card_buttons:
            button.setVisible(photo is None and self._step is None)
        shown = opened is not None and photo is not None
        self._beside.ask_use(shown and photo is not None and photo.use != "board")
        self._before.setVisible(shown and opened is not None and opened.flat is not None)
        if photo is not None and photo.use in _USES:
            self._use.show_index(_USES.index(photo.use))
        self.foot_changed.emit()

    def _opened(self, photo: Photo) -> Opened:
        self.job.pictures.want(photo)
        preview = self.job.pictures.preview(photo)
        others = [(p, self.photo_title(p)) for p in self.job.records.photos() if p.id != photo.id]
        return Opened(
            photo=photo,
            size=(1, 1) if preview is None else preview.size,
            flat=self.job.pictures.flat(photo),
            board=self.board_of(photo),
            others=tuple(others),
            lengths=self.jobs.lengths(),
            colours=self.jobs.colours(),
            reader=offered(self.job.records, Kind.COLOUR_READER) is not None,
        )

    def board_of(self, photo: Photo) -> Board | None:
        """Return the board a photo shows, if it is of one."""
        return next((b for b, _ in self.job.records.boards() if b.id == photo.board_id), None)

    def _show_pictures(self, photo: Photo, opened: Opened) -> None:
        preview, flat = self.job.pictures.preview(photo), opened.flat
        if preview is not None:
            image = self._image(photo.sha256, preview.code)
            self._view.show_photo(image, preview.scale, preview.size, self.detail_at)
        else:
            self._view.show_photo(None, 1.0, (1.0, 1.0))
            self._view.show_message(tr("photos.opening"))
        if flat is not None:
            before = self._before.index == 1
            code = flat.before if before else flat.code
            image = self._image(f"{photo.sha256} {photo.settings} {before}", code)
            self._pane.show_surface(image, flat.mm_per_px)
        else:
            refusal = self.job.pictures.refusal(photo)
            self._pane.show_surface(None, None, refusal or tr("photos.squaring"))
        if self._step == "reader" and self.reader_at is None and preview is not None:
            self.reader_at = (preview.size[0] / 2, preview.size[1] / 2)
        self._beside.share_room()
        shown = with_drafts(opened, self._step, self._length)
        self._view.show_marks(marks_of(shown, self._step, flat, self.reader_at))

    def _show_column(self, opened: Opened | None) -> None:
        """Show the list of steps, or the panel of the opened one."""
        step = self._step if opened is not None or self._step in _NEEDS_NO_PHOTO else None
        self._ways.setChecked(step in _NEEDS_NO_PHOTO)
        panel = None if step is None else self.panel(step)
        kind = "tool" if step in _TOOLS else "step"
        self._side.open(step or "", tr("photos.made_ready" if step is None else f"{kind}.{step}"))
        self._side.show_steps({} if opened is None else steps_of(opened))
        for part in (self._side, self._line):
            part.setVisible(step is not None or opened is not None)
        hint = step if step is not None and step not in _NEEDS_NO_PHOTO else "list"
        self._beside.say(tr(f"photos.hint.{hint}"), None if opened is None else opened.flat)
        if isinstance(panel, WaysPanel):
            panel.show_stand(offered(self.job.records, Kind.CAMERA) is not None)
        if panel is not None and opened is not None:
            panel.show_opened(opened)
        if isinstance(panel, WatchPanel):
            panel.show_folder("" if self.watch.folder is None else str(self.watch.folder))

    def _image(self, key: str, code) -> QImage:
        if key not in self._images:
            if len(self._images) >= _KEPT_IMAGES:
                self._images.clear()
            self._images[key] = to_image(code)
        return self._images[key]

    def detail_at(self, middle: Point, half: float) -> QImage | None:
        """A square of the original itself, for the loupe; None while it is not at hand."""
        photo = self.photo()
        loaded = None if photo is None else self.job.pictures.detail(photo)
        if loaded is None:
            return None
        code = loaded.code
        side = max(4, round(2 * half))
        # A square at any place, its rim repeated beyond the photo's edge.
        x, y = middle[0] - 0.5, middle[1] - 0.5
        if code.dtype != np.uint8:
            # Only what is looked at is made 8-bit: the whole would take longer than a frame.
            left, top = max(0, int(x) - side), max(0, int(y) - side)
            part = code[top : top + 2 * side, left : left + 2 * side]
            code, x, y = (part >> 8).astype(np.uint8), x - left, y - top
        return to_image(np.ascontiguousarray(cv2.getRectSubPix(code, (side, side), (x, y))))

    def _print(self, photo: Photo) -> Print:
        self.job.pictures.want_print(photo)
        small, stand = self.job.pictures.print(photo), self.job.pictures.stand(photo)
        quiet = photo.use in ONLY_LOOKED_AT
        return Print(
            key=photo.id,
            image=None if small is None else self._print_image(photo.sha256, small),
            title=self.photo_title(photo),
            lines=tuple(filter(None, (source_brief(photo.source), *_state_lines(stand)))),
            asks="" if quiet or stand is None else _asks(stand),
        )

    def _print_image(self, sha256: str, small: np.ndarray) -> QImage:
        if sha256 not in self._print_images:
            if len(self._print_images) >= _KEPT_PRINT_IMAGES:
                self._print_images.clear()
            self._print_images[sha256] = to_image(small)
        return self._print_images[sha256]

    def photo_title(self, photo: Photo) -> str:
        """Return what a photo is called: the target, or its board."""
        board = self.board_of(photo)
        if board is not None:
            return tr("board.numbered", number=board.number)
        alike = [p.id for p in self.job.records.photos() if p.use == photo.use]
        words = tr(f"use.{photo.use}")
        return words if len(alike) < 2 else f"{words} {alike.index(photo.id) + 1}"

    # ---- changing

    def put_settings(self, settings: PhotoSettings, undo: str) -> None:
        """Change the opened photo's settings, as one undo step."""
        photo = self.photo()
        if photo is not None:
            self.job.records.set_settings(photo, settings, undo)
            self.refresh()

    def _mark_moved(self, key: str, number: int, x: float, y: float, done: bool) -> None:
        """Keep a mark where it was dropped; while it is dragged only the screen follows."""
        photo = self.photo()
        if photo is None or not done:
            return
        if key == "reader":
            self.reader_at = (x, y)
            return
        opened = self._opened(photo)
        if key == "length" and wants_length(opened):
            draft = self._length or length_draft(opened.size)
            laid = replace(draft, start=(x, y)) if number == 0 else replace(draft, end=(x, y))
            self.put_length(replace(laid, moved=True))
            return
        new = moved(with_drafts(opened, self._step, None), key, number, (x, y))
        drag = f"{photo.id} {key} {number}"
        self.job.records.set_settings(photo, new, tr("undo.mark"), drag=drag)

    def draft_length(self, length_mm: float) -> None:
        """Take what was typed as the length between two ends that are still to be laid."""
        photo = self.photo()
        if photo is not None:
            draft = self._length or length_draft(self._opened(photo).size)
            self.put_length(replace(draft, length_mm=length_mm))

    def put_length(self, draft: LengthDraft) -> None:
        """Keep a known length once its ends are laid and its millimetres typed."""
        photo, known = self.photo(), draft.known()
        self._length = draft
        if photo is not None and known is not None:
            self._length = None
            self.put_settings(replace(photo.settings, known_length=known), tr("undo.length"))
        else:
            self.refresh()

    def _pen_wanted(self, pen: str) -> None:
        """Take a pen; the brush, and the square that a press takes, are as wide as suits."""
        photo = self.photo()
        preview = None if photo is None else self.job.pictures.preview(photo)
        radius = 0.0
        if preview is not None:
            spot = _SPOT_SHARE * min(preview.size)
            radius = spot if pen == Pen.SPOT else _BRUSH_SHARE * max(preview.size)
        self._view.choose_pen(Pen(pen), radius)
        if pen == Pen.SPOT:
            self._view.setFocus()  # the arrows move what is aimed at
        for panel in self._panels.values():
            if isinstance(panel, LeftOutPanel | ColourPanel):
                panel.show_pen(pen)

    def _drawn(self, mark: Mark) -> None:
        photo = self.photo()
        panel = self._panels.get("colour")
        if photo is not None and self._step == "colour" and isinstance(panel, ColourPanel):
            self._pen_wanted("none")
            rect = shape_of(mark)
            assert isinstance(rect, Rect)
            panel.pointed(rect)
        elif photo is not None:
            s = photo.settings
            new = replace(s, leave_out=(*s.leave_out, shape_of(mark)))
            self.job.records.set_settings(photo, new, tr("undo.left_out"))

    def _use_chosen(self, index: int) -> None:
        photo = self.photo()
        if photo is None:
            return
        use = PhotoUse(_USES[index])
        if use is PhotoUse.TARGET and len(self.job.records.targets()) >= MOST_PHOTOS:
            self.job.events.failed.emit(tr("photos.most", most=MOST_PHOTOS))
            self.refresh()
            return
        self.job.records.change(tr("undo.use"), [photo], [replace(photo, use=use)])

    def _remove(self) -> None:
        photo = self.photo()
        if photo is None:
            return
        board = self.board_of(photo)
        title = self.photo_title(photo)
        records = [photo] if board is None else [photo, board]
        self.job.records.remove(tr("undo.removed", name=title), *records)

    # ---- header and foot

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
                enabled=bool(self.job.records.targets()),
            )
        return photo_foot(
            photo,
            title,
            self.job.pictures.flat(photo),
            self.job.pictures.refusal(photo),
            self.board_of(photo),
            (remove, go),
        )

    # ---- layout

    def _lay_out(self) -> None:
        shelf = Ground("bench", "bottom")
        standing = row(shelf, (24, 12, 24, 0), 16)
        standing.addWidget(self._shelf, 1)
        tools = column(margins=(0, 6, 0, 14), gap=8)
        tools.addWidget(self._add)
        tools.addWidget(self._ways)
        tools.addStretch(1)
        standing.addLayout(tools)

        self._empty = QWidget()
        first = column(self._empty)
        first.addStretch(2)
        words = [tr(f"photos.first_{number}") for number in (1, 2, 3)]
        first.addWidget(FirstWords(tr("photos.first_title"), words))
        cards = row(gap=12)
        cards.addStretch(1)
        for button in self._card_buttons:
            cards.addWidget(button)
        cards.addStretch(1)
        first.addLayout(cards)
        first.addStretch(3)

        self._line = Hairline(upright=True)

        sheet = Ground("sheet")
        below = row(sheet, (24, 12, 10, 12), 18)
        below.addWidget(self._beside, 1)
        below.addWidget(self._empty, 1)
        below.addWidget(self._line)
        below.addWidget(self._side)
        whole = column(self)
        whole.addWidget(shelf)
        whole.addWidget(sheet, 1)


def _asks(stand: Stand) -> str:
    """What a photo still needs before it can be read, in a word on its print."""
    if not stand.scaled:
        return tr("photos.needs_scale")
    return "" if stand.neutral else tr("photos.needs_grey")


def _state_lines(stand: Stand | None) -> tuple[str, ...]:
    """What is done to a photo: its shape and scale in one line, its colour in the next."""
    if stand is None:
        return ()
    shape = [
        tr(f"photos.is_{what}")
        for what, done in (("squared", stand.squared), ("scaled", stand.scaled))
        if done
    ]
    lines = [", ".join(shape)] if shape else []
    if stand.neutral:
        lines.append(tr("photos.is_neutral"))
    return tuple(lines) or (tr("photos.as_it_came"),)
