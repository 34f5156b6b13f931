"""Jars: one for each layer, with its mix, how close it comes, and how much of it is needed."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from jartide.app.measure import px
from jartide.app.stations.base import Station
from jartide.app.stations.jars.colours_page import ColoursPage
from jartide.app.stations.jars.film_view import HEIGHT as FILM_HEIGHT
from jartide.app.stations.jars.film_view import FilmView
from jartide.app.stations.jars.jar_shelf import LOWER, JarGround, JarShelf, shelf_height
from jartide.app.stations.jars.label_file import ask_and_write_label
from jartide.app.stations.jars.match_view import MatchView
from jartide.app.stations.jars.mix_limits import MixLimits, glaze_wishes
from jartide.app.stations.jars.opened import (
    Bench,
    films_shown,
    jar_face,
    match_shown,
    place_of,
    recipe_shown,
    tried_of,
)
from jartide.app.stations.jars.paints_page import PaintsPage
from jartide.app.stations.jars.panels import VeilPanel
from jartide.app.stations.jars.passes_box import PassesBox
from jartide.app.stations.jars.recipe_view import RecipeView
from jartide.app.stations.jars.trial_sheet import TrialSheet
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.drop_down import DropDown
from jartide.app.widgets.first_words import FirstWords
from jartide.app.widgets.flow import Flow
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import Ground, Hairline, column, row, show_only
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.tool_link import ToolLink
from jartide.errors import JarTideError
from jartide.job import shelf_work
from jartide.job.jars import JarState
from jartide.job.measured_parts import recipe_counts
from jartide.job.open_job import OpenJob
from jartide.job.shelf_files import add_starter
from jartide.job.shelf_work import Shown
from jartide.job.words.jars import UNITS, ml_words, parts_words
from jartide.paint.glaze import GlazeRecipe
from jartide.paint.recipe import Recipe
from jartide.paint.veil import find_veil
from jartide.wording import tr

# What stands over the jars, and the station's size that all is drawn for; larger ones draw larger.
_HEAD, _USUAL_H, _USUAL_W, _MOST_LARGER = 50, 660, 1280, 1.7
# What the strip of coats takes of the height there is more.
_FILM_SHARE = 0.35
# A station lower than this has its shelf pulled together.
_LOW = 700
# What lies below the first layer: a white primed board.
_BOARD = (90.0, 0.0, 3.0)
_MARGIN, _GUTTER = 24, 42
_LIGHTS = 176


class JarsStation(Station):
    """Shows the jars of the open finish, or the painter's paints."""

    name = "jars"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._chosen, self._layer = "", ""
        self._candidate = -1
        self._said = ""
        self._progress: float | None = None
        self._veil_L: float | None = None
        self._states: list[JarState] = []
        self._shelf = JarShelf(self)
        self._shelf.chosen.connect(self.choose)
        self._recipe = RecipeView(self)
        self._match = MatchView(self)
        self._match.picked.connect(self._pick)
        self._film = FilmView(self)
        self._seen = DropDown(self)
        self._seen.setAccessibleName(tr("jars.seen"))
        self._seen.setFixedWidth(px(_LIGHTS))
        self.limits = MixLimits(self)
        self.limits.changed.connect(self._limits_changed)
        self._units = DropDown(self)
        self._units.setAccessibleName(tr("jars.units"))
        fill_list(self._units, [(tr(f"units.{word}"), word) for word in UNITS], "ml")
        self._units.activated.connect(self._units_chosen)
        self.passes = PassesBox(job, self)
        self.passes.turned.connect(self.refresh)
        self._veil = VeilPanel(self)
        self._veil.wanted.connect(self._veil_wanted)
        self._veil_link = ToolLink(tr("veil.open"), self)
        self._veil_link.clicked.connect(lambda _: self.refresh())
        self.trial = TrialSheet(job, self)
        self.paints = PaintsPage(job, self)
        self.paints.foot_changed.connect(self.foot_changed)
        self.paints.closed.connect(self._close_paints)
        self.paints.hide()
        self.colours = ColoursPage(job, self)
        self.colours.foot_changed.connect(self.foot_changed)
        self.colours.closed.connect(self._close_colours)
        self.colours.hide()
        self._others = Button(tr("jars.others"), self)
        self._others.clicked.connect(lambda _=False: self.open_colours())
        self._fill_seen()
        self._lay_out()
        self._seen.activated.connect(lambda _: self.refresh())
        self.job.events.worked_out.connect(self._ready)
        self.job.shelf.progressed.connect(self._progressed)
        self.job.shelf.refused.connect(self._say)
        job.events.changed.connect(self._changed)
        job.events.reading_ready.connect(lambda _: self.refresh())

    def _fill_seen(self) -> None:
        words = ("dry", "wet", "matt", "satin", "gloss")
        fill_list(self._seen, [(tr(f"seen.{word}"), word) for word in words], "dry")

    # ---- following the document

    def enter(self) -> None:
        self._said = ""
        self._candidate = -1
        workspace = self.job.workspace
        if workspace is not None:
            place = self._units.findData(workspace.preference("units", "ml"))
            self._units.setCurrentIndex(max(place, 0))
        self.job.readings.want_target()
        self.refresh()

    def _changed(self) -> None:
        self._said = ""
        self.refresh()

    def _ready(self) -> None:
        self._progress = None
        self.refresh()

    def _progressed(self, fraction: float) -> None:
        self._progress = fraction if fraction < 1 else None
        self.foot_changed.emit()

    def _say(self, sentence: str) -> None:
        self._said = sentence
        self.foot_changed.emit()

    def choose(self, key: str) -> None:
        """Open a jar by its id."""
        self._chosen, self._candidate, self._veil_L = key, -1, None
        self.limits.open_jar(key)
        self.passes.first()
        self.trial.hide()
        self.refresh()

    def step_on(self, by: int) -> None:
        if self.paints.isVisible():
            self.paints.step_on(by)
            return
        keys = [state.mix.id for state in self._states]
        if self._chosen in keys:
            self.choose(keys[(keys.index(self._chosen) + by) % len(keys)])

    def print_now(self) -> bool:
        state = self.current()
        if state is None or not state.mix.parts:
            return False
        self._print_label()
        return True

    def current(self) -> JarState | None:
        """Return the jar that is open."""
        return next((s for s in self._states if s.mix.id == self._chosen), None)

    def candidates(self, of: JarState | None = None) -> tuple[Recipe | GlazeRecipe, ...] | None:
        """Return the mixes or glazes offered for a jar, else for the open one, furthest first.

        None while looking.
        """
        state = of or self.current()
        if state is None or state.mix.target is None:
            return ()
        wishes = self.limits.wishes(self.job.shelf.work(), self.job.records.tins())
        if wishes.paints is not None and not wishes.paints:
            return ()
        way = self.limits.way(state)
        found: tuple | None
        if way == "mix":
            found = self.job.shelf.candidates(state.mix.target, wishes)
        else:
            found = self.job.shelf.glazes(
                state.below or _BOARD, state.mix.target, glaze_wishes(wishes, way)
            )
        return None if found is None else tuple(sorted(found, key=lambda one: -one.de00))

    def refresh(self) -> None:
        if not self.isVisible() or self.job.finish is None:
            return
        if self.paints.isVisible():
            self.paints.refresh()
        if self.colours.isVisible():
            self.colours.show_now()
            self.foot_changed.emit()
            return
        self._states = self.job.jars.states()
        if self.current() is None:
            # A jar that was saved for the first time has a new id: its layer's stays open.
            own = [s for s in self._states if self._layer and s.mix.layer == self._layer]
            self._chosen = next((s.mix.id for s in (*own, *self._states)), "")
        state = self.current()
        self._layer = "" if state is None else state.mix.layer
        self.limits.open_jar(self._chosen)
        is_worked_out = self.job.shelf.work() is not None
        faces = [jar_face(state, is_worked_out) for state in self._states]
        self._shelf.show_jars(faces, self._chosen)
        self._show_opened()
        self.foot_changed.emit()
        self.update()

    # ---- showing

    def _show_opened(self) -> None:
        state = self.current()
        opened = state is not None
        self._opened.setVisible(opened)
        self._first.setVisible(not opened)
        limits = (self.limits.paints, self.limits.parts, self.limits.tins, self.limits.how)
        passes = (self.passes.panel, self.passes.list)
        shown = (self._recipe, self._match, self._film, self._seen, self._units, self._veil_link)
        for widget in (*shown, *limits, *passes):
            widget.setVisible(opened)
        self._veil.setVisible(opened and self._veil_link.isChecked())
        if state is None:
            self.trial.hide()
            return
        bench = Bench(
            work=self.job.shelf.work(),
            tins=self.job.records.tins(),
            found=self.candidates(),
            units=self._units.currentData(),
        )
        tried = self._tried(state, bench.found)
        chosen = place_of(state, bench, self._candidate)
        self.limits.show_way(state)
        seen_as = self._seen.currentData() or "dry"
        self._match.show_match(match_shown(state, bench, tried, chosen, seen_as))
        recipe = recipe_shown(state, bench, tried)
        self._recipe.show_recipe(recipe)
        used = [row.name for row in recipe.rows]
        self.limits.offer_tins(self.job.records.tins(), used)
        self._film.show_films(films_shown(state, self._films_of(state, tried)))
        self.passes.show_state(state)
        self._show_veil(state)
        if not self.trial.isHidden():
            self._recipe.hide()
            self._units.hide()
            self.limits.how.hide()
            self.trial.show_state(state)

    def _films_of(self, state: JarState, tried: Recipe | GlazeRecipe | None) -> Shown | None:
        """Return how the jar's coats look, or those of the mix that is looked at."""
        if tried is None or self.job.shelf.work() is None:
            return state.shown
        return self.job.shelf.shown(self.job.shelf.filled(state.mix, tried), state.below)

    def _units_chosen(self) -> None:
        self.job.records.set_preference("units", self._units.currentData())

    def _tried(self, state: JarState, found: tuple | None) -> Recipe | GlazeRecipe | None:
        return tried_of(state, found, self._candidate)

    def _show_veil(self, state: JarState) -> None:
        ground = self._states[0] if self._states else None
        own, base = state.mix.target, None if ground is None else ground.mix.target
        can = (
            ground is not None and ground is not state and own is not None and base is not None
            and bool(ground.mix.parts) and abs(own[0] - base[0]) >= 4
        )  # fmt: skip
        self._veil_link.setVisible(can)
        if not can or not self._veil_link.isChecked():
            self._veil.hide()
            return
        assert ground is not None and own is not None and base is not None
        self._film.hide()
        work = self.job.shelf.work()
        parts = None if work is None else shelf_work.parts_of(work, ground.mix)
        now = abs(own[0] - base[0])
        wanted = self._veil_L if self._veil_L is not None else round(now * 0.65)
        veils: tuple = ()
        if work is not None and parts:
            try:
                veils = find_veil(work.fitted, parts, own, base, wanted)
            except JarTideError as error:
                self._said = str(error)
        words = parts_words(recipe_counts(ground.mix.parts))
        self._veil.show_veils(state.mix.name, now, wanted, words, veils)
        self._veil.show()
        self.passes.panel.hide()
        self.passes.list.hide()

    # ---- doing

    def _pick(self, number: int) -> None:
        self._candidate = number
        self.refresh()

    def _limits_changed(self) -> None:
        self._candidate = -1
        self.refresh()

    def _take(self) -> None:
        state, found = self.current(), self.candidates()
        if state is None or not found:
            return
        tried = self._tried(state, found)
        if tried is not None:
            self._candidate = -1
            self.limits.forget_way()
            # What the old mix read stays: it goes on teaching what its paints do.
            self.job.jars.take(replace(state.mix, mixed_ml=0.0, left_ml=None), tried)
            self.refresh()

    def best_of_each(self) -> dict[str, Recipe | GlazeRecipe]:
        """Return the nearest mix of every jar that has none yet, by the jar's id."""
        found = {}
        for state in self._states:
            if not state.mix.parts and state.mix.target is not None:
                offered = self.candidates(state)
                if offered:
                    found[state.mix.id] = offered[-1]
        return found

    def take_best(self) -> None:
        """Take the nearest mix for every jar that has none yet."""
        best = self.best_of_each()
        for state in tuple(self._states):
            if state.mix.id in best:
                self.job.jars.take(state.mix, best[state.mix.id])
        self._candidate = -1
        self.refresh()

    def _mixed(self) -> None:
        state = self.current()
        if state is not None and state.mix.parts and state.left_ml >= 1:
            self.job.jars.mixed(state.mix, state.left_ml)

    def _veil_wanted(self, contrast: float) -> None:
        self._veil_L = contrast
        self.refresh()

    def _open_trial(self) -> None:
        self.trial.show()
        self.refresh()

    def _close_trial(self) -> None:
        self.trial.hide()
        self.refresh()

    def _open_paints(self) -> None:
        state = self.current()
        if state is not None and state.mix.target is not None:
            self.paints.judged_for = (state.mix.name, state.mix.target)
        show_only(self.paints, self._bench, self.colours)
        self.paints.enter()
        self.foot_changed.emit()

    def _close_paints(self) -> None:
        show_only(self._bench, self.paints)
        self.refresh()

    def open_colours(self) -> None:
        """Show the colours that are no layer's."""
        show_only(self.colours, self._bench, self.paints)
        self.colours.show_now()

    def _close_colours(self) -> None:
        show_only(self._bench, self.colours)
        self.refresh()

    def _print_label(self) -> None:
        state = self.current()
        if state is not None:
            ask_and_write_label(self, self.job, state)

    def escape(self) -> bool:
        if self.paints.isVisible():
            if not self.paints.escape():
                self._close_paints()
            return True
        if self.colours.isVisible():
            if not self.colours.escape():
                self._close_colours()
            return True
        if self.trial.isVisible():
            self._close_trial()
            return True
        if self._said or self._candidate >= 0:
            self._said, self._candidate = "", -1
            self.refresh()
            return True
        return False

    # ---- header and foot

    def help_key(self) -> str:
        away = self.paints.isVisible() or self.colours.isVisible()
        return "paints" if away else self.name

    def foot_state(self) -> FootState:
        if self.paints.isVisible():
            return self.paints.foot_state()
        if self.colours.isVisible():
            return self.colours.foot_state()
        my_paints = Action(text=tr("jars.my_paints"), run=self._open_paints)
        if self._said:
            return FootState(text=self._said, sign="stop", actions=(my_paints,))
        if not self._states:
            go = Action(
                text=tr("jars.go_reading"),
                run=lambda: self.station_wanted.emit("reading"),
                primary=True,
            )
            return FootState(text=tr("jars.no_layers"), note=tr("jars.no_layers_note"),
                             actions=(my_paints, go))  # fmt: skip
        if not any(tin.masstone is not None for tin in self.job.records.tins()):
            starter = Action(
                text=tr("jars.take_starter"),
                run=lambda: add_starter(self.job.shelf),
                primary=True,
            )
            return FootState(text=tr("jars.no_colours"), note=tr("jars.starter_note"),
                             actions=(my_paints, starter))  # fmt: skip
        if self.job.shelf.is_fitting():
            return FootState(
                text=tr("jars.fitting"),
                progress=self._progress or 0.02,
                actions=(
                    my_paints,
                    Action(text=tr("foot.stop"), run=self.job.shelf.stop_fitting, primary=True),
                ),
            )
        state, found = self.current(), self.candidates()
        done = sum(1 for s in self._states if s.mix.mixed_ml > 0)
        text = tr("jars.done", done=done, all=len(self._states))
        missing = self.job.jars.to_buy()
        if missing:
            bought = ", ".join(f"{name} {ml_words(ml)}" for name, ml in missing[:3])
            text = f"{text} {tr('jars.to_buy', paints=bought)}"
        actions = [my_paints]
        if state is not None and state.mix.parts:
            actions.append(Action(text=tr("jars.print_label"), run=self._print_label))
        note = ""
        if state is not None and self._tried(state, found) is not None:
            # Nobody has looked at others yet: all jars can be filled at once.
            all_at_once = self._candidate < 0 and len(self.best_of_each()) > 1
            actions.append(Action(text=tr("jars.take"), run=self._take, primary=not all_at_once))
            note = tr("jars.take_note")
            if all_at_once:
                best = Action(text=tr("jars.take_best"), run=self.take_best, primary=True)
                actions.append(best)
                note = tr("jars.take_best_note")
        elif (
            state is not None
            and state.mix.parts
            and state.left_ml >= 1
            and not (self.trial.isVisible())
        ):
            if state.mix.mixed_ml:
                actions.append(Action(text=tr("jars.read_jar"), run=self._open_trial))
            actions.append(Action(text=tr("jars.is_mixed"), run=self._mixed, primary=True))
            note = tr("jars.is_mixed_note", name=state.mix.name,
                      ml=ml_words(state.left_ml))  # fmt: skip
        elif state is not None and state.mix.parts and not self.trial.isVisible():
            actions.append(Action(text=tr("jars.read_jar"), run=self._open_trial, primary=True))
            note = tr("jars.read_jar_note")
        elif state is not None and self.trial.isVisible():
            actions.append(Action(text=tr("trial.close"), run=self._close_trial, primary=True))
        return FootState(text=text, note=note, actions=tuple(actions))

    # ---- layout

    def _lay_out(self) -> None:
        head = row(margins=(0, 0, 24, 0))
        head.addWidget(Heading(tr("jars.title"), 20, 600, tr("jars.subtitle")), 1)
        head.addWidget(self._others)
        self._ground = JarGround()
        standing = column(self._ground, (_MARGIN, 6, 0, 0))
        standing.addLayout(head)
        standing.addStretch(1)
        standing.addWidget(self._shelf)

        recipe = column()
        recipe.addWidget(self._recipe, 1)
        recipe.addWidget(self.trial, 1)
        recipe.addLayout(_together(self.limits.how, self._units))
        match = column()
        match.addWidget(self._match, 1)
        match.addLayout(_together(self.limits.paints, self.limits.parts, self.limits.tins))
        # The list of lights stands in the line of the colours' names.
        over = column(self._match)
        over.addWidget(self._seen, 0, Qt.AlignmentFlag.AlignRight)
        over.addStretch(1)
        coats = column()
        coats.addWidget(self._film, 1)
        coats.addLayout(_together(self._veil_link, self.passes.list))
        coats.addSpacing(px(8))
        coats.addWidget(self.passes.panel)
        coats.addWidget(self._veil)

        self._opened = QWidget()
        columns = row(self._opened, (_MARGIN, 14, _MARGIN, 10), _GUTTER // 2)
        for number, part in enumerate((recipe, match, coats)):
            if number:
                columns.addWidget(Hairline(upright=True))
            columns.addLayout(part, 1)
        words = [tr(f"jars.first_{number}") for number in (1, 2, 3)]
        self._first = FirstWords("", words)
        self._bench = Ground("sheet")
        bench = column(self._bench)
        bench.addWidget(self._ground)
        bench.addWidget(self._opened, 1)
        bench.addWidget(self._first, 1)
        whole = column(self)
        for page in (self._bench, self.paints, self.colours):
            whole.addWidget(page, 1)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def _larger(self) -> float:
        """How many times as large jars and colours are drawn: a large screen shows them larger."""
        most = min(self.room_high / _USUAL_H, self.wide / _USUAL_W)
        return min(max(most, 1.0), _MOST_LARGER)

    def _fit(self) -> None:
        larger = self._larger()
        # A low window has lower jars.
        lower = LOWER if self.room_high < _LOW else 0
        self._shelf.draw_larger(larger, lower)
        self._ground.draw_larger(larger)
        self._ground.setFixedHeight(px(_HEAD + shelf_height(larger, lower)))
        film = FILM_HEIGHT + max(0, round((self.room_high - _USUAL_H) * _FILM_SHARE))
        self._film.setMaximumHeight(px(film))


def _together(*widgets: QWidget) -> Flow:
    """Lists and links in a line, in two where it is too short."""
    line = Flow(gap=8)
    for widget in widgets:
        widget.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        line.addWidget(widget)
    return line
