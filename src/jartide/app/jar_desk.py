"""The painter's shelf and jars: what is known of them, and changes that can be undone."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal

from jartide.app import jar_work
from jartide.app.outside_devices import is_demo
from jartide.devices.source import Source
from jartide.errors import JarTideError
from jartide.wording import say, tr

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.app.jar_work import ShelfWork, Shown
    from jartide.app.plan_desk import PlanDesk
    from jartide.app.stations.jars.jar_state import JarState
    from jartide.colour.words import Lab
    from jartide.paint.correct import Correction
    from jartide.paint.glaze import GlazeRecipe, GlazeWishes
    from jartide.paint.judge import TinVerdict
    from jartide.paint.recipe import Recipe, Wishes
    from jartide.reading.result import Layer
    from jartide.store.jar_records import JarPart, Mix, Tin

_KEPT = 60


class JarDesk(QObject):
    """Keeps the fit of the shelf up to date and finds mixes in the background."""

    ready = Signal()  # the shelf is fitted, or mixes were found: show again
    progressed = Signal(float)
    refused = Signal(str)  # one sentence

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        # Amounts follow the plan once the painter has taken it.
        self.plan_desk: PlanDesk | None = None
        self._work: tuple[Any, ShelfWork | None] | None = None
        self._fitting: Any = None
        self._found: OrderedDict[Any, tuple[Recipe, ...]] = OrderedDict()
        self._shown: OrderedDict[Any, Shown | None] = OrderedDict()
        self._looking: set[Any] = set()
        # Counts the fits: what was found on an earlier one says nothing of the present shelf.
        self._fits = 0
        self._tins: list[Tin] | None = None
        self._key: tuple | None = None
        self._mixes: dict[str, list[Mix]] = {}
        document.opened.connect(self._forget)
        document.changed.connect(self._forget)

    def _forget(self) -> None:
        """Records changed: read them again when they are asked for."""
        self._tins = self._key = None
        self._mixes = {}

    # ---- what there is

    def tins(self) -> list[Tin]:
        """Return everything on the shelf."""
        workspace = self.document.workspace
        if self._tins is None and workspace is not None:
            self._tins = workspace.tins()
        return self._tins or []

    def mixes(self) -> list[Mix]:
        """Return the jars of the open finish."""
        workspace, finish = self.document.workspace, self.document.finish
        if workspace is None or finish is None:
            return []
        if finish.id not in self._mixes:
            self._mixes[finish.id] = workspace.mixes(finish.id)
        return self._mixes[finish.id]

    def jars(self) -> list[tuple[Layer | None, Mix]]:
        """Return one jar for each layer of the target, ground first, then those of their own.

        A layer without a jar gets an empty one, which is saved when something is put in.
        """
        from jartide.store.jar_records import Mix

        finish, reading = self.document.finish, self.document.target_reading()
        if finish is None:
            return []
        kept = self.mixes()
        found: list[tuple[Layer | None, Mix]] = []
        for layer in () if reading is None else reading.layers:
            own = next((mix for mix in kept if mix.layer == layer.id), None)
            target = layer.best_lab or layer.shown_lab
            if own is None:
                own = Mix(id=f"new {finish.id} {layer.id}", finish_id=finish.id, layer=layer.id)
            found.append((layer, replace(own, target=target, name=own.name or say(layer.name))))
        known = {mix.id for _, mix in found}
        # A jar whose layer is read no longer stands by itself.
        found += [(None, mix) for mix in kept if mix.id not in known]
        return found

    def shelf_key(self) -> tuple:
        """Return what the fit depends on."""
        if self._key is None:
            self._key = tuple(
                (t.id, t.name, t.opacity, t.swatches, t.stock.kind) for t in self.tins() if t.owned
            )
        return self._key

    def work(self) -> ShelfWork | None:
        """Return the fitted shelf as it is now, or None until `ready`."""
        key = self.shelf_key()
        if self._work is not None and self._work[0] == key:
            return self._work[1]
        if self._fitting != key:
            self._fitting = key
            tins, made_up = self.tins(), is_demo(self.document.workspace)

            def returned(made: ShelfWork | None) -> None:
                self._work = (key, made)
                self._fitting = None
                self._fits += 1
                self.ready.emit()

            def failed(error: Exception) -> None:
                # Not tried again until the shelf changes.
                self._work = (key, None)
                self._fitting = None
                self._say(error)
                self.ready.emit()

            self.document.runner.start(
                "shelf",
                lambda progress: jar_work.fit(tins, progress, made_up=made_up),
                returned=returned,
                failed=failed,
                progressed=self.progressed.emit,
                first=True,
            )
        return None

    def is_fitting(self) -> bool:
        """Whether the shelf is being worked out."""
        return self._fitting is not None

    def candidates(self, target: Lab, wishes: Wishes) -> tuple[Recipe, ...] | None:
        """Return mixes for a colour; None until `ready`."""
        mixes = self.mixes()
        taught = tuple(reading for mix in mixes for reading in mix.readings)
        return self._looked_up(
            (target, wishes, taught),
            lambda work: jar_work.find(work, target, wishes, jar_work.trials_of(work, mixes)),
        )

    def glazes(self, base: Lab, target: Lab, wishes: GlazeWishes) -> tuple[GlazeRecipe, ...] | None:
        """Return glazes over a ground for a colour; None until `ready`."""
        return self._looked_up(
            (base, target, wishes),
            lambda work: jar_work.find_glaze(work, base, target, wishes),
        )

    def _looked_up(self, key: Any, look: Callable[[ShelfWork], tuple]) -> Any:
        """Return what was found for a key; if nothing yet, look in the background."""
        work = self.work()
        if work is None:
            return None
        key = (self._fits, key)
        if key in self._found:
            return self._found[key]
        if key in self._looking:
            return None
        self._looking.add(key)

        def returned(found: tuple) -> None:
            self._looking.discard(key)
            self._keep(self._found, key, found)
            self.ready.emit()

        def failed(error: Exception) -> None:
            returned(())
            self._say(error)

        self.document.runner.start(
            f"mixes {hash(key)}", lambda _: look(work), returned=returned, failed=failed, first=True
        )
        return None

    def shown(self, mix: Mix, below: Lab | None) -> Shown | None:
        """Return how a jar looks; None while it is empty or the shelf is not fitted yet."""
        work = self.work()
        if work is None or not mix.parts:
            return None
        taught = tuple(r for one in self.mixes() for r in one.readings)
        made_of = (mix.parts, mix.carrier, mix.water, mix.coats)
        key = (self._fits, made_of, mix.target, below, taught)
        if key not in self._shown:
            trials = jar_work.trials_of(work, self.mixes())
            self._keep(self._shown, key, jar_work.shown(work, mix, below, trials))
        return self._shown[key]

    def judge(self, tin: Tin, target: Lab, show: Callable[[TinVerdict], None]) -> None:
        """Find out whether a tin that is not bought would do for a colour; `show` is told."""
        work, lab = self.work(), tin.masstone
        if work is None or lab is None:
            self.refused.emit(tr("jars.fitting") if lab is not None else tr("tin.no_colour"))
            return

        def look(_: Any) -> TinVerdict:
            from jartide.paint.judge import judge_tin
            from jartide.paint.recipe import Wishes

            return judge_tin(
                work.fitted, tin.name, lab, tin.opacity, target, Wishes(top=1), work.index
            )

        self.document.in_background("judge", look, show)

    def to_buy(self, states: list[JarState]) -> list[tuple[str, float]]:
        """Return what all jars together take more than is left, most first: name and ml."""
        from jartide.paint.batch import Held, amounts, shopping

        tins = {tin.id: tin for tin in self.tins()}
        held = {
            tin.name: Held(
                left_ml=tin.stock.left_ml, tin_ml=tin.stock.tin_ml, tin_price=tin.stock.price
            )
            for tin in tins.values()
        }
        batches = []
        for state in states:
            left = state.needed.total_ml - state.mix.mixed_ml
            parts = tuple(
                (tins[p.tin_id].name, p.parts) for p in state.mix.parts if p.tin_id in tins
            )
            if parts and left > 0:
                share = sum(count for _, count in parts) / state.mix.total
                batches.append(amounts(parts, left * share, held))
        return [(amount.name, amount.missing_ml) for amount in shopping(tuple(batches), held)]

    def stop_fitting(self) -> None:
        """Leave the shelf as it is until it changes again."""
        if self._fitting is not None:
            self.document.runner.stop("shelf")
            self._work, self._fitting = (self._fitting, None), None
            self.ready.emit()

    def corrections(self, mix: Mix) -> tuple[Correction, ...] | None:
        """Return what to add to a jar after its last reading; None until `ready`."""
        return self._looked_up(
            ("add", mix.parts, mix.target, mix.readings),
            lambda work: jar_work.correct(work, mix),
        )

    @staticmethod
    def _keep(kept: OrderedDict, key: Any, value: Any) -> None:
        kept[key] = value
        while len(kept) > _KEPT:
            kept.popitem(last=False)

    def _say(self, error: Exception) -> None:
        if not isinstance(error, JarTideError):
            raise error
        self.refused.emit(str(error))

    # ---- changes

    def put_mix(self, mix: Mix, words: str) -> None:
        """Save a jar, new or changed."""
        before = next((old for old in self.mixes() if old.id == mix.id), None)
        if before is None:
            from jartide.store.jar_records import Mix as Kept

            fresh = replace(mix, id=Kept(finish_id=mix.finish_id).id)
            self.document.add(words, fresh)
        elif before != mix:
            self.document.change(words, [before], [mix])

    def filled(self, mix: Mix, recipe: Recipe | GlazeRecipe) -> Mix:
        """Return a jar as it is with another recipe in it."""
        from jartide.paint.glaze import GlazeRecipe
        from jartide.store.jar_records import JarPart

        work = self.work()
        assert work is not None
        parts = tuple(
            JarPart(tin_id=work.tin_ids[part.paint], parts=part.parts) for part in recipe.parts
        )
        if isinstance(recipe, GlazeRecipe):
            return replace(
                mix, parts=parts, carrier=recipe.carrier, water=recipe.water, coats=recipe.coats
            )
        return replace(mix, parts=parts, carrier=0.0, water=0.0, coats=1)

    def take(self, mix: Mix, recipe: Recipe | GlazeRecipe) -> None:
        """Put a recipe into a jar."""
        if self.work() is not None:
            self.put_mix(self.filled(mix, recipe), tr("undo.take_mix", name=mix.name))

    def mixed(self, mix: Mix, ml: float) -> None:
        """Note that so much more of a jar was mixed, and take it out of the tins' stock."""
        from jartide.store.jar_records import Mix as Kept
        from jartide.store.workspace import now

        before = next((old for old in self.mixes() if old.id == mix.id), None)
        fresh = replace(
            mix, mixed_ml=mix.mixed_ml + ml, left_ml=(mix.left_ml or 0.0) + ml, mixed_at=now()
        )
        if before is None:
            fresh = replace(fresh, id=Kept(finish_id=mix.finish_id).id)
            before = replace(fresh, deleted_at=now())
        taken = {part.tin_id: ml * part.parts / mix.total for part in mix.parts}
        used = [t for t in self.tins() if t.id in taken and t.stock.left_ml is not None]
        left = [
            replace(t, stock=replace(t.stock, left_ml=max((t.stock.left_ml or 0) - taken[t.id], 0)))
            for t in used
        ]
        self.document.change(tr("undo.mixed", name=mix.name), [before, *used], [fresh, *left])

    def read_jar(self, mix: Mix, lab: Lab, parts: tuple[JarPart, ...], source: Source) -> None:
        """Keep what a mixed jar read, what told it, and what had really gone into it."""
        from jartide.store.jar_records import JarReading
        from jartide.store.workspace import now

        reading = JarReading(lab=lab, parts=parts, read_at=now(), source=source)
        self.put_mix(
            replace(mix, readings=(*mix.readings, reading)), tr("undo.read_jar", name=mix.name)
        )

    def put_tin(self, tin: Tin, words: str = "") -> None:
        """Save a tin, new or changed."""
        words = words or tr("undo.tin", name=tin.name)
        before = next((old for old in self.tins() if old.id == tin.id), None)
        if before is None:
            self.document.add(words, tin)
        elif before != tin:
            self.document.change(words, [before], [tin])

    def add_starter(self) -> None:
        """Put the starter shelf's tins on the shelf."""
        from importlib.resources import files

        folder = files("jartide").joinpath("data")
        self._add_tins(
            folder.joinpath("starter_shelf.csv").read_text(encoding="utf-8"),
            folder.joinpath("starter_stock.csv").read_text(encoding="utf-8"),
            "starter",
            approximate=True,
        )

    def import_file(self, path: Path) -> None:
        """Add the tins of a shelf or stock CSV; those of a known name are brought up to date."""
        try:
            text = path.read_text(encoding="utf-8-sig")
        except (OSError, UnicodeDecodeError) as error:
            why = getattr(error, "strerror", None) or type(error).__name__
            self.refused.emit(tr("error.command.list_file", name=path.name, why=why))
            return
        header = text.split("\n", 1)[0]
        stock_only = "swatch" not in header
        self._add_tins("" if stock_only else text, text if stock_only else "", path.name)

    def _add_tins(self, shelf: str, stock: str, name: str, *, approximate: bool = False) -> None:
        from jartide.store.jar_records import Tin, tins_of
        from jartide.store.shelf_csv import read_shelf, read_stock

        try:
            labels = read_stock(stock, name) if stock else {}
            fresh = tins_of(read_shelf(shelf, name), labels) if shelf else []
        except JarTideError as error:
            self.refused.emit(str(error))
            return
        if not shelf:
            fresh = [Tin(name=own, stock=label) for own, label in labels.items()]
        known = {tin.name.casefold(): tin for tin in self.tins()}
        old: list[Tin] = []
        new: list[Tin] = []
        added: list[Tin] = []
        for tin in fresh:
            before = known.get(tin.name.casefold())
            if before is None:
                place = len(known) + len(added)
                added.append(replace(tin, approximate=approximate, position=place))
                continue
            changed = replace(
                before,
                opacity=tin.opacity if tin.swatches else before.opacity,
                swatches=tin.swatches or before.swatches,
                stock=tin.stock if stock else before.stock,
                approximate=approximate if tin.swatches else before.approximate,
            )
            old.append(before)
            new.append(changed)
        from jartide.store.workspace import now

        gone = [replace(tin, deleted_at=now()) for tin in added]
        self.document.change(tr("undo.import"), [*old, *gone], [*new, *added])

    def export_files(self, path: Path) -> None:
        """Write the shelf as CSV at `path` and its stock beside it."""
        from jartide.store.jar_records import shelf_of
        from jartide.store.shelf_csv import write_shelf, write_stock

        tins = self.tins()
        shelf, _ = shelf_of(tins, made_up=is_demo(self.document.workspace))
        beside = path.with_name(f"{path.stem}-stock.csv")
        try:
            path.write_text(write_shelf(shelf), encoding="utf-8")
            beside.write_text(write_stock({t.name: t.stock for t in tins}), encoding="utf-8")
        except OSError as error:
            why = error.strerror or type(error).__name__
            self.refused.emit(tr("error.command.write", name=str(path), why=why))
