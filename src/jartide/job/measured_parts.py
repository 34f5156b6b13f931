"""A jar's parts as they are measured: of a small jar that was let down first, whole parts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from jartide.job.shelf_work import ShelfWork
from jartide.job.words.jars import count_words
from jartide.paint.glaze import GlazeRecipe
from jartide.paint.recipe import Recipe
from jartide.store.jar_records import JarPart
from jartide.wording import tr

# Nobody stirs one part into more than so many.
_MOST_BODY = 1000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasuredPart:
    """What is measured in whole parts: a tin, or the small jar a strong one was let down in.

    `body` is the tin it was let down with, `to_one` how many parts of that to one of it.
    """

    tin_id: str
    count: float
    body: str = ""
    to_one: float = 0.0


def jar_parts(work: ShelfWork, recipe: Recipe | GlazeRecipe) -> tuple[JarPart, ...]:
    """Return a recipe's parts as a jar keeps them."""
    jar = recipe.let_down if isinstance(recipe, Recipe) else None
    return tuple(
        JarPart(
            tin_id=work.tin_ids[part.paint],
            parts=part.parts,
            let_down=jar.parts if jar is not None and jar.paint == part.paint else 0.0,
            let_down_with=work.tin_ids[jar.body]
            if jar is not None and jar.paint == part.paint
            else "",
        )
        for part in recipe.parts
    )


def measured_parts(parts: Sequence[JarPart]) -> tuple[MeasuredPart, ...]:
    """Return parts as they are measured, most first."""
    count = {part.tin_id: part.parts for part in parts}
    small = {part.tin_id: part for part in parts if 0 < part.let_down <= _MOST_BODY}
    for tin_id, part in small.items():
        count[tin_id] = part.parts * (1 + part.let_down)
        if part.let_down_with in count:
            count[part.let_down_with] -= part.parts * part.let_down
    found = []
    for tin_id, number in count.items():
        if number > 1e-6:
            own = small.get(tin_id)
            body = "" if own is None else own.let_down_with
            to_one = 0.0 if own is None else own.let_down
            found.append(MeasuredPart(tin_id=tin_id, count=number, body=body, to_one=to_one))
    return tuple(sorted(found, key=lambda one: -one.count))


def really_in(measured: Sequence[MeasuredPart], counts: Sequence[float]) -> tuple[JarPart, ...]:
    """Return what of every tin went in where so many of each measured part were taken."""
    real: dict[str, float] = {}
    for part, count in zip(measured, counts, strict=True):
        strong = count / (1 + part.to_one)
        real[part.tin_id] = real.get(part.tin_id, 0.0) + strong
        if part.to_one:
            real[part.body] = real.get(part.body, 0.0) + count - strong
    small = {part.tin_id: part for part in measured if part.to_one}
    return tuple(
        JarPart(
            tin_id=tin_id,
            parts=parts,
            let_down=small[tin_id].to_one if tin_id in small else 0.0,
            let_down_with=small[tin_id].body if tin_id in small else "",
        )
        for tin_id, parts in real.items()
    )


def part_name(part: MeasuredPart, names: Mapping[str, str]) -> str:
    """Return what a part is called: its tin, or the small jar of it."""
    name = names.get(part.tin_id, tr("jars.gone_tin"))
    return tr("jars.let_down_of", name=name) if part.to_one else name


def small_jar_words(part: MeasuredPart, names: Mapping[str, str]) -> str:
    """Return how the small jar is mixed, as a sentence; "" for a tin as it is."""
    if not part.to_one:
        return ""
    return tr(
        "jars.let_down_how",
        name=names.get(part.tin_id, tr("jars.gone_tin")),
        body=names.get(part.body, tr("jars.gone_tin")),
        parts=count_words(part.to_one),
    )


def recipe_counts(parts: Sequence[JarPart]) -> list[float]:
    """Return the counts alone, as they are measured."""
    return [part.count for part in measured_parts(parts)]
