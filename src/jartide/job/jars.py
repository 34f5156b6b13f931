"""The jars of the open finish: what stands in each, how near it comes, how much is needed."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jartide.colour.words import Lab
from jartide.devices.source import Source
from jartide.errors import JarTideError
from jartide.job.amounts import Amounts, MixAmount
from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.job.shelf import Shelf
from jartide.job.shelf_work import Parts, ShelfWork, Shown, parts_of
from jartide.paint.closeness import Closeness, closeness
from jartide.paint.glaze import GlazeRecipe
from jartide.paint.recipe import Recipe
from jartide.reading.result import Layer
from jartide.store.jar_records import JarPart, JarReading, Mix
from jartide.store.workspace import now
from jartide.wording import say, tr


@dataclass(frozen=True, slots=True, kw_only=True)
class JarState:
    """One jar.

    Attributes
    ----------
    mix, layer : the jar, and the layer it is for
    below_name, below : what lies below the layer, and its colour; "" for the bare board
    shown : how it looks; None while empty or not worked out
    close : how near it comes; None without a target or a mix
    amount : how much its passes take
    """

    mix: Mix
    layer: Layer | None
    below_name: str
    below: Lab | None
    shown: Shown | None
    close: Closeness | None
    amount: MixAmount

    @property
    def needed_ml(self) -> float:
        """How much of it the job takes."""
        return self.amount.needed.total_ml

    @property
    def left_ml(self) -> float:
        """What is still to be stirred."""
        return max(self.needed_ml - self.mix.mixed_ml, 0.0)


class Jars:
    """Asks the shelf and the plan for what is shown of each jar, and changes jars."""

    def __init__(
        self, records: Records, readings: Readings, shelf: Shelf, amounts: Amounts
    ) -> None:
        self._records, self._readings, self._shelf = records, readings, shelf
        self._amounts = amounts

    def all(self) -> list[tuple[Layer | None, Mix]]:
        """Return one jar for each layer of the target, ground first, then those of their own.

        A layer without a jar gets an empty one, which is saved when something is put in.
        """
        finish, reading = self._records.finish, self._readings.of_target()
        if finish is None:
            return []
        kept = self._records.mixes()
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

    def names(self) -> dict[str, str]:
        """Return the names of the finish's jars by their id; a nameless one has its layer's."""
        layers = self._readings.of_target()
        named = {} if layers is None else {layer.id: say(layer.name) for layer in layers.layers}
        return {
            mix.id: mix.name or named.get(mix.layer) or tr("log.jar_unnamed")
            for mix in self._records.mixes()
        }

    def states(self) -> list[JarState]:
        """Return all jars with everything that is shown of them."""
        jars = self.all()
        ground = jars[0][0] if jars else None
        found = []
        for layer, mix in jars:
            below, name = None, ""
            if layer is not None and ground is not None and layer.id != ground.id:
                below = ground.best_lab or ground.shown_lab
                name = say(ground.name)
            shown = self._shelf.shown(mix, below)
            found.append(
                JarState(
                    mix=mix,
                    layer=layer,
                    below_name=name,
                    below=below,
                    shown=shown,
                    close=None if shown is None or shown.de00 is None else closeness(shown.de00),
                    amount=self._amounts.of_mix(layer, mix),
                )
            )
        return found

    def parts(self, work: ShelfWork) -> dict[int, Parts]:
        """Return the parts in the jar of each of the target's layers, by its number."""
        found = {}
        for number, (layer, mix) in enumerate(self.all()):
            parts = parts_of(work, mix) if layer is not None else None
            if parts:
                found[number] = parts
        return found

    def to_buy(self) -> list[tuple[str, float]]:
        """Return what the jars' tins lack for the whole job, most first: name and ml."""
        names = self._shelf.tin_names()
        used = {names.get(part.tin_id) for mix in self._records.mixes() for part in mix.parts}
        try:
            lines = self._amounts.shopping()
        except JarTideError:
            lines = ()
        lacking = [
            (line.name, line.missing_ml)
            for line in lines
            if line.missing_ml > 0 and line.name in used
        ]
        return sorted(lacking, key=lambda one: -one[1])

    # ---- changes

    def put(self, mix: Mix, words: str) -> None:
        """Save a jar, new or changed."""
        before = self._before(mix)
        if before is None:
            self._records.add(words, replace(mix, id=Mix(finish_id=mix.finish_id).id))
        elif before != mix:
            self._records.change(words, [before], [mix])

    def _before(self, mix: Mix) -> Mix | None:
        return next((old for old in self._records.mixes() if old.id == mix.id), None)

    def take(self, mix: Mix, recipe: Recipe | GlazeRecipe) -> None:
        """Put a recipe into a jar."""
        if self._shelf.work() is not None:
            self.put(self._shelf.filled(mix, recipe), tr("undo.take_mix", name=mix.name))

    def mixed(self, mix: Mix, ml: float) -> None:
        """Note that so much more of a jar was mixed, and take it out of the tins' stock."""
        before = self._before(mix)
        fresh = replace(
            mix, mixed_ml=mix.mixed_ml + ml, left_ml=(mix.left_ml or 0.0) + ml, mixed_at=now()
        )
        if before is None:
            fresh = replace(fresh, id=Mix(finish_id=mix.finish_id).id)
            before = replace(fresh, deleted_at=now())
        taken = {part.tin_id: ml * part.parts / mix.total for part in mix.parts}
        used = [t for t in self._records.tins() if t.id in taken and t.stock.left_ml is not None]
        left = [
            replace(t, stock=replace(t.stock, left_ml=max((t.stock.left_ml or 0) - taken[t.id], 0)))
            for t in used
        ]
        self._records.change(tr("undo.mixed", name=mix.name), [before, *used], [fresh, *left])

    def read(self, mix: Mix, lab: Lab, parts: tuple[JarPart, ...], source: Source) -> None:
        """Keep what a mixed jar read, what told it, and what had really gone into it."""
        reading = JarReading(lab=lab, parts=parts, read_at=now(), source=source)
        self.put(
            replace(mix, readings=(*mix.readings, reading)), tr("undo.read_jar", name=mix.name)
        )
