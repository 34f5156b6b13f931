"""Colours that are no layer's: typed in, or out of a palette or list, each with its own jar."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.app.stations.page import Side, StationPage
from jartide.app.widgets.control_column import fill_list, number
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.colour.spaces import srgb_hex
from jartide.colour.words import Lab
from jartide.errors import CommandError, JarTideError
from jartide.job.open_job import OpenJob
from jartide.job.words.layers import lab_words
from jartide.job.words.numbers import lab_text
from jartide.store.jar_records import Mix
from jartide.store.lab_lists import Columns, columns_of, read_lab_list, usual_columns
from jartide.store.palettes import Swatch, read_palette
from jartide.wording import tr

_AXES = ("name", "lightness", "a", "b")
_MOST = 200


class ColoursPage(StationPage):
    """Lists the colours of a file that was opened, else the jars that stand for no layer."""

    closed = Signal()
    name = "colours"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self._job = job
        self._file = ""
        self._text = ""  # of a list, whose columns the painter names
        self._found: tuple[Swatch, ...] = ()
        self._index = -1
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.colours"), self)
        self._ledger.chosen.connect(self._row_chosen)
        self.lay_out(self._ledger)

    def build_side(self, side: Side) -> None:
        side.words(tr("colours.from_file"), 15, 600)
        side.button(tr("colours.open"), self._ask_file)
        with side.group() as self._mapping:
            side.words(tr("colours.columns"))
            self._columns = {}
            for axis in _AXES:
                side.words(tr(f"colours.column.{axis}"), 14)
                made = side.list(tr(f"colours.column.{axis}"), self._read_list)
                self._columns[axis] = made
            self._d50 = side.tick(tr("colours.d50"), lambda _: self._read_list())
        self._mapping.hide()
        side.words(tr("colours.typed"), 15, 600)
        self._typed_name = side.fields(tr("colours.name"))[0]
        self._typed = side.fields("L", "a", "b")
        side.button(tr("colours.add"), self._add_typed)

    @property
    def rows(self) -> list[LedgerRow]:
        """What is shown."""
        return self._ledger.rows

    # ---- showing

    def show_now(self) -> None:
        self._mapping.setVisible(bool(self._text))
        if self._file:
            rows = [_row(one.name, one.lab) for one in self._found]
            self._ledger.show_rows(rows, self._index, tr("colours.nothing"))
        else:
            rows = [_row(mix.name, mix.target) for mix in self._own_jars()]
            self._index = min(self._index, len(rows) - 1)
            self._ledger.show_rows(rows, self._index, tr("colours.none"))
        self.foot_changed.emit()
        self.update()

    def _own_jars(self) -> list[Mix]:
        return [mix for mix in self._job.records.mixes() if not mix.layer]

    def _row_chosen(self, index: int) -> None:
        self._index = index
        self.foot_changed.emit()

    # ---- out of a file

    def _ask_file(self) -> None:
        kinds = f"{tr('colours.files')} (*.gpl *.ase *.csv *.txt)"
        name, _ = QFileDialog.getOpenFileName(self, tr("colours.open"), "", kinds)
        if name:
            self.open_file(Path(name))

    def open_file(self, path: Path) -> None:
        """Show the colours of a palette, or of a list once its columns are known."""
        self.try_to(lambda: self._open(path))

    def _open(self, path: Path) -> None:
        try:
            data = path.read_bytes()
        except OSError as error:
            why = error.strerror or type(error).__name__
            raise CommandError("error.command.list_file", name=path.name, why=why) from error
        if path.suffix.lower() not in (".csv", ".txt"):
            self._found, self._file, self._text = read_palette(data, path.name), path.name, ""
        else:
            text = data.decode("utf-8-sig", errors="replace")
            headings = columns_of(text)
            guess = usual_columns(headings)
            entries: list[tuple[str, object]] = [(tr("colours.no_column"), "")]
            entries += [(heading, heading) for heading in headings]
            for axis, made in self._columns.items():
                fill_list(made, entries, getattr(guess, axis))
            self._found, self._file, self._text = (), path.name, text
            if guess.lightness and guess.a and guess.b:
                self._read_list()
        self._index = -1
        self.show_now()

    def choose_column(self, axis: str, heading: str) -> None:
        """Say which column of the open list is what: name, lightness, a or b."""
        made = self._columns[axis]
        made.setCurrentIndex(made.findData(heading))
        self._read_list()

    def _read_list(self) -> None:
        chosen = {axis: made.currentData() or "" for axis, made in self._columns.items()}
        self._found = ()
        if all(chosen[axis] for axis in _AXES[1:]):
            columns = Columns(
                name=chosen["name"],
                lightness=chosen["lightness"],
                a=chosen["a"],
                b=chosen["b"],
                d50=self._d50.isChecked(),
            )
            try:
                self._found = read_lab_list(self._text, self._file, columns)
            except JarTideError as error:
                self.job.events.failed.emit(str(error))
        self.show_now()

    def make_jars(self) -> None:
        """Give every colour of the file a jar of its own, or the chosen one alone."""
        found = self._found if self._index < 0 else (self._found[self._index],)
        self._put(found[:_MOST])
        self.close_file()

    def close_file(self) -> None:
        """Show the jars again."""
        self._found, self._file, self._text, self._index = (), "", "", -1
        self.show_now()

    # ---- typed

    def _add_typed(self) -> None:
        values = [number(field.text()) for field in self._typed]
        lightness, a, b = values
        if lightness is None or a is None or b is None or not _is_colour(lightness, a, b):
            self.job.events.failed.emit(tr("error.colours.typed"))
            return
        name = self._typed_name.text().strip() or tr("colours.unnamed")
        self._put((Swatch(name=name, lab=(lightness, a, b)),))
        for field in (self._typed_name, *self._typed):
            field.clear()
        self.show_now()

    def _put(self, swatches: tuple[Swatch, ...]) -> None:
        finish = self.job.finish
        if finish is None or not swatches:
            return
        at = max((mix.position for mix in self._job.records.mixes()), default=-1) + 1
        jars = [
            Mix(finish_id=finish.id, name=one.name[:60], target=one.lab, position=at + n)
            for n, one in enumerate(swatches)
        ]
        self.job.records.add(tr("undo.colours"), *jars)

    def _remove(self) -> None:
        jars = self._own_jars()
        if 0 <= self._index < len(jars):
            jar = jars[self._index]
            self.job.records.remove(tr("undo.removed", name=jar.name), jar)
            self.show_now()

    # ---- foot

    def foot_state(self) -> FootState:
        """Return what the foot says while the page is open."""
        if self._file:
            text = tr("colours.found", count=len(self._found), file=self._file)
            leave = Action(text=tr("foot.leave"), run=self.close_file)
            make = Action(
                text=tr("colours.make" if self._index < 0 else "colours.make_one"),
                run=self.make_jars,
                primary=True,
                enabled=bool(self._found),
            )
            return FootState(text=text, note=tr("colours.found_note"), actions=(leave, make))
        close = Action(text=tr("colours.close"), run=self.closed.emit, primary=True)
        actions: tuple[Action, ...] = (close,)
        if self._index >= 0:
            actions = (Action(text=tr("colours.remove"), run=self._remove), close)
        count = len(self._own_jars())
        return FootState(text=tr("colours.own", count=count), actions=actions)

    def escape(self) -> bool:
        """Close the file that is open; False when there is none."""
        if self._file:
            self.close_file()
            return True
        return False


def _is_colour(lightness: float, a: float, b: float) -> bool:
    return 0 <= lightness <= 100 and max(abs(a), abs(b)) <= 150


def _row(name: str, lab: Lab | None) -> LedgerRow:
    if lab is None:
        return LedgerRow(title=name)
    values = lab_text(lab)
    return LedgerRow(title=name, note=lab_words(lab), right=values, chips=(QColor(srgb_hex(lab)),))
