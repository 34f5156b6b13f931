"""What the three columns show of the opened jar, made from what is known of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from PySide6.QtGui import QColor

from jartide.app.stations.jars.film_view import FilmShown
from jartide.app.stations.jars.jar_shelf import JarFace
from jartide.app.stations.jars.match_view import Candidate, MatchShown
from jartide.app.stations.jars.recipe_view import RecipeRow, RecipeShown
from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import srgb_hex
from jartide.colour.words import Lab
from jartide.figures import figure
from jartide.job.jars import JarState
from jartide.job.measured_parts import (
    MeasuredPart,
    jar_parts,
    measured_parts,
    part_name,
    recipe_counts,
    small_jar_words,
)
from jartide.job.shelf_work import ShelfWork, Shown
from jartide.job.words.jars import (
    amount_words,
    close_words,
    count_words,
    hiding_words,
    ml_words,
    parts_words,
    shares_words,
    sure_words,
    whole_ml_words,
)
from jartide.paint.dry_down import DryPair, Finish, shifted
from jartide.paint.glaze import GlazeRecipe
from jartide.paint.let_down import counted
from jartide.paint.missing import missing_paint
from jartide.paint.recipe import Recipe
from jartide.paint.units import least_part_ml
from jartide.store.jar_records import Mix, Tin
from jartide.wording import tr

# From here on a prediction is marked as one to check by eye, CIEDE2000.
_DOUBTFUL = 2.0
_AS_NEAR = 0.5
# A recipe that is not mixed yet shows as a finger's breadth of its colour.
_FINGER = 0.12


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Bench:
    """The shelf as it is worked out, its tins, and the mixes offered; None while looking."""

    work: ShelfWork | None
    tins: list[Tin]
    found: tuple[Recipe | GlazeRecipe, ...] | None
    units: str = "ml"

    def by_id(self) -> dict[str, Tin]:
        """Return the tins by their ids."""
        return {tin.id: tin for tin in self.tins}

    def why_empty(self) -> str:
        """Say why there is no mix to show."""
        if not any(tin.masstone is not None for tin in self.tins):
            return tr("jars.put_paints")
        if self.found is None:
            return tr("jars.looking")
        return tr("jars.no_colours") if self.work is None else tr("jars.no_paint_left")


def shade(lab: Lab) -> QColor:
    """Return a colour for the screen."""
    return QColor(srgb_hex(lab))


def ratio_words(state: JarState) -> str:
    """Return a jar's parts, and its carrier's."""
    mix = state.mix
    words = parts_words(recipe_counts(mix.parts))
    if mix.carrier and mix.parts:
        return tr("jars.glaze_ratio", parts=words, carrier=count_words(mix.carrier))
    return words


def jar_face(state: JarState, is_worked_out: bool) -> JarFace:
    """Return a jar as it stands on the shelf."""
    mix, shown = state.mix, state.shown
    words = ""
    if not mix.parts:
        words = tr("jars.not_found")
    elif shown is None:
        words = tr("jars.paint_gone") if is_worked_out else ""
    else:
        words = tr(f"close.{state.close}") if state.close else tr("jars.no_target")
    level = 0.0
    if mix.parts:
        level = max(min(mix.mixed_ml / max(state.needed_ml, 1.0), 1.2), _FINGER)
    return JarFace(
        key=mix.id,
        name=mix.name,
        parts=ratio_words(state),
        state=words,
        lid=None if mix.target is None else shade(mix.target),
        fill=None if shown is None or shown.lab is None else shade(shown.lab),
        level=level,
        doubtful=shown is not None and shown.uncertainty_de00 > _DOUBTFUL,
    )


def place_of(state: JarState, bench: Bench, looked_at: int) -> int:
    """Return which mix offered is looked at or already in the jar; -1 for none."""
    found = bench.found or ()
    if 0 <= looked_at < len(found):
        return looked_at
    if not state.mix.parts:
        return len(found) - 1
    if bench.work is None:
        return -1
    held = {bench.work.number_of(part.tin_id): part.parts for part in state.mix.parts}
    same = (
        n
        for n, one in enumerate(found)
        if {p.paint: p.parts for p in one.parts} == held and _carrier(one)[0] == state.mix.carrier
    )
    return next(same, -1)


def _carrier(recipe: Recipe | GlazeRecipe) -> tuple[float, float]:
    """Return a recipe's carrier and water, parts."""
    return getattr(recipe, "carrier", 0.0), getattr(recipe, "water", 0.0)


def _recipe_words(recipe: Recipe | GlazeRecipe) -> str:
    """Return a recipe's parts; of a glaze the carrier's and water's after them."""
    jar = recipe.let_down if isinstance(recipe, Recipe) else None
    words = parts_words([part.parts for part in counted(recipe.parts, jar)])
    carrier, water = _carrier(recipe)
    extra = parts_words([part for part in (carrier, water) if part])
    return tr("jars.glaze_parts", parts=words, carrier=extra) if extra else words


def match_shown(
    state: JarState, bench: Bench, tried: Recipe | GlazeRecipe | None, chosen: int, seen_as: str
) -> MatchShown:
    """Return target beside mix, and the mixes offered."""
    mix, shown = state.mix, state.shown
    lab: Lab | None = None
    de00, unsure = None, 0.0
    if tried is not None:
        lab, de00, unsure = tried.lab, tried.de00, tried.uncertainty_de00
    elif shown is not None:
        lab = shown.films[mix.coats] if mix.carrier > 0 else shown.lab
        de00, unsure = shown.de00, shown.uncertainty_de00
    return MatchShown(
        target=None if mix.target is None else shade(mix.target),
        mix=None if lab is None else shade(_sealed(lab, seen_as, mix)),
        words=close_words(de00, mix.target, lab),
        note=sure_words(unsure) or _missing_words(de00, mix.target, lab),
        candidates=tuple(
            Candidate(
                parts=_recipe_words(one),
                de00=one.de00,
                words=close_words(one.de00, mix.target, one.lab),
                paints=_paints_of(one, bench),
            )
            for one in bench.found or ()
        ),
        chosen=chosen,
        # An empty recipe says already why there is nothing.
        busy="" if bench.found or not state.mix.parts else bench.why_empty(),
    )


def _paints_of(recipe: Recipe | GlazeRecipe, bench: Bench) -> tuple[QColor, ...]:
    if bench.work is None:
        return ()
    paints = bench.work.fitted.shelf.paints
    return tuple(shade(paints[part.paint].masstone) for part in recipe.parts)


def _sealed(lab: Lab, seen_as: str, mix: Mix) -> Lab:
    """Return a colour as it looks wet or sealed, when that is asked for.

    What the painter saw this jar's colour do in drying or sealing goes before the model.
    """
    if seen_as == "dry":
        return lab
    if seen_as == "wet":
        pairs = [(d.after, d.before) for d in mix.dried if d.after_state == "dry"]
    else:
        pairs = [(d.before, d.after) for d in mix.dried if d.after_state == "sealed"]
    known = tuple(DryPair(before=before, after=after) for before, after in pairs)
    return shifted(lab, Finish.MATT, Finish(seen_as), known)


def _missing_words(de00: float | None, target: Lab | None, lab: Lab | None) -> str:
    """Say which kind of paint is missing where no mix comes near."""
    if de00 is None or target is None or lab is None:
        return ""
    kind = missing_paint(target, lab)
    return "" if kind is None else tr(f"missing.{kind}")


def recipe_shown(state: JarState, bench: Bench, tried: Recipe | GlazeRecipe | None) -> RecipeShown:
    """Return the recipe's rows, how much to stir, and whether it is there."""
    mix, tins = state.mix, bench.by_id()
    carrier, water = mix.carrier, mix.water
    kept = mix.parts
    if tried is not None and bench.work is not None:
        kept = jar_parts(bench.work, tried)
        carrier, water = _carrier(tried)
    measured = measured_parts(kept)
    tin_names = {tin.id: tin.name for tin in bench.tins}
    rows = [_row(tins.get(part.tin_id), part, tin_names) for part in measured]
    for words, count in ((tr("jars.carrier"), carrier), (tr("jars.water"), water)):
        if count:
            number = count_words(count)
            rows.append(RecipeRow(count=number, parts=round(count), name=words, colour=None))
    counts = [*(part.count for part in measured), *filter(None, (carrier, water))]
    note = ""
    lines: tuple[str, ...] = ()
    if measured:
        mixed = mix.mixed_ml if tried is None else 0.0
        note = tr("jars.parts_note", parts=count_words(sum(counts)))
        films = getattr(tried, "coats", 1) if tried is not None else mix.coats
        if carrier:
            note = tr("jars.glaze_note", parts=count_words(sum(counts)), count=films)
        if mixed:
            note = tr(
                "jars.mixed_note",
                parts=count_words(sum(counts)),
                mixed=round(mixed),
                needed=ml_words(state.needed_ml),
            )
        left = state.needed_ml - mixed
        names = [tins[part.tin_id].name for part in kept if part.tin_id in tins]
        each = [left * part.parts / sum(counts) for part in kept if part.tin_id in tins]
        stir = _stir_lines(left, counts, bench)
        if left >= 1:
            small = _small_jar_lines(measured, left / sum(counts), tin_names, bench)
            lines = (*small, *stir, _stock_words(names, each, bench))
        else:
            lines = stir
    return RecipeShown(
        title=mix.name, note=note, rows=tuple(rows), lines=lines, empty=bench.why_empty()
    )


def _row(tin: Tin | None, part: MeasuredPart, names: Mapping[str, str]) -> RecipeRow:
    approximate = tr("jars.approximate") if tin is not None and tin.approximate else ""
    return RecipeRow(
        count=count_words(part.count),
        parts=round(part.count),
        name=part_name(part, names),
        colour=None if tin is None or tin.masstone is None else shade(tin.masstone),
        note=approximate,
    )


def _small_jar_lines(
    measured: tuple[MeasuredPart, ...], part_ml: float, names: Mapping[str, str], bench: Bench
) -> tuple[str, ...]:
    """What is let down first, and how much of it: no less than its one part can be measured in."""
    least = least_part_ml(bench.units)
    return tuple(
        tr(
            "jars.let_down_make",
            how=small_jar_words(part, names),
            ml=amount_words(max(part.count * part_ml, least * (1 + part.to_one)), bench.units),
        )
        for part in measured
        if part.to_one
    )


def _stir_lines(left_ml: float, counts: list[float], bench: Bench) -> tuple[str, ...]:
    """What goes in, as it is measured."""
    if left_ml < 1:
        return (tr("jars.enough_mixed"),)
    words = shares_words(left_ml, counts, bench.units)
    listed = words[0]
    if len(words) > 1:
        listed = tr("words.and", first=", ".join(words[:-1]), last=words[-1])
    whole = whole_ml_words(left_ml) if bench.units == "ml" else ml_words(left_ml)
    return (tr("jars.stir", ml=whole, amounts=listed),)


def _stock_words(names: list[str], ml: list[float], bench: Bench) -> str:
    """Say whether there is enough of every paint."""
    left = {tin.name: tin.stock.left_ml for tin in bench.tins}
    short = []
    known = True
    for name, amount in zip(names, ml, strict=False):
        there = left.get(name)
        if there is None:
            known = False
        elif there < amount:
            short.append(tr("jars.short", name=name, ml=ml_words(amount - there)))
    if short:
        return " ".join(short)
    words = tr("jars.enough_paint") if known else tr("jars.stock_unknown")
    price = _price(names, ml, bench)
    return words if price is None else f"{words} {tr('jars.price', price=figure(price, 2))}"


def _price(names: list[str], ml: list[float], bench: Bench) -> float | None:
    """Return what goes in is worth; None where a tin's price is not known."""
    stock = {tin.name: tin.stock for tin in bench.tins}
    whole = 0.0
    for name, amount in zip(names, ml, strict=False):
        own = stock.get(name)
        if own is None or own.price is None or not own.tin_ml:
            return None
        whole += own.price / own.tin_ml * amount
    return whole


def films_shown(state: JarState, shown: Shown | None) -> FilmShown:
    """Return the coats over what lies below."""
    target = state.mix.target
    title = tr("jars.over_board")
    if state.below_name:
        title = tr("jars.over", name=state.below_name.lower())
    if shown is None:
        return FilmShown(
            title=title, films=(), target=None, best=-1, words="", empty=tr("jars.films_empty")
        )
    best = 1
    if target is not None:
        apart = [round(float(delta_e_2000(lab, target)), 1) for lab in shown.films[1:]]
        # The fewest coats that come as near as more of them.
        best = next(n for n, one in enumerate(apart, 1) if one <= min(apart) + _AS_NEAR)
    if shown.ladder:
        rows = (shown.ladder[0], shown.films, shown.ladder[1])
        return FilmShown(
            title=title,
            films=tuple(shade(lab) for lab in shown.films),
            target=None if target is None else shade(target),
            best=best,
            words=tr("jars.ladder"),
            ladder=tuple(tuple(shade(lab) for lab in row) for row in rows),
        )
    return FilmShown(
        title=title,
        films=tuple(shade(lab) for lab in shown.films),
        target=None if target is None else shade(target),
        best=best,
        words=hiding_words(shown.coats, shown.hides),
    )


def tried_of(state: JarState, found: tuple | None, candidate: int) -> Recipe | GlazeRecipe | None:
    """Return the mix that is looked at, when it is not what the jar holds."""
    if not found:
        return None
    if 0 <= candidate < len(found):
        return found[candidate]
    return None if state.mix.parts else found[-1]
