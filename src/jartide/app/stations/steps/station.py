"""Steps: the plan on its hours, what dries now, what comes next, what to take care of."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer, QUrl, Signal
from PySide6.QtGui import QColor, QDesktopServices, QResizeEvent
from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.app.document import Document
from jartide.app.elements.hours_axis import HOUR_PX, HoursAxis
from jartide.app.kit import Kit
from jartide.app.plan_desk import PlanDesk, Timed
from jartide.app.stations.base import Station
from jartide.app.stations.steps.amounts_page import AmountsPage
from jartide.app.stations.steps.care_list import Care, CareList
from jartide.app.stations.steps.clock_page import ClockPage
from jartide.app.stations.steps.hours_page import HoursPage
from jartide.app.stations.steps.list_page import ListPage
from jartide.app.stations.steps.page import StepsPage
from jartide.app.stations.steps.setting_out_page import SettingOutPage
from jartide.app.stations.steps.side import Next, StepsSide, Timer
from jartide.app.stations.steps.step_detail import StepDetail
from jartide.app.stations.steps.surfaces_page import SurfacesPage
from jartide.app.stations.steps.words import (
    area_words,
    block_name,
    coat_words,
    day_words,
    size_words,
    span_words,
    tool_words,
    volume_words,
    warmth_words,
    when_words,
)
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.header import StationState
from jartide.app.widgets.lanes_view import LaneBlock, LaneName, LanesView
from jartide.app.widgets.menu_button import MenuButton
from jartide.errors import JarTideError
from jartide.wording import say, tr

if TYPE_CHECKING:
    from jartide.plan.progress import Block
    from jartide.plan.schedule import Problem
    from jartide.plan.step import Step

SIDE = 326
_TICK_MS = 20_000
# Below this height only one timer is shown, for the sake of what is to be taken care of.
_LOW = 640
# Least height that what the chosen step is needs below the lanes.
_DETAIL = 200
# Offered by one press, minutes.
_LATER_MIN, _NOT_YET_MIN = 15, 20
_PAGES: dict[str, type[StepsPage]] = {
    "plan": ListPage,
    "surfaces": SurfacesPage,
    "amounts": AmountsPage,
    "hours": HoursPage,
    "setting_out": SettingOutPage,
    "clock": ClockPage,
}


class StepsStation(Station):
    """Shows the lanes of the open finish and works through them."""

    came_due = Signal(str)  # something is to be looked at: one sentence
    told = Signal(str)  # a sentence for the foot

    name = "steps"

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self.desk = PlanDesk(document, self)
        self._key = ""
        self._told: set[str] = set()
        self._page: StepsPage | None = None
        self._pages: dict[str, StepsPage] = {}
        self._lanes = LanesView(self)
        self._lanes.chosen.connect(self.choose)
        self._lanes.moved.connect(self._block_moved)
        self._detail = StepDetail(self)
        self._side = StepsSide(self)
        self._care = CareList(tr("steps.care"), self)
        self._care.pressed.connect(self._care_pressed)
        entries = [(name, tr(f"page.{name}")) for name in _PAGES]
        files = [(name, tr(f"steps.{name}")) for name in ("ics_out", "ics_in", "tables")]
        self._more = MenuButton(tr("boards.more"), [*entries, *files], self)
        self._more.picked.connect(self._picked)
        self._ticker = QTimer(self)
        self._ticker.setInterval(_TICK_MS)
        self._ticker.timeout.connect(self.tick)
        self._ticker.start()
        document.changed.connect(self.refresh)
        document.reading_ready.connect(lambda _: self.refresh())
        self.desk.changed.connect(self.refresh)

    # ---- what is chosen

    def enter(self) -> None:
        self.document.want_target()
        self.refresh()

    def choose(self, key: str) -> None:
        """Choose a block by its task."""
        self._key = key
        self.refresh()

    def _block_moved(self, key: str, at: datetime) -> None:
        """A planned block was drawn to another time: it begins no sooner, the rest follows."""
        block = next((b for b in self.desk.timed().blocks if b.task.id == key), None)
        if block is not None and block.state == "planned":
            self.desk.later(block.task, at)

    def chosen(self) -> Block | None:
        """Return the block that the foot speaks of: the chosen one, or what is due."""
        timed = self.desk.timed()
        return next((b for b in timed.blocks if b.task.id == self._key), None) or self.due(timed)

    def due(self, timed: Timed | None = None) -> Block | None:
        """Return the block that asks for a hand: to be looked at, running, or first to come."""
        timed = timed or self.desk.timed()
        for state in ("look", "running", "planned"):
            found = next((b for b in timed.blocks if b.state == state), None)
            if found is not None:
                return found
        return None

    # ---- time goes on

    def tick(self) -> None:
        """Look at the clock: what is dry now is told, once."""
        if self.document.finish is None or not self.desk.dones():
            return
        for block in self.desk.timed().blocks:
            if block.state == "look" and block.task.id not in self._told:
                self._told.add(block.task.id)
                steps = self.desk.steps_of(block.task)
                words = tr(
                    "steps.due",
                    lane=self._lane_name(block.task.lane),
                    name=block_name(steps),
                    sign=self._ready_sign(steps),
                )
                self.came_due.emit(words)
            elif block.state != "look":
                self._told.discard(block.task.id)
        self.refresh()

    def _ready_sign(self, steps: list[Step]) -> str:
        technique = self.desk.techniques().get(steps[-1].technique) if steps else None
        lays = [step for step in steps if step.dry_h > 0]
        if lays:
            technique = self.desk.techniques().get(lays[-1].technique)
        return say_table("" if technique is None else technique.ready)

    # ---- showing

    def refresh(self) -> None:
        if not self.isVisible() or self.document.finish is None:
            return
        for page in self._pages.values():
            page.setVisible(page is self._page)
        there = self._page is None
        timed = self.desk.timed()
        planned = there and timed.problem is not None and bool(timed.blocks)
        self._lanes.setVisible(planned)
        self._side.setVisible(planned)
        if not planned:
            self._detail.hide()
        self._care.setVisible(planned)
        self._more.setVisible(there and self.document.target_reading() is not None)
        if self._page is not None:
            self._page.show_now()
            self._page.update()
        elif planned:
            self._show_lanes(timed)
            self._show_side(timed)
        self._place()
        self.foot_changed.emit()
        self.update()

    def _show_lanes(self, timed: Timed) -> None:
        problem = timed.problem
        assert problem is not None
        time, now = problem.timeline, self.desk.now()
        lanes = {lane.id: number for number, lane in enumerate(problem.lanes)}
        chosen = self.chosen()
        blocks = []
        for block in timed.blocks:
            steps = self.desk.steps_of(block.task)
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
                    shade=self._shade(steps),
                    when=when,
                    late=block.placed.late,
                )
            )
        names = [self._lane_label(lane) for lane in problem.lanes]
        hours = self.desk.work().hours
        first = min([now, *(b.begins for b in blocks)])
        last = max([now, *(b.ready for b in blocks)])
        days = (last.date() - first.date()).days + 1
        midnight = datetime.combine(first.date(), datetime.min.time())
        every = [midnight + timedelta(days=n) for n in range(days + 1)]
        free = {d for d in every if d.weekday() not in hours.weekdays}
        free |= {d for d in every if d.date().isoformat() in hours.free}
        # Hours are as wide as they need be; a wide window shows more of them first.
        axis = HoursAxis(
            first, last, hours.from_min, hours.to_min, frozenset(free), hour_px=HOUR_PX
        )
        key = "" if chosen is None else chosen.task.id
        self._lanes.show_lanes(axis, names, blocks, now, key, follow=not self._key)

    def _lane_label(self, lane) -> LaneName:
        from jartide.plan.areas import one_area_m2

        piece = lane.piece
        if piece.board:
            size = size_words(piece.width_mm, piece.height_mm, self.desk.work().units)
            return LaneName(name=piece.name, note=size)
        area = one_area_m2(piece.site, piece.width_mm, piece.height_mm) * len(lane.panels)
        note = area_words(area, self.desk.work().units)
        return LaneName(name=self._lane_name(lane.id), note=note)

    def _lane_name(self, lane_id: str) -> str:
        problem = self.desk.timed().problem
        lanes = () if problem is None else problem.lanes
        lane = next((one for one in lanes if one.id == lane_id), None)
        if lane is None:
            return ""
        if lane.piece.count == 1:
            return lane.piece.name
        if len(lane.panels) == 1:
            return f"{lane.piece.name} {lane.panels[0]}"
        return tr("steps.panels", name=lane.piece.name, first=lane.panels[0], last=lane.panels[-1])

    def _shade(self, steps: list[Step]) -> QColor | None:
        from jartide.colour.spaces import srgb_hex

        reading = self.document.target_reading()
        layers = {} if reading is None else {layer.id: layer for layer in reading.layers}
        for step in reversed(steps):
            if step.lays and step.layer in layers:
                return QColor(srgb_hex(layers[step.layer].shown_lab))
        return None

    def _show_side(self, timed: Timed) -> None:
        self._side.most = 1 if self.height() < _LOW else 2
        self._side.show_now(self.timers(timed), self._coming(timed, self.desk.now()))
        block = self.chosen()
        steps = [] if block is None else self.desk.steps_of(block.task)
        self._care.show_cares(self._cares(steps))
        laid = [step for step in steps if step.lays] or steps
        own = [f for f in self._findings() if laid and f.step_id == laid[-1].id]
        self._detail.show_step(self.desk, laid[-1] if laid else None, own)

    def timers(self, timed: Timed | None = None) -> list[Timer]:
        """Return what runs and dries, what is to be looked at first, then what ends first."""
        timed = timed or self.desk.timed()
        problem, now = timed.problem, self.desk.now()
        if problem is None:
            return []
        found = []
        for block in timed.blocks:
            state = block.state.value
            if state not in ("running", "drying", "look"):
                continue
            steps = self.desk.steps_of(block.task)
            start, until = self._span(block)
            whole = max((until - start) / timedelta(minutes=1), 1)
            note = self._ready_sign(steps)
            if state == "drying":
                after = self._after(timed, block)
                if after is not None:
                    note = tr(
                        "steps.then",
                        name=block_name(self.desk.steps_of(after.task)),
                        when=when_words(problem.timeline.at(after.placed.start), now),
                    )
            if state == "running":
                note = tr("steps.until", when=when_words(until, now))
            found.append(
                Timer(
                    key=block.task.id,
                    kind=state,
                    left=until - now,
                    passed=(now - start) / timedelta(minutes=1) / whole,
                    title=f"{self._lane_name(block.task.lane)}, {coat_words(block, steps)}",
                    note=note,
                )
            )
        order = {"look": 0, "running": 1, "drying": 2}
        return sorted(found, key=lambda t: (order[t.kind], t.left))

    def _span(self, block: Block) -> tuple[datetime, datetime]:
        """From when to when a block runs or dries, to the minute and not to the slot."""
        from jartide.plan.progress import local
        from jartide.plan.timeline import SLOT_MIN

        done, placed = block.done, block.placed
        assert done is not None
        if not done.ended:
            begun = local(done.begun)
            return begun, begun + timedelta(minutes=SLOT_MIN * (placed.end - placed.start))
        ended = local(done.ended)
        if done.waits_until:
            return ended, local(done.waits_until)
        return ended, ended + timedelta(minutes=SLOT_MIN * (placed.ready - placed.end))

    def _after(self, timed: Timed, block: Block) -> Block | None:
        own = [b for b in timed.blocks if b.task.lane == block.task.lane]
        place = own.index(block)
        return own[place + 1] if place + 1 < len(own) else None

    def _coming(self, timed: Timed, now: datetime) -> Next | None:
        block = self.chosen()
        problem = timed.problem
        if block is None or problem is None:
            return None
        steps = self.desk.steps_of(block.task)
        begins = problem.timeline.at(block.placed.start)
        title = tr("steps.next_at", when=when_words(begins, now))
        if block.state != "planned":
            title = tr(f"steps.state.{block.state}").capitalize()
        elif block is not self.due(timed):
            title = tr("steps.at", when=when_words(begins, now))
        name = tr("steps.on", name=coat_words(block, steps), lane=self._lane_name(block.task.lane))
        lines = []
        ml = self.desk.takes_ml(block.task)
        if ml > 0:
            lines.append(tr("steps.takes", amount=volume_words(ml, self.desk.work().units)))
        minutes = timedelta(minutes=block.task.minutes)
        tools = [tool_words(step) for step in steps if step.tool]
        lines.append(tr("steps.takes_time", span=span_words(minutes)))
        window = self._window_words(block, problem, now)
        if window:
            lines.append(window)
        if tools:
            lines.append(tools[0])
        shade = self._shade(steps)
        return Next(title=title, name=name, shade=shade, level=0.6, lines=tuple(lines))

    def _window_words(self, block: Block, problem: Problem, now: datetime) -> str:
        """From when to when it takes the next coat, where its label sets an end to that."""
        coat = block.task.dries
        if coat is None or coat.latest_h <= 0:
            return ""
        ready = problem.timeline.at(block.placed.ready)
        until = ready + timedelta(hours=coat.latest_h)
        return tr("steps.window", ready=when_words(ready, now), until=when_words(until, now))

    def _cares(self, steps: list[Step]) -> list[Care]:
        own = {step.id for step in steps}
        found = []
        for finding in self._findings():
            if finding.step_id in own and finding.grade != "school":
                sign = "stop" if finding.grade == "stop" else "check"
                key = f"finding {finding.step_id}"
                found.append(Care(key=key, sign=sign, text=say(finding.reason)))
        ticked = self.desk.acknowledged()
        for step in steps:
            for caution in self.desk.cautions(step):
                key = f"caution {caution.id}"
                if all(care.key != key for care in found):
                    sign = "ready" if caution.id in ticked else "check"
                    found.append(Care(key=key, sign=sign, text=say_table(caution.text)))
        found += [
            Care(key=f"section {n}", sign="todo", text=text)
            for n, text in enumerate(self._section_words(steps))
        ]
        return found

    def _findings(self):
        try:
            return self.desk.findings()
        except JarTideError as error:
            self.document.failed.emit(str(error))
            return ()

    def _section_words(self, steps: list[Step]) -> list[str]:
        """How to divide the work so that its edge stays wet."""
        from jartide.plan.open_time import sections

        block = self.chosen()
        problem = self.desk.timed().problem
        if block is None or problem is None or not steps:
            return []
        lane = next((one for one in problem.lanes if one.id == block.task.lane), None)
        if lane is None:
            return []
        found = sections(steps, lane.piece, self.desk.work().air, block.task.hands)
        if found is None:
            return []
        minutes = tr("unit.min", count=round(found.open_min))
        if not found.fits:
            return [tr("steps.sections.hands", number=found.hands, minutes=minutes)]
        if found.number > 1:
            return [
                tr(
                    "steps.sections.strips",
                    number=found.number,
                    width=f"{10 * round(found.width_mm / 10)}",
                    minutes=minutes,
                )
            ]
        if found.panels > 1:
            return [tr("steps.sections.panels", number=found.panels, minutes=minutes)]
        return [tr("steps.sections.one", minutes=minutes)]

    def _care_pressed(self, key: str) -> None:
        kind, _, name = key.partition(" ")
        if kind == "finding":
            self.open_page("plan")
            page = self._page
            if isinstance(page, ListPage):
                page.choose(name)
        elif kind == "caution":
            plan = self.desk.plan()
            if plan is not None and name not in self.desk.acknowledged():
                self.desk.put(tr("undo.caution"), acknowledged=(*plan.acknowledged, name))

    # ---- pages

    def open_page(self, name: str) -> StepsPage:
        """Open one of the pages over the hours."""
        if name not in self._pages:
            page = _PAGES[name](self.desk, self)
            page.foot_changed.connect(self.foot_changed)
            if isinstance(page, ClockPage):
                page.timers = self.timers
            self._pages[name] = page
        self._page = self._pages[name]
        self._page.setGeometry(self.rect())
        self.refresh()
        self._page.show()
        self._page.raise_()
        self._page.setFocus()
        return self._page

    def _to(self, name: str) -> Callable[[], None]:
        def go() -> None:
            self.open_page(name)

        return go

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
        elif name == "tables":
            self._own_tables()
        else:
            self.open_page(name)

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
        from jartide.store.own_tables import begin_own_tables

        workspace = self.document.workspace
        if workspace is None:
            return
        try:
            path = begin_own_tables(workspace.folder)
        except JarTideError as error:
            self.document.failed.emit(str(error))
            return
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(path.parent)))
        self.told.emit(tr("steps.tables_lie", name=str(path)))

    # ---- calendar files

    def _export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, tr("steps.ics_out"), tr("steps.ics_name"), "iCalendar (*.ics)"
        )
        if name:
            self.export_calendar(Path(name))

    def export_calendar(self, path: Path) -> None:
        """Write the blocks that are still to come as a calendar."""
        from jartide.store.calendar_ics import PlannedEvent, write_calendar

        timed, finish, job = self.desk.timed(), self.document.finish, self.document.job()
        if timed.problem is None or finish is None:
            return
        time = timed.problem.timeline
        events = []
        for block in timed.blocks:
            if block.state != "planned":
                continue
            steps = self.desk.steps_of(block.task)
            ready = when_words(time.at(block.placed.ready), time.at(block.placed.end))
            events.append(
                PlannedEvent(
                    task_id=block.task.id,
                    title=f"{self._lane_name(block.task.lane)}: {coat_words(block, steps)}",
                    note=tr("steps.ics_note", when=ready, sign=self._ready_sign(steps)),
                    place="" if job is None else job.place,
                    begins=time.at(block.placed.start),
                    ends=time.at(block.placed.end),
                )
            )
        try:
            path.write_bytes(write_calendar(events, finish.name))
        except OSError as error:
            why = error.strerror or type(error).__name__
            self.document.failed.emit(tr("error.command.write", name=str(path), why=why))

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("steps.ics_in"), "", "iCalendar (*.ics)")
        if name:
            self.import_calendar(Path(name))

    def import_calendar(self, path: Path) -> None:
        """Take over events that were moved in another calendar; one undo step."""
        from jartide.plan.work import Moved
        from jartide.store.calendar_ics import read_calendar

        timed, plan = self.desk.timed(), self.desk.plan()
        if timed.problem is None or plan is None:
            return
        try:
            found = read_calendar(path.read_bytes(), path.name)
        except OSError as error:
            why = error.strerror or type(error).__name__
            self.document.failed.emit(tr("error.command.list_file", name=path.name, why=why))
            return
        except JarTideError as error:
            self.document.failed.emit(str(error))
            return
        time = timed.problem.timeline
        moved = {one.task_id: one for one in plan.moved}
        for block in timed.blocks:
            at = found.get(block.task.id)
            if at is not None and block.state == "planned" and at != time.at(block.placed.start):
                text = at.isoformat(timespec="minutes")
                moved[block.task.id] = Moved(task_id=block.task.id, at=text)
        self.desk.put(tr("undo.calendar"), steps=self.desk.steps(), moved=tuple(moved.values()))

    # ---- header and foot

    def header_state(self) -> StationState:
        name = tr("station.steps")
        if self.document.target_reading() is None:
            return StationState(name=name, note=tr("steps.none"), level=0)
        if not self.desk.is_kept():
            return StationState(name=name, note=tr("steps.proposed"), level=0.05)
        timed = self.desk.timed()
        whole = max(len(timed.blocks), 1)
        done = sum(b.state in ("done", "drying", "look") for b in timed.blocks)
        for state in ("look", "running", "drying"):
            block = next((b for b in timed.blocks if b.state == state), None)
            if block is not None:
                words = block_name(self.desk.steps_of(block.task))
                note = tr(f"steps.header.{state}", name=words)
                return StationState(name=name, note=note, level=done / whole)
        note = tr("steps.header.count", done=done, whole=whole)
        return StationState(name=name, note=note, level=done / whole)

    def foot_state(self) -> FootState:
        if self.document.target() is None:
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
        if self.document.target_reading() is None:
            return FootState(text=tr("steps.reading"))
        if not self.desk.surfaces():
            add = Action(text=tr("steps.add_surface"), run=self._to("surfaces"), primary=True)
            return FootState(
                text=tr("steps.no_surface"), note=tr("steps.no_surface_note"), actions=(add,)
            )
        timed = self.desk.timed()
        if timed.refused:
            hours = Action(text=tr("steps.to_hours"), run=self._to("hours"), primary=True)
            return FootState(text=timed.refused, sign="stop", actions=(hours,))
        look = Action(text=tr("steps.look_through"), run=self._to("plan"))
        if not self.desk.is_kept():
            take = Action(text=tr("steps.take"), run=self.desk.take_proposal, primary=True)
            return FootState(
                text=tr("steps.offer"), note=self._outlook(timed), actions=(look, take)
            )
        return self._work_foot(timed, look)

    def _work_foot(self, timed: Timed, look: Action) -> FootState:
        block = self.chosen()
        problem = timed.problem
        if block is None or problem is None:
            return FootState(text=tr("steps.all_done"), note=self._outlook(timed), actions=(look,))
        task, now = block.task, self.desk.now()
        name = block_name(self.desk.steps_of(task))
        lane = self._lane_name(task.lane)
        note = self._outlook(timed)
        if block.state == "planned":
            at = problem.timeline.at(block.placed.start)
            later = Action(
                text=tr("steps.later", count=_LATER_MIN),
                run=lambda: self.desk.later(task, at + timedelta(minutes=_LATER_MIN)),
            )
            start = Action(
                text=tr("steps.start", name=name), run=self._doing(self.desk.begin, task),
                primary=True,
            )  # fmt: skip
            text = tr("steps.can", lane=lane, name=name, when=when_words(at, now))
            waits = self._waits_for(timed, block)
            begins = () if waits else (start,)
            if waits:
                note = waits
            stops = [f for f in self._findings() if f.grade == "stop"]
            if stops:
                mend = Action(text=tr("steps.see_stop"), run=lambda: self._to_finding(stops[0]))
                return FootState(
                    text=say(stops[0].reason), note=note, sign="stop", actions=(mend, *begins)
                )
            return FootState(text=text, note=note, actions=(look, later, *begins))
        if block.state == "running":
            ends = problem.timeline.at(block.placed.end)
            undo = Action(text=tr("steps.not_begun"), run=self._doing(self.desk.undo_begin, task))
            end = Action(
                text=tr("steps.end", name=name), run=self._doing(self.desk.end, task),
                primary=True,
            )  # fmt: skip
            text = tr("steps.running", lane=lane, name=name.lower(), when=when_words(ends, now))
            return FootState(text=text, note=note, actions=(undo, end))
        if block.state == "done":
            return FootState(text=tr("steps.is_done", lane=lane, name=name), note=note,
                             actions=(look,))  # fmt: skip
        ready = Action(
            text=tr("steps.is_ready"), run=self._doing(self.desk.ready, task), primary=True
        )
        wait = Action(
            text=tr("steps.not_yet", count=_NOT_YET_MIN),
            run=self._doing(lambda t: self.desk.not_yet(t, _NOT_YET_MIN), task),
        )
        sign = self._ready_sign(self.desk.steps_of(task))
        if block.state == "look":
            text = tr("steps.look_at", lane=lane, name=name.lower(), sign=sign)
            return FootState(text=text, note=note, sign="check", actions=(wait, ready))
        dry = problem.timeline.at(block.placed.ready)
        text = tr("steps.dries", lane=lane, name=name.lower(), when=when_words(dry, now))
        return FootState(text=text, note=sign, actions=(wait, ready))

    def _doing(self, run: Callable, task) -> Callable[[], None]:
        def go() -> None:
            run(task)
            self._key = ""
            self.tick()
            self.refresh()

        return go

    def _to_finding(self, finding) -> None:
        self._care_pressed(f"finding {finding.step_id}")

    def _waits_for(self, timed: Timed, block: Block) -> str:
        """What must be through before a block can begin, in one sentence; "" for nothing."""
        own = [b for b in timed.blocks if b.task.lane == block.task.lane]
        before = own[: own.index(block)]
        before += [b for b in timed.blocks if b.task.id == block.task.after]
        waiting = [b for b in before if b.state not in ("done", "look")]
        if not waiting:
            return ""
        last = waiting[-1]
        name = coat_words(last, self.desk.steps_of(last.task))
        return tr("steps.waits", name=name, state=tr(f"steps.state.{last.state}"))

    def _outlook(self, timed: Timed) -> str:
        """When it will be done, for which air, and how near the plan is to the best there is."""
        if timed.problem is None or timed.schedule is None:
            return ""
        work = self.desk.work()
        ends = timed.problem.timeline.at(timed.schedule.finish)
        words = [tr("steps.done_by", day=day_words(ends))]
        outside = any(p.site.place == "outside" and not p.board for p in self.desk.pieces())
        if outside and not work.weather:
            return " ".join((*words, tr("steps.no_weather")))
        air = work.air
        words.append(
            tr(
                "steps.air",
                warmth=warmth_words(air.temperature_c, work.units),
                percent=f"{air.humidity_percent:.0f}",
            )
        )
        if timed.gap is not None:
            percent = round(100 * timed.gap)
            words.append(tr("steps.gap", percent=percent) if percent > 0 else tr("steps.gap_none"))
        return " ".join(words)

    # ---- layout

    def resizeEvent(self, event: QResizeEvent) -> None:
        if self._page is not None:
            self._page.setGeometry(self.rect())
        self._place()

    def _place(self) -> None:
        w, h = self.width(), self.height()
        left = w - SIDE
        # Few lanes leave room for what the chosen step is.
        lanes = self._lanes.wanted_height()
        roomy = self._lanes.isVisible() and h - lanes >= _DETAIL
        self._lanes.setGeometry(0, 0, left, lanes if roomy else h)
        self._detail.setVisible(roomy)
        self._detail.setGeometry(4, lanes + 4, left - 28, h - lanes - 12)
        self._more.move(w - 24 - self._more.width(), h - 56)
        self._side.setGeometry(left + 24, 0, SIDE - 48, min(self._side.ends_at, h - 120))
        top = self._side.ends_at + 44
        self._care.setGeometry(left + 24, top, SIDE - 48, max(h - 64 - top, 40))

    def paint(self, kit: Kit) -> None:
        w, h = self.width(), self.height()
        kit.fill(0, 0, w, h, "bench")
        if self._page is not None:
            return
        if not self._lanes.isVisible():
            y = h / 2 - 90
            kit.text(0, y, tr("steps.first_title"), 24, 600, "ink", w, "centre")
            for number in (1, 2, 3):
                y += 48 if number == 1 else 34
                kit.text(0, y, tr(f"steps.first_{number}"), 16, 400, "ink2", w, "centre")
            return
        left = w - SIDE
        kit.fill(left, 0, SIDE, h, "sheet")
        kit.upright(left, 0, h)
        top = self._side.ends_at
        kit.across(left + 24, top, SIDE - 48)
        kit.text(left + 24, top + 12, tr("steps.care"), 20, 700, "ink")
        if not self._care.cares:
            kit.text(left + 24, top + 48, tr("steps.no_care"), 15, 400, "ink2", SIDE - 48)


def say_table(text: str) -> str:
    """Return a text of a table, in the painter's language where it has words for it."""
    from jartide.wording import Message

    return say(Message(text)) if text else ""
