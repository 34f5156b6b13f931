"""A first job, step by step on the real screens; it can be left and taken up again."""

from __future__ import annotations

import tomllib
from importlib.resources import files

from PySide6.QtCore import QSize, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from jartide.app.card_out import any_card_button
from jartide.app.kit import Kit, broken, text_width
from jartide.app.measure import px
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.ground import row
from jartide.app.widgets.painted import Painted, reachable
from jartide.job.open_job import OpenJob
from jartide.store.demo import settings_of
from jartide.store.records import Finish, Job, Photo, PhotoUse
from jartide.store.workspace import now
from jartide.wording import tr

HEIGHT = 64
_NAME = "guide"
# A step is over when what it asks for is there; the others when they have been looked at.
_ASKS = ("photo", "measure", "paints", "mix", "plan", "board")
STEPS = ("photo", "measure", "reading", "paints", "mix", "plan", "board", "judge", "sheet")
_STATION = {
    "photo": "photos", "measure": "photos", "reading": "reading", "paints": "jars",
    "mix": "jars", "plan": "steps", "board": "boards", "judge": "boards", "sheet": "sheet",
}  # fmt: skip
_PRACTICE = {"photo": "bar-front-slab.jpg", "board": "bar-front-board-1.jpg"}


class _Words(Painted):
    """Which step it is, and what to do; as many lines as it needs."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._heading, self._text = "", ""
        self._ringed = False

    def say(self, heading: str, text: str) -> None:
        """Show other words."""
        self._heading, self._text = heading, text
        self.update()

    def _left(self) -> float:
        return text_width(self._heading, 16, 700) + 18

    def tall(self) -> float:
        """How high the words are, units."""
        return 22 * len(broken(self._text, self.wide - self._left(), 16)) + 4

    def minimumSizeHint(self) -> QSize:
        return QSize(px(self._left() + 220), px(44))

    def paint(self, kit: Kit) -> None:
        y = max((self.high - self.tall()) / 2, 0) + 2
        kit.text(0, y, self._heading, 16, 700, "ink")
        left = self._left()
        kit.paragraph(left, y, self.wide - left, self._text, 16, 400, "ink")


class Guide(Painted):
    """The strip under the header: which step, what to do, and the way on."""

    station_wanted = Signal(str)
    finish_wanted = Signal(str)
    changed = Signal()

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ringed = False
        self.setMinimumHeight(px(HEIGHT))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.job = job
        self._finish_id, self._step = "", 0
        self._practice = Button(tr("guide.practice"), self)
        self._practice.clicked.connect(lambda _=False: self.practise())
        self._card = any_card_button(job, self)
        self._on = Button(tr("guide.on"), self)
        self._on.clicked.connect(lambda _=False: self.go_on())
        self._leave = Button(tr("guide.leave"), self)
        self._leave.clicked.connect(lambda _=False: self.leave())
        self._words = _Words(self)
        line = row(self, (24, 8, 24, 10), 12)
        line.addWidget(self._words, 1)
        for button in (self._card, self._practice, self._leave, self._on):
            line.addWidget(button)
        reachable(self, tr("guide.name"))
        job.events.changed.connect(self.look)
        job.events.picture_ready.connect(lambda _: self.look())
        job.events.reading_ready.connect(lambda _: self.look())
        job.events.worked_out.connect(self.look)
        job.events.opened.connect(self._opened)
        self.hide()

    # ---- where it stands

    @property
    def step(self) -> str:
        """The step it is at; "" when the guide is not under way."""
        return STEPS[self._step] if self._finish_id else ""

    @property
    def can_go_on(self) -> bool:
        """Whether a guided job was begun and left."""
        kept = self._kept()
        return bool(kept.get("finish")) and kept.get("step", 0) < len(STEPS)

    def _kept(self) -> dict:
        workspace = self.job.workspace
        kept = None if workspace is None else workspace.preference(_NAME)
        return kept if isinstance(kept, dict) else {}

    def _keep(self, under_way: bool) -> None:
        kept = {"finish": self._finish_id, "step": self._step, "under_way": under_way}
        if not under_way:  # before it is told: what is told makes it look again
            self._finish_id = ""
        self.job.records.set_preference(_NAME, kept)

    def _opened(self) -> None:
        """A guide that was under way when the window was closed goes on."""
        self._finish_id, self._step = "", 0
        if self._kept().get("under_way"):
            self._take_up()
        else:
            self._show()

    # ---- going

    def start(self) -> None:
        """Begin a guided job, or go on with the one that was left."""
        if self.can_go_on and self._finish_of(self._kept()["finish"]) is not None:
            self._take_up()
        else:
            self._begin()
        if self._finish_id:
            self._keep(under_way=True)
            self.finish_wanted.emit(self._finish_id)
            self._go()

    def _take_up(self) -> None:
        kept = self._kept()
        self._finish_id = str(kept.get("finish", ""))
        step = kept.get("step", 0)
        self._step = step if isinstance(step, int) and 0 <= step < len(STEPS) else 0
        if self._finish_of(self._finish_id) is None:
            self._finish_id = ""
        self._show()

    def _begin(self) -> None:
        position = max((job.position for job, _ in self.job.records.jobs()), default=-1) + 1
        job = Job(name=tr("guide.job"), position=position, created_at=now())
        finish = Finish(job_id=job.id, name=tr("guide.finish"))
        self.job.records.add(tr("undo.new_job"), job, finish)
        self._finish_id, self._step = finish.id, 0
        self._show()

    def _go(self) -> None:
        self.station_wanted.emit(_STATION[self.step])
        self._show()

    def go_on(self) -> None:
        """Go on to the next step, or say what this one still waits for."""
        if self.step in _ASKS and not self._is_done():
            self.job.events.told.emit(tr(f"guide.waits.{self.step}"))
        else:
            self._next()

    def _next(self) -> None:
        self._step += 1
        if self._step >= len(STEPS):
            self._keep(under_way=False)
            self.job.events.told.emit(tr("guide.over"))
            self._show()
            return
        self._keep(under_way=True)
        self._go()

    def leave(self) -> None:
        """Put the guide away; the help and the job list take it up again."""
        self._keep(under_way=False)
        self.job.events.told.emit(tr("guide.left"))
        self._show()

    def practise(self) -> None:
        """Bring in the practice photo or board, with its corners and grey marked."""
        if self.step == "measure":
            self._mark_practice()
            return
        name = _PRACTICE.get(self.step)
        if name is not None:
            data = files("jartide").joinpath("data/demo", name).read_bytes()
            self.job.pictures.add_photo(data, name, board=self.step == "board")

    def _mark_practice(self) -> None:
        """Set corners, size and grey of every practice photo as they are known."""
        text = files("jartide").joinpath("data/demo/job.toml").read_text(encoding="utf-8")
        known = {row["file"]: settings_of(row) for row in tomllib.loads(text)["photo"]}
        for photo in self._photos():
            if photo.file_name in known:
                settings = known[photo.file_name]
                self.job.records.set_settings(photo, settings, tr("undo.practice"))

    def look(self) -> None:
        """See whether what the step asks for is there."""
        if not self.step or self.job.workspace is None:
            return
        if self.job.finish is None or self.job.finish.id != self._finish_id:
            self.hide()
            return
        if self._is_done():
            over = self.step
            # First on, then marked: the change that marks makes it look again.
            self._next()
            if over == "board":
                self._mark_practice()
        else:
            self._show()

    def _is_done(self) -> bool:
        """Whether the step's work is there; what is only looked at is over when it is left."""
        assert self.job.workspace is not None
        photos = self._photos()
        target = next((p for p in photos if p.use is PhotoUse.TARGET), None)
        if self.step == "photo":
            return target is not None
        if self.step == "measure":
            flat = None if target is None else self.job.pictures.flat(target)
            grey = target is not None and bool(target.settings.neutrals)
            return flat is not None and flat.mm_per_px is not None and grey
        if self.step == "paints":
            return bool(self.job.workspace.tins())
        if self.step == "mix":
            return any(mix.parts for _, mix in self.job.jars.all())
        if self.step == "plan":
            plans = self.job.workspace.plans([self._finish_id])
            return any(plan.steps for plan in plans)
        if self.step == "board":
            return any(p.use is PhotoUse.BOARD for p in photos)
        return False

    def _photos(self) -> list[Photo]:
        finish = self._finish_of(self._finish_id)
        return [] if finish is None else self.job.records.photos(finish)

    def _finish_of(self, finish_id: str) -> Finish | None:
        for _, finishes in self.job.records.jobs():
            for finish in finishes:
                if finish.id == finish_id:
                    return finish
        return None

    # ---- showing

    def _show(self) -> None:
        here = self.job.finish
        shown = bool(self.step) and here is not None and here.id == self._finish_id
        if shown:
            self._practice.setVisible(self.step in _PRACTICE or self._can_mark())
            self._practice.setText(tr("guide.mark" if self.step == "measure" else "guide.practice"))
            self._card.setVisible(self.step == "photo")
            last = self._step == len(STEPS) - 1
            self._on.setText(tr("guide.end" if last else "guide.on"))
            self.setAccessibleName(f"{self._heading()} {tr(f'guide.{self.step}')}")
            self._words.say(self._heading(), tr(f"guide.{self.step}"))
        self.setVisible(shown)
        self._fit()
        self.update()
        self.changed.emit()

    def _can_mark(self) -> bool:
        """Whether the photo is the practice photo, whose corners are known."""
        return self.step == "measure" and any(
            p.file_name in _PRACTICE.values() for p in self._photos()
        )

    def _heading(self) -> str:
        return tr("guide.step", number=self._step + 1, steps=len(STEPS))

    def _fit(self) -> None:
        """Be as high as the words need where they stand beside the buttons."""
        layout = self.layout()
        if self.isVisible() and layout is not None:
            layout.activate()
            self.setMinimumHeight(px(max(HEIGHT, self._words.tall() + 18)))

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "raised")
        kit.across(0, self.high - 2, self.wide, "accent", 2)
