"""What the mixes that are offered may be made of: how many paints and parts, which tins, how."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.drop_down import DropDown
from jartide.job.jars import JarState
from jartide.job.shelf_work import ShelfWork
from jartide.paint.glaze import GlazeWishes
from jartide.paint.recipe import Wishes
from jartide.paint.shelf import black_paints
from jartide.store.jar_records import Tin
from jartide.wording import tr

_WAYS = ("mix", "glaze", "glaze_water")
_OFFERED = 3
# Its words are longer; a paint's name never makes the page wider.
_TINS = 117


class MixLimits(QObject):
    """Four lists to choose from, and what they come to."""

    changed = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.paints, self.parts, self.tins, self.how = (DropDown(parent) for _ in range(4))
        self.tins.most = _TINS
        for box, name in (
            (self.paints, "jars.most_paints"),
            (self.parts, "jars.most_parts"),
            (self.tins, "jars.which_tins"),
            (self.how, "jars.how"),
        ):
            box.setAccessibleName(tr(name))
        fill_list(self.paints, [(tr("jars.paints", count=n), n) for n in (1, 2, 3, 4)], 3)
        fill_list(self.parts, [(tr("jars.parts", count=n), n) for n in (6, 8, 10, 12)], 12)
        fill_list(self.how, [(tr(f"jars.how.{way}"), way) for way in _WAYS], "mix")
        for box in (self.paints, self.parts):
            box.activated.connect(lambda _: self.changed.emit())
        self.tins.activated.connect(lambda _: self._tins_chosen())
        self.how.activated.connect(lambda _: self._way_chosen())
        # Ids of tins the painter wants in, or out of, the open jar's mixes.
        self._with: frozenset[str] = frozenset()
        self._without: frozenset[str] = frozenset()
        self._which = "all"
        # By the id of a jar.
        self._ways: dict[str, str] = {}
        self._jar = ""

    def open_jar(self, key: str) -> None:
        """Limit the mixes of another jar; tins are chosen anew for each."""
        if key != self._jar:
            self._jar = key
            self._with = self._without = frozenset()

    def forget_way(self) -> None:
        """Mean the open jar as what stands in it from now on."""
        self._ways.pop(self._jar, None)

    # ---- which tins

    def offer_tins(self, tins: Sequence[Tin], used: Iterable[str]) -> None:
        """Offer which tins are used: all, some kinds, with or without those of the recipe."""
        names = {tin.name: tin.id for tin in tins}
        known = {tin_id: name for name, tin_id in names.items()}
        items: list[tuple[str, object]] = [
            (tr(f"jars.tins.{word}"), word) for word in ("all", "own_black", "open")
        ]
        shown = [name for name in used if name in names]
        held = self._with | self._without
        for name in [*shown, *(known[i] for i in held if i in known and known[i] not in shown)]:
            tin_id = names[name]
            if tin_id not in self._with:
                items.append((tr("jars.with", name=name), f"with {tin_id}"))
            if tin_id not in self._without:
                items.append((tr("jars.without", name=name), f"without {tin_id}"))
        current: object = self._which
        if held:
            chosen = [tr("jars.with", name=known[i]) for i in self._with if i in known]
            chosen += [tr("jars.without", name=known[i]) for i in self._without if i in known]
            items.insert(0, (", ".join(chosen), "chosen"))
            current = "chosen"
        fill_list(self.tins, items, current)

    def _tins_chosen(self) -> None:
        word, _, tin_id = str(self.tins.currentData()).partition(" ")
        if word == "with":
            self._with, self._without = self._with | {tin_id}, self._without - {tin_id}
        elif word == "without":
            self._without, self._with = self._without | {tin_id}, self._with - {tin_id}
        elif word != "chosen":
            self._which, self._with, self._without = word, frozenset(), frozenset()
        self.changed.emit()

    # ---- what it comes to

    def way(self, state: JarState | None) -> str:
        """Return how the open jar is meant: a covering mix, or a glaze in one of two schools."""
        if self._ways.get(self._jar):
            return self._ways[self._jar]
        if state is None:
            return "mix"
        if state.mix.carrier > 0:
            return "glaze_water" if state.mix.water else "glaze"
        is_glaze = state.layer is not None and state.layer.role == "glaze"
        return "glaze" if is_glaze and not state.mix.parts else "mix"

    def show_way(self, state: JarState | None) -> None:
        """Show how the open jar is meant."""
        self.how.setCurrentIndex(self.how.findData(self.way(state)))

    def _way_chosen(self) -> None:
        self._ways[self._jar] = self.how.currentData()
        self.changed.emit()

    def wishes(self, work: ShelfWork | None, tins: Sequence[Tin]) -> Wishes:
        """Return the limits of a mix on the fitted shelf."""
        paints = None
        keep: frozenset[int] = frozenset()
        if work is not None:
            allowed = set(range(len(work.tin_ids)))
            if self._which == "own_black":
                allowed -= black_paints(work.fitted.shelf)
            elif self._which == "open":
                opened = {tin.id for tin in tins if tin.stock.opened}
                allowed = {n for n in allowed if work.tin_ids[n] in opened}
            allowed -= {n for n in allowed if work.tin_ids[n] in self._without}
            keep = frozenset(n for n in allowed if work.tin_ids[n] in self._with)
            if len(allowed) < len(work.tin_ids):
                paints = frozenset(allowed)
        return Wishes(
            most_paints=max(self.paints.currentData(), len(keep)),
            most_parts=self.parts.currentData(),
            top=_OFFERED,
            paints=paints,
            keep=keep,
        )


def glaze_wishes(wishes: Wishes, way: str) -> GlazeWishes:
    """Return the limits of a glaze: in one school water is never added to the carrier."""
    return GlazeWishes(
        paints=wishes.paints,
        keep=wishes.keep,
        most_parts=wishes.most_parts + 4,
        most_paints=min(wishes.most_paints, 2),
        least_carrier=1,
        water=(0,) if way == "glaze" else (1, 2, 3),
        top=wishes.top,
    )
