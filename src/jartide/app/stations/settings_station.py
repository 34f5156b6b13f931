"""Settings: how it looks and speaks, what new work begins with, and where it is kept."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QLineEdit, QWidget

from jartide import __version__
from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.stations.base import Station
from jartide.app.stations.page import Side
from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.control_column import ControlColumn, fill_list, number, put_text
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import row
from jartide.app.widgets.painted import current_theme, keep_still
from jartide.devices.registry import Kind
from jartide.errors import JarTideError
from jartide.figures import plain_figure
from jartide.job.defaults import keep_defaults, read_defaults
from jartide.job.open_job import OpenJob
from jartide.job.outside_devices import is_demo, stand_ins, switch_stand_in
from jartide.log_file import log_path, shown_path
from jartide.store.app_settings import TEXT_SCALES, AppSettings, read_settings, write_settings
from jartide.store.menu_entry import command_line, data_folder, install_desktop
from jartide.wording import languages, tr

_COLUMN, _GAP = 360, 56
_BENCHES = ("day", "night")
_PAPERS = ("A4", "A5", "Letter")
_UNITS = ("metric", "us")


class SettingsStation(Station):
    """Three columns; everything is kept as it is changed."""

    left = Signal()
    bench_switched = Signal()
    restart_wanted = Signal()
    place_wanted = Signal(str)  # folder of another workspace

    name = "settings"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._begun: AppSettings | None = None  # as they were when the window was opened
        makers = (self._make_look, self._make_work, self._make_place)
        self._groups = [Side(make) for make in makers]
        columns = row(self, (24, 20, 24, 24), _GAP)
        for group in self._groups:
            group.setMaximumWidth(px(_COLUMN))
            columns.addWidget(group, 4)
        columns.addStretch(1)

    # ---- making

    def _make_look(self, column: ControlColumn) -> None:
        column.words(tr("settings.look"), 20, 700)
        column.words(tr("settings.bench"), 15, 600)
        self.bench = ChoiceRow([tr(f"bench.{b}") for b in _BENCHES], tr("settings.bench"), column)
        self.bench.chosen.connect(self._bench_chosen)
        column.column.addWidget(self.bench)
        column.words(tr("settings.text"), 15, 600)
        scales = [f"{scale} %" for scale in TEXT_SCALES]
        self.text = ChoiceRow(scales, tr("settings.text"), column)
        self.text.chosen.connect(lambda n: self.keep(text_scale=TEXT_SCALES[n]))
        column.column.addWidget(self.text)
        column.words(tr("settings.text_note"))
        column.words(tr("settings.language"), 15, 600)
        self.language = column.list(tr("settings.language"), self._language_chosen)
        fill_list(self.language, [(tr(f"language.{name}"), name) for name in languages()], "en")
        self.motion = column.tick(tr("settings.motion"), self._motion_ticked)
        self.again = column.button(tr("settings.again"), self.restart_wanted.emit)

    def _make_work(self, column: ControlColumn) -> None:
        column.words(tr("settings.work"), 20, 700)
        column.words(tr("settings.work_note"))
        column.words(tr("settings.units"), 15, 600)
        self.units = ChoiceRow(
            [tr(f"settings.units.{u}") for u in _UNITS], tr("settings.units"), column
        )
        self.units.chosen.connect(lambda n: self._prefer(units=_UNITS[n]))
        column.column.addWidget(self.units)
        column.words(tr("settings.paper"), 15, 600)
        self.paper = ChoiceRow(list(_PAPERS), tr("settings.paper"), column)
        self.paper.chosen.connect(self._paper_chosen)
        column.column.addWidget(self.paper)
        self.currency, self.viewing, self.tolerance = column.fields(
            tr("settings.currency"),
            tr("settings.viewing"),
            tr("settings.tolerance"),
            edited=self._fields_edited,
        )
        column.words(tr("settings.tolerance_note"))
        column.words(tr("settings.program"), 20, 700)
        column.words(tr("settings.version", version=__version__))
        column.words(tr("settings.log", path=shown_path(log_path())))
        self.menu = column.button(tr("settings.menu"), self._put_into_menu)
        column.words(tr("settings.menu_note"))

    def _make_place(self, column: ControlColumn) -> None:
        column.words(tr("settings.place"), 20, 700)
        self.place = column.words("")
        column.button(tr("settings.other_place"), self._ask_place)
        self.usual = column.button(tr("settings.usual_place"), lambda: self.place_wanted.emit(""))
        column.words(tr("settings.place_note"))
        column.words(tr("settings.stand_ins"), 20, 700)
        self.stand_ins = {
            kind: column.tick(tr(f"device.{kind.value}"), self._switch_of(kind)) for kind in Kind
        }
        self._stand_in_note = column.words(tr("settings.stand_ins_note"))

    # ---- showing

    def enter(self) -> None:
        if self._begun is None:
            self._begun = read_settings()
        super().enter()

    def refresh(self) -> None:
        workspace = self.job.workspace
        if workspace is None or not self.isVisible():
            return
        kept = read_settings()
        self.bench.show_index(_BENCHES.index(current_theme().name))
        self.text.show_index(TEXT_SCALES.index(kept.text_scale))
        self.language.setCurrentIndex(max(self.language.findData(kept.language), 0))
        self.motion.setChecked(kept.reduced_motion)
        self.again.setVisible(self._needs_restart(kept))
        found = read_defaults(workspace)
        self.units.show_index(_UNITS.index(found.units))
        sheet = workspace.preference("sheet")
        paper = sheet.get("paper") if isinstance(sheet, dict) else None
        self.paper.show_index(_PAPERS.index(paper) if paper in _PAPERS else 0)
        on = stand_ins(workspace)
        for kind, tick in self.stand_ins.items():
            tick.setChecked(kind in on)
            tick.setEnabled(not is_demo(workspace))
        demo = "settings.stand_ins_demo" if is_demo(workspace) else "settings.stand_ins_note"
        self._stand_in_note.setText(tr(demo))
        _put(self.currency, found.currency)
        _put(self.viewing, plain_figure(found.viewing_m))
        _put(self.tolerance, plain_figure(found.tolerance))
        self.place.setText(str(workspace.folder))
        self.usual.setVisible(bool(kept.workspace))
        self.foot_changed.emit()

    def _needs_restart(self, kept: AppSettings) -> bool:
        begun = self._begun
        return begun is not None and (kept.text_scale, kept.language) != (
            begun.text_scale,
            begun.language,
        )

    # ---- keeping

    def keep(self, **changed: Any) -> None:
        try:
            write_settings(replace(read_settings(), **changed))
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
        self.refresh()

    def _prefer(self, **changed: Any) -> None:
        workspace = self.job.workspace
        if workspace is not None:
            keep_defaults(self.job.records, replace(read_defaults(workspace), **changed))
            self.refresh()

    def _bench_chosen(self, index: int) -> None:
        if _BENCHES[index] != current_theme().name:
            self.bench_switched.emit()

    def _language_chosen(self) -> None:
        self.keep(language=self.language.currentData())

    def _motion_ticked(self, on: bool) -> None:
        keep_still(on)
        self.keep(reduced_motion=on)

    def _switch_of(self, kind: Kind) -> Callable[[bool], None]:
        def ticked(on: bool) -> None:
            if self.job.workspace is not None and not is_demo(self.job.workspace):
                switch_stand_in(self.job.records, kind, on)

        return ticked

    def _paper_chosen(self, index: int) -> None:
        workspace = self.job.workspace
        if workspace is not None:
            kept = workspace.preference("sheet")
            kept = dict(kept) if isinstance(kept, dict) else {}
            self.job.records.set_preference("sheet", {**kept, "paper": _PAPERS[index]})

    def _fields_edited(self) -> None:
        viewing, tolerance = number(self.viewing.text()), number(self.tolerance.text())
        changed: dict[str, Any] = {"currency": self.currency.text().strip()[:6]}
        if viewing is not None and 0.3 <= viewing <= 50:
            changed["viewing_m"] = viewing
        else:
            self.job.events.failed.emit(tr("error.settings.viewing"))
        if tolerance is not None and 0.5 <= tolerance <= 20:
            changed["tolerance"] = tolerance
        else:
            self.job.events.failed.emit(tr("error.settings.tolerance"))
        self._prefer(**changed)

    def _put_into_menu(self) -> None:
        try:
            install_desktop(data_folder(), command_line())
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
        else:
            self.job.events.told.emit(tr("settings.in_menu"))

    def _ask_place(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, tr("settings.other_place"))
        if folder:
            self.place_wanted.emit(folder)

    # ---- header, foot, layout

    def foot_state(self) -> FootState:
        back = Action(text=tr("help.back"), run=self.left.emit, primary=True)
        return FootState(text=tr("settings.foot"), note=tr("settings.note"), actions=(back,))

    def escape(self) -> bool:
        self.left.emit()
        return True

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")


def _put(field: QLineEdit, text: str) -> None:
    if not field.hasFocus():
        put_text(field, text)
