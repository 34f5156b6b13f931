"""What is worked out about paints and jars, in a worker thread: the fit, mixes, films."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import smoothest_reflectance
from jartide.colour.words import Lab
from jartide.devices.source import Source
from jartide.job.runner import Progress
from jartide.paint.correct import Correction, corrections, trial_of
from jartide.paint.fit import fit_shelf
from jartide.paint.fitted import FittedShelf
from jartide.paint.forward import lab_of
from jartide.paint.glaze import GlazeRecipe, GlazeWishes, films, find_glazes
from jartide.paint.hiding import coats_to_hide, one_coat_hides, parts_row
from jartide.paint.let_down import find_let_down
from jartide.paint.mix_index import MixIndex
from jartide.paint.predict import Trials, predict
from jartide.paint.recipe import Part, Recipe, Wishes, as_lab
from jartide.paint.rows import hiding_layers
from jartide.paint.search import find_mixes
from jartide.store.jar_records import Mix, Tin, shelf_of
from jartide.store.mix_cache import mix_index

# What stands in a jar, on the fitted shelf.
Parts = tuple[Part, ...]
# An index for fewer parts serves nobody: all are made for this many.
INDEX_PARTS = 12


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ShelfWork:
    """The fitted shelf: which tins stand where on it, and the index of their mixes.

    `made_up` says that what a stand-in told counts, as in the demo.
    """

    fitted: FittedShelf
    tin_ids: tuple[str, ...]
    index: MixIndex | None
    made_up: bool = False

    def number_of(self, tin_id: str) -> int | None:
        """Return a tin's place on the fitted shelf."""
        return self.tin_ids.index(tin_id) if tin_id in self.tin_ids else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Shown:
    """A jar as it can be drawn: colours predicted, and how sure.

    Attributes
    ----------
    lab : of the mix, dry and hiding; None when a paint in it has gone
    de00 : from the target; None without one
    uncertainty_de00 : nine of ten real mixes lie this near
    hides : share of contrast one neat coat takes away
    films : over what lies below: bare, then 1, 2 and 3 coats
    ladder : of a glaze, the same coats at half and at twice its carrier
    coats : until what lies below is hidden; None when more than can be laid
    """

    lab: Lab | None
    de00: float | None
    uncertainty_de00: float
    hides: float
    films: tuple[Lab, ...]
    ladder: tuple[tuple[Lab, ...], ...]
    coats: int | None


def fit(tins: Sequence[Tin], progress: Progress, *, made_up: bool = False) -> ShelfWork | None:
    """Fit the shelf and prepare its mixes; None when nothing on it has a colour.

    `made_up` lets what a stand-in said count, as in the demo.
    """

    shelf, tin_ids = shelf_of(tins, made_up=made_up)
    if not shelf.paints:
        return None
    fitted = fit_shelf(shelf)
    progress(0.2)
    index = mix_index(
        fitted,
        list(range(len(tin_ids))),
        3,
        INDEX_PARTS,
        lambda fraction: progress(0.2 + 0.8 * fraction),
    )
    return ShelfWork(fitted=fitted, tin_ids=tin_ids, index=index, made_up=made_up)


def find(work: ShelfWork, target: Lab, wishes: Wishes, trials: Trials | None) -> tuple[Recipe, ...]:
    """Return the best mixes for a colour, with a strong paint let down first where that helps."""

    index = work.index
    if index is not None and wishes.most_parts > index.most_parts:
        index = None
    found = find_mixes(work.fitted, target, wishes, index, trials)
    let_down = find_let_down(work.fitted, target, found, wishes, trials)
    return found if let_down is None else (let_down, *found)


def find_glaze(
    work: ShelfWork, base: Lab, target: Lab, wishes: GlazeWishes
) -> tuple[GlazeRecipe, ...]:
    """Return the best glazes over what lies below."""

    return find_glazes(work.fitted, base, target, wishes)


def parts_of(work: ShelfWork, mix: Mix) -> Parts | None:
    """Return a jar's parts on the fitted shelf; None when one of its paints has gone."""

    found = []
    for part in mix.parts:
        number = work.number_of(part.tin_id)
        if number is None:
            return None
        found.append(Part(paint=number, parts=part.parts))
    return tuple(found)


def trials_of(work: ShelfWork, mixes: Sequence[Mix]) -> Trials | None:
    """Return what all jars that were read have taught."""

    jars = []
    for mix in mixes:
        for reading in mix.readings:
            if reading.source is Source.STAND_IN and not work.made_up:
                continue
            numbers = [work.number_of(part.tin_id) for part in reading.parts]
            if None not in numbers and numbers:
                parts = tuple(
                    Part(paint=n, parts=part.parts)
                    for n, part in zip(numbers, reading.parts, strict=True)
                    if n is not None
                )
                jars.append((parts, reading.lab))
    return trial_of(work.fitted, tuple(jars))


def shown(work: ShelfWork, mix: Mix, below: Lab | None, trials: Trials | None) -> Shown | None:
    """Return how a jar looks; None while it holds nothing known."""

    parts = parts_of(work, mix)
    if not parts:
        return None
    row = parts_row(work.fitted, parts)
    ground = below or (90.0, 0.0, 3.0)
    spectrum = smoothest_reflectance(np.array(ground))[0]

    def coats(carrier: float) -> tuple[Lab, ...]:
        painted = films(
            np.repeat(row, 3, axis=0),
            spectrum,
            carrier=carrier,
            water=mix.water,
            coats=np.arange(1, 4),
        )
        return tuple(as_lab(lab) for lab in lab_of(painted, work.fitted.parameters))

    strip = (ground, *coats(mix.carrier))
    steps = (mix.carrier / 2, 2 * mix.carrier) if mix.carrier > 0 else ()
    ladder = tuple((ground, *coats(carrier)) for carrier in steps)
    predicted = predict(work.fitted, hiding_layers(row / row.sum()), trials)
    lab = as_lab(predicted.lab[0])
    seen = strip[mix.coats] if mix.carrier > 0 else lab
    return Shown(
        lab=lab,
        de00=None if mix.target is None else float(delta_e_2000(seen, mix.target)),
        uncertainty_de00=float(predicted.bound_de00[0]),
        hides=one_coat_hides(work.fitted, parts),
        films=strip,
        ladder=ladder,
        coats=coats_to_hide(work.fitted, parts, ground).coats,
    )


def correct(work: ShelfWork, mix: Mix) -> tuple[Correction, ...]:
    """Return what to add to a jar after its last reading."""

    if not mix.readings or mix.target is None:
        return ()
    last = mix.readings[-1]
    if {part.tin_id for part in last.parts} != {part.tin_id for part in mix.parts}:
        return ()  # another mix stood in the jar then
    used = []
    for part in last.parts:
        number = work.number_of(part.tin_id)
        if number is None:
            return ()
        used.append(Part(paint=number, parts=part.parts))
    return corrections(work.fitted, tuple(used), last.lab, mix.target)
