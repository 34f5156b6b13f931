"""Steps: the plan on its hours, what dries now, what comes next, what to take care of."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path

from PySide6.QtCore import QUrl
from PySide6.QtGui import QColor, QDesktopServices, QResizeEvent
from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.app.elements.hours_axis import HoursAxis
from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.stations.base import Station
from jartide.app.stations.steps.amounts_page import AmountsPage
from jartide.app.stations.steps.calendar_files import export_calendar, import_calendar
from jartide.app.stations.steps.care_list import CareList
from jartide.app.stations.steps.clock_page import ClockPage
from jartide.app.stations.steps.decide_page import DecidePage
from jartide.app.stations.steps.hours_page import HoursPage
from jartide.app.stations.steps.list_page import ListPage
from jartide.app.stations.steps.page import StepsPage
from jartide.app.stations.steps.ratios_page import RatiosPage
from jartide.app.stations.steps.setting_out_page import SettingOutPage
from jartide.app.stations.steps.side import StepsSide
from jartide.app.stations.steps.step_detail import StepDetail
from jartide.app.stations.steps.surfaces_page import SurfacesPage
from jartide.app.stations.steps.work_foot import work_foot
from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.first_words import FirstWords
from jartide.app.widgets.flow import Flow
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import Ground, Hairline, column, row
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.label import quiet
from jartide.app.widgets.lanes_view import LaneBlock, LanesView
from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.page_line import HEIGHT as LINE
from jartide.app.widgets.page_line import PageLine
from jartide.errors import JarTideError
from jartide.job.described import Care, due
from jartide.job.glance import Glance, glance_of
from jartide.job.open_job import OpenJob
from jartide.job.plan import Timed
from jartide.job.words.steps import (
    coat_words,
)
from jartide.plan.progress import Block
from jartide.plan.rules import Finding
from jartide.plan.tasks import Task
from jartide.store.own_tables import begin_own_tables
from jartide.wording import tr

SIDE = 326
# Below this height only one timer is shown, for the sake of what is to be taken care of.
_LOW = 640
# Least height that what the chosen step is needs below the lanes.
_LANES_SHARE = 0.6
_ALL_DAYS = 1
_DETAIL = 200
_LEAST_CARE, _LEAST_LANES, _LEAST_LANES_HIGH = 90, 420, 240
_PAGES: dict[str, type[StepsPage]] = {
    "plan": ListPage,
    "surfaces": SurfacesPage,
    "amounts": AmountsPage,
    "ratios": RatiosPage,
    "hours": HoursPage,
    "setting_out": SettingOutPage,
    "clock": ClockPage,
    "decide": DecidePage,
}


class StepsStation(Station):
    """Shows the lanes of the open finish and works through them."""

    name = "steps"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self.plan = job.plan
        self._key = ""
        self._page: StepsPage | None = None
        self._pages: dict[str, StepsPage] = {}
        self.described = job.described
        self._lanes = LanesView(self)
        self._lanes.chosen.connect(self.choose)
        self._lanes.moved.connect(self._block_moved)
        self._lanes.room_changed.connect(self._room_changed)
        self._detail = StepDetail(self)
        self._side = StepsSide(self)
        self._care = CareList(tr("steps.care"), self)
        self._care.pressed.connect(self._care_pressed)
        words = [("", tr("line.steps")), *((name, tr(f"line.{name}")) for name in _PAGES)]
        self._line = PageLine(words, tr("station.steps"), self)
        self._line.picked.connect(self._line_picked)
        files = [(name, tr(f"steps.{name}")) for name in ("ics_out", "ics_in", "tables")]
        self._files = MenuButton(tr("steps.files"), files, self)
        self._files.picked.connect(self._picked)
        seen = [tr("steps.seen.hours"), tr("steps.seen.days")]
        self._seen = ChoiceRow(seen, tr("steps.seen"), self, gap=16)
        self._seen.chosen.connect(lambda _: self.refresh())
        self._care.setMinimumHeight(px(_LEAST_CARE))
        self._lanes.setMinimumSize(px(_LEAST_LANES), px(_LEAST_LANES_HIGH))
        self._lay_out()
        job.events.changed.connect(self.refresh)
        job.events.reading_ready.connect(lambda _: self.refresh())
        self.plan.changed.connect(self.refresh)

    # ---- what is chosen

    def enter(self) -> None:
        self.job.readings.want_target()
        self.refresh()

    @property
    def chosen_key(self) -> str:
        """The task that was chosen by hand; "" for none."""
        return self._key

    def choose(self, key: str) -> None:
        """Choose a block by its task."""
        self._key = key
        self.refresh()

    def _block_moved(self, key: str, at: datetime) -> None:
        """A planned block was drawn to another time: it begins no sooner, the rest follows."""
        block = next((b for b in self.plan.timed().blocks if b.task.id == key), None)
        if block is not None and block.state == "planned":
            self.plan.later(block.task, at)

    def step_on(self, by: int) -> None:
        keys = [block.task.id for block in self.plan.timed().blocks]
        chosen = self.chosen()
        if chosen is not None:
            self.choose(keys[(keys.index(chosen.task.id) + by) % len(keys)])

    def page_on(self, by: int) -> None:
        self._line.turn(by)

    def at_a_glance(self) -> tuple[Glance | None, Action | None]:
        """Return the step in hand in large words, and the press that moves it on."""
        timed = self.plan.timed()
        if self.job.readings.of_target() is None or timed.refused or not timed.blocks:
            return None, None
        block = self.chosen()
        glance = glance_of(self.described, self.job.jars, timed, block)
        if not self.plan.is_kept():
            take = Action(text=tr("steps.take"), run=self.plan.take_proposal, primary=True)
            return glance, take
        look = Action(text=tr("steps.look_through"), run=self._to("plan"))
        foot = work_foot(self.described, timed, block, look, self)
        return glance, next((action for action in foot.actions if action.primary), None)

    def chosen(self) -> Block | None:
        """Return the block that the foot speaks of: the chosen one, or what is due."""
        timed = self.plan.timed()
        return next((b for b in timed.blocks if b.task.id == self._key), None) or due(timed)

    # ---- showing

    def refresh(self) -> None:
        if not self.isVisible() or self.job.finish is None:
            return
        for page in self._pages.values():
            page.setVisible(page is self._page)
        there = self._page is None
        timed = self.plan.timed()
        planned = there and timed.problem is not None and bool(timed.blocks)
        self._planned.setVisible(planned)
        self._first.setVisible(there and not planned)
        read = self.job.readings.of_target() is not None
        self._line.setVisible(read)
        self._line.show_page("" if self._page is None else self._page.name)
        if self._page is not None:
            self._page.show_now()
            self._page.update()
        elif planned:
            self._show_lanes(timed)
            self._show_side(timed)
            self._fit()
        self.foot_changed.emit()
        self.update()

    def _show_lanes(self, timed: Timed) -> None:
        problem = timed.problem
        assert problem is not None
        time, now = problem.timeline, self.plan.now()
        lanes = {lane.id: number for number, lane in enumerate(problem.lanes)}
        chosen = self.chosen()
        blocks = []
        for block in timed.blocks:
            steps = self.plan.steps_of(block.task)
            shade = self.described.shade(steps)
            begins, ends = time.at(block.placed.start), time.at(block.placed.end)
            state = block.state.value
            when = f"{begins:%H:%M}" if state == "planned" else tr(f"steps.state.{state}")
            blocks.append(
                LaneBlock(
                    key=block.task.id,
                    lane=lanes[block.task.lane],
                    name=coat_words(block, steps),
                    begins=begins,
                    ends=ends,
                    ready=time.at(block.placed.ready),
                    state=state,
                    shade=None if shade is None else QColor(shade),
                    when=when,
                    late=block.placed.late,
                )
            )
        names = [self.described.lane_label(lane) for lane in problem.lanes]
        hours = self.plan.work().hours
        first = min([now, *(b.begins for b in blocks)])
        last = max([now, *(b.ready for b in blocks)])
        days = (last.date() - first.date()).days + 1
        midnight = datetime.combine(first.date(), datetime.min.time())
        every = [midnight + timedelta(days=n) for n in range(days + 1)]
        free = {d for d in every if d.weekday() not in hours.weekdays}
        free |= {d for d in every if d.date().isoformat() in hours.free}
        # Hours are as wide as they need be, unless all days are to be seen at once.
        room = self._lanes.hours_room if self._seen.index == _ALL_DAYS else None
        axis = HoursAxis(first, last, hours.from_min, hours.to_min, frozenset(free), room=room)
        key = "" if chosen is None else chosen.task.id
        self._lanes.show_lanes(axis, names, blocks, now, key, follow=not self._key)

    def _show_side(self, timed: Timed) -> None:
        self._side.most = 1 if self.room_high < _LOW else 2
        block = self.chosen()
        self._side.show_now(self.described.timers(timed), self.described.coming(timed, block))
        steps = [] if block is None else self.plan.steps_of(block.task)
        self._care.show_cares([*self._of_the_moment(), *self.described.cares(block)])
        self._no_care.setVisible(not self._care.cares)
        laid = [step for step in steps if step.lays] or steps
        own = [f for f in self.described.findings() if laid and f.step_id == laid[-1].id]
        self._detail.show_step(self.plan, laid[-1] if laid else None, own)

    def _of_the_moment(self) -> list[Care]:
        """What can't wait: how long it can still be lifted, and which photo is to be taken now."""
        return [
            Care(key="decide", sign=one.sign, text=f"{one.question} {one.answer}")
            for one in self.job.judging.of_the_moment()
        ]

    def _care_pressed(self, key: str) -> None:
        kind, _, name = key.partition(" ")
        if kind == "finding":
            self.open_page("plan")
            page = self._page
            if isinstance(page, ListPage):
                page.choose(name)
        elif kind == "decide":
            self.open_page("decide")
        elif kind == "caution":
            plan = self.plan.plan()
            if plan is not None and name not in self.plan.acknowledged():
                self.plan.put(tr("undo.caution"), acknowledged=(*plan.acknowledged, name))

    # ---- pages

    def open_page(self, name: str) -> StepsPage:
        """Open one of the pages over the hours."""
        if name not in self._pages:
            page = _PAGES[name](self.job, self)
            page.foot_changed.connect(self.foot_changed)
            if isinstance(page, ClockPage):
                page.timers = self.described.timers
            if isinstance(page, DecidePage):
                page.wanted.connect(self.station_wanted)
            self._pages[name] = page
            self._whole.addWidget(page, 1)
        self._page = self._pages[name]
        self.refresh()
        self._page.show()
        self._page.setFocus()
        return self._page

    def _to(self, name: str) -> Callable[[], None]:
        def go() -> None:
            self.open_page(name)

        return go

    def open_named(self, page: str) -> None:
        self.open_page(page)

    def close_page(self) -> None:
        """Go back to the hours."""
        self._page = None
        self.refresh()
        self.setFocus()

    @property
    def page(self) -> StepsPage | None:
        """The page that is open, or None."""
        return self._page

    def _picked(self, name: str) -> None:
        if name == "ics_out":
            self._export()
        elif name == "ics_in":
            self._import()
        else:
            self._own_tables()

    def _line_picked(self, name: str) -> None:
        if name:
            self.open_page(name)
        else:
            self.close_page()

    def escape(self) -> bool:
        if self._page is not None:
            self.close_page()
            return True
        if self._key:
            self.choose("")
            return True
        return False

    def _own_tables(self) -> None:
        """Show where the painter's own techniques stand; the first time an example is put there."""
        workspace = self.job.workspace
        if workspace is None:
            return
        try:
            path = begin_own_tables(workspace.folder)
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
            return
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(path.parent)))
        self.job.events.told.emit(tr("steps.tables_lie", name=str(path)))

    # ---- calendar files

    def _export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, tr("steps.ics_out"), tr("steps.ics_name"), "iCalendar (*.ics)"
        )
        if name:
            export_calendar(self.described, Path(name))

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("steps.ics_in"), "", "iCalendar (*.ics)")
        if name:
            import_calendar(self.plan, Path(name))

    # ---- header and foot

    def foot_state(self) -> FootState:
        if self.job.readings.target() is None:
            go = Action(
                text=tr("reading.to_photos"),
                run=lambda: self.station_wanted.emit("photos"),
                primary=True,
            )
            return FootState(
                text=tr("reading.no_target"), note=tr("reading.no_target_note"), actions=(go,)
            )
        back = Action(text=tr("steps.back"), run=self.close_page)
        if self._page is not None:
            return FootState(text=self._page.title(), actions=(*self._page.foot_actions(), back))
        if self.job.readings.of_target() is None:
            return FootState(text=tr("steps.reading"))
        if not self.plan.surfaces():
            add = Action(text=tr("steps.add_surface"), run=self._to("surfaces"), primary=True)
            return FootState(
                text=tr("steps.no_surface"), note=tr("steps.no_surface_note"), actions=(add,)
            )
        timed = self.plan.timed()
        if timed.refused:
            hours = Action(text=tr("steps.to_hours"), run=self._to("hours"), primary=True)
            return FootState(text=timed.refused, sign="stop", actions=(hours,))
        look = Action(text=tr("steps.look_through"), run=self._to("plan"))
        if not self.plan.is_kept():
            take = Action(text=tr("steps.take"), run=self.plan.take_proposal, primary=True)
            return FootState(
                text=tr("steps.offer"), note=self.described.outlook(timed), actions=(look, take)
            )
        return work_foot(self.described, timed, self.chosen(), look, self)

    def doing(self, run: Callable[[Task], None], task: Task) -> Callable[[], None]:
        """Return a press that does something to a block and shows what has become of it."""

        def go() -> None:
            try:
                run(task)
            except JarTideError as error:
                self.job.events.failed.emit(str(error))
            self._key = ""
            self.refresh()

        return go

    def show_finding(self, finding: Finding) -> None:
        """Open the list of steps where a finding stands."""
        self._care_pressed(f"finding {finding.step_id}")

    # ---- layout

    def _lay_out(self) -> None:
        hours = column()
        hours.addWidget(self._lanes, 1)
        hours.addWidget(self._detail)
        self._side_ground = Ground("sheet", "left")
        self._side_ground.setFixedWidth(px(SIDE))
        beside = column(self._side_ground, (24, 0, 24, 12), 10)
        beside.addWidget(self._side)
        beside.addWidget(Hairline())
        beside.addWidget(Heading(tr("steps.care"), 20, 700))
        self._no_care = quiet(tr("steps.no_care"), 15)
        beside.addWidget(self._no_care)
        beside.addWidget(self._care, 1)
        below = Flow(gap=12, right=True)
        below.addWidget(self._seen)
        below.addWidget(self._files)
        beside.addLayout(below)
        self._planned = QWidget()
        both = row(self._planned)
        both.addLayout(hours, 1)
        both.addWidget(self._side_ground)
        words = [tr(f"steps.first_{number}") for number in (1, 2, 3)]
        self._first = FirstWords(tr("steps.first_title"), words)
        self._whole = column(self)
        self._whole.addWidget(self._line)
        self._whole.addWidget(self._first, 1)
        self._whole.addWidget(self._planned, 1)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def _room_changed(self) -> None:
        if self._seen.index == _ALL_DAYS:
            self.refresh()

    def _fit(self) -> None:
        """Give the lanes what they need, and the chosen step's words the rest of a tall window."""
        self._side.setFixedHeight(px(self._side.ends_at(SIDE - 48)))
        room = self.room_high - LINE
        # Few lanes leave room for what the chosen step is.
        lanes = max(self._lanes.wanted_height(), round(_LANES_SHARE * room))
        lanes = min(lanes, self._lanes.most_height())
        roomy = not self._planned.isHidden() and room - lanes >= _DETAIL
        self._detail.setVisible(roomy)
        self._detail.setFixedHeight(px(max(room - lanes, _DETAIL)))

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")
