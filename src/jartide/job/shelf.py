"""The painter's shelf: its fit kept up to date, and what is found on it in the background."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from jartide.colour.words import Lab
from jartide.errors import JarTideError
from jartide.job import shelf_work
from jartide.job.events import Event
from jartide.job.kept import Kept
from jartide.job.measured_parts import jar_parts
from jartide.job.outside_devices import is_demo
from jartide.job.records import Records
from jartide.job.runner import Progress, Runner
from jartide.job.shelf_work import ShelfWork, Shown
from jartide.paint.correct import Correction
from jartide.paint.glaze import GlazeRecipe, GlazeWishes
from jartide.paint.judge import TinVerdict, judge_tin
from jartide.paint.recipe import Recipe, Wishes
from jartide.store.jar_records import Mix, Tin
from jartide.wording import tr


class Shelf:
    """Keeps the fit of the shelf up to date and finds mixes in the background.

    Attributes
    ----------
    progressed : fraction of the fit that is done
    refused : one sentence, why something can't be had
    """

    def __init__(self, records: Records, kept: Kept, runner: Runner) -> None:
        self.records = records
        self._kept, self._runner = kept, runner
        self.progressed, self.refused = Event(), Event()
        self._key: tuple | None = None
        self._work: tuple[Any, ShelfWork | None] | None = None
        self._fitting: Any = None
        self._shown = kept.table("jar shown")
        records.events.opened.connect(self._forget)
        records.events.changed.connect(self._forget)

    def _forget(self) -> None:
        self._key = None

    def tins(self) -> list[Tin]:
        """Return everything on the shelf."""
        return self.records.tins()

    def tin_names(self) -> dict[str, str]:
        """Return the names of all tins by their id."""
        return {tin.id: tin.name for tin in self.tins()}

    # ---- the fit

    def key(self) -> tuple:
        """Return what the fit depends on."""
        if self._key is None:
            self._key = tuple(
                (t.id, t.name, t.opacity, t.swatches, t.stock.kind) for t in self.tins() if t.owned
            )
        return self._key

    def work(self) -> ShelfWork | None:
        """Return the fitted shelf as it is now, or None until `worked_out`."""
        key = self.key()
        if self._work is not None and self._work[0] == key:
            return self._work[1]
        if self._fitting != key:
            self._fit(key)
        return None if self._work is None or self._work[0] != key else self._work[1]

    def _fit(self, key: tuple) -> None:
        self._fitting = key
        tins, made_up = tuple(self.tins()), is_demo(self.records.workspace)

        def returned(made: ShelfWork | None) -> None:
            self._work, self._fitting = (key, made), None
            self._kept.computed["shelf"] += 1
            self.records.events.worked_out.emit()

        def failed(error: Exception) -> None:
            # Not tried again until the shelf changes.
            self._work, self._fitting = (key, None), None
            self._say(error)
            self.records.events.worked_out.emit()

        self._runner.start(
            "shelf",
            lambda progress: shelf_work.fit(tins, progress, made_up=made_up),
            returned=returned,
            failed=failed,
            progressed=self.progressed.emit,
            first=True,
        )

    def is_fitting(self) -> bool:
        """Whether the shelf is being worked out."""
        return self._fitting is not None

    def stop_fitting(self) -> None:
        """Leave the shelf as it is until it changes again."""
        if self._fitting is not None:
            self._runner.stop("shelf")
            self._work, self._fitting = (self._fitting, None), None
            self.records.events.worked_out.emit()

    # ---- what is found on it

    def candidates(self, target: Lab, wishes: Wishes) -> tuple[Recipe, ...] | None:
        """Return mixes for a colour; None until `worked_out`."""
        mixes = tuple(self.records.mixes())
        return self._looked_up(
            ("mix", target, wishes, _taught(mixes)),
            lambda work: shelf_work.find(work, target, wishes, shelf_work.trials_of(work, mixes)),
        )

    def glazes(self, base: Lab, target: Lab, wishes: GlazeWishes) -> tuple[GlazeRecipe, ...] | None:
        """Return glazes over a ground for a colour; None until `worked_out`."""
        return self._looked_up(
            ("glaze", base, target, wishes),
            lambda work: shelf_work.find_glaze(work, base, target, wishes),
        )

    def corrections(self, mix: Mix) -> tuple[Correction, ...] | None:
        """Return what to add to a jar after its last reading; None until `worked_out`."""
        return self._looked_up(
            ("add", mix.parts, mix.target, mix.readings),
            lambda work: shelf_work.correct(work, mix),
        )

    def _looked_up(self, key: Any, look: Callable[[ShelfWork], tuple]) -> Any:
        """What was found for a key on this shelf; if nothing yet, look in the background."""
        work = self.work()
        if work is None:
            return None
        return self._kept.worked_out(
            "mixes", key, lambda: look(work), work, failed=self._say, otherwise=()
        )

    def shown(self, mix: Mix, below: Lab | None) -> Shown | None:
        """Return how a jar looks; None while it is empty or the shelf is not fitted yet."""
        work = self.work()
        if work is None or not mix.parts:
            return None
        mixes = tuple(self.records.mixes())
        made_of = (mix.parts, mix.carrier, mix.water, mix.coats)
        return self._shown.made(
            (made_of, mix.target, below, _taught(mixes)),
            lambda: shelf_work.shown(work, mix, below, shelf_work.trials_of(work, mixes)),
            work,
        )

    def judge(self, tin: Tin, target: Lab, show: Callable[[TinVerdict], None]) -> None:
        """Find out whether a tin that is not bought would do for a colour; `show` is told."""
        work, lab = self.work(), tin.masstone
        if work is None or lab is None:
            self.refused.emit(tr("jars.fitting") if lab is not None else tr("tin.no_colour"))
            return

        def look(progress: Progress) -> TinVerdict:
            return judge_tin(
                work.fitted, tin.name, lab, tin.opacity, target, Wishes(top=1), work.index
            )

        self._runner.start("judge", look, returned=show, failed=self._say, first=True)

    def filled(self, mix: Mix, recipe: Recipe | GlazeRecipe) -> Mix:
        """Return a jar as it is with another recipe in it."""
        work = self.work()
        assert work is not None
        parts = jar_parts(work, recipe)
        if isinstance(recipe, GlazeRecipe):
            return replace(
                mix, parts=parts, carrier=recipe.carrier, water=recipe.water, coats=recipe.coats
            )
        return replace(mix, parts=parts, carrier=0.0, water=0.0, coats=1)

    def _say(self, error: Exception) -> None:
        if not isinstance(error, JarTideError):
            raise error
        self.refused.emit(str(error))

    # ---- changes

    def put_tin(self, tin: Tin, words: str = "") -> None:
        """Save a tin, new or changed."""
        words = words or tr("undo.tin", name=tin.name)
        before = next((old for old in self.tins() if old.id == tin.id), None)
        if before is None:
            self.records.add(words, tin)
        elif before != tin:
            self.records.change(words, [before], [tin])


def _taught(mixes: tuple[Mix, ...]) -> tuple:
    """What all jars that were read have taught."""
    return tuple(reading for mix in mixes for reading in mix.readings)
