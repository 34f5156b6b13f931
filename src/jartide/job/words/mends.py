"""What mends a board, in words: the amounts, the painter's own paints, and what else it moves."""

from __future__ import annotations

from dataclasses import dataclass

from jartide.boards.mends import Mend, mending
from jartide.boards.paint_mends import PaintMend, paint_mends
from jartide.boards.result import Comparison, Difference
from jartide.job.shelf_work import Parts, ShelfWork
from jartide.job.words.jars import parts_words
from jartide.job.words.numbers import plain_words
from jartide.measures.key import Key
from jartide.reading.result import Reading
from jartide.wording import say, tr


@dataclass(frozen=True, slots=True, kw_only=True)
class MendWords:
    """One mend as it is shown.

    Attributes
    ----------
    quantity : of the difference it mends
    what : the difference's words
    how : what to do
    means : "open", "repair" or "fresh"
    recipes : with the painter's own paints, the way that undoes least first
    effects : what it does to other measures
    mend, ways : what the words were made from, for the plan
    """

    quantity: str
    what: str
    how: str
    means: str
    recipes: tuple[str, ...]
    effects: tuple[str, ...]
    mend: Mend
    ways: tuple[PaintMend, ...]


Jars = dict[int, Parts]


def mends_of(
    comparison: Comparison, target: Reading, board: Reading, work: ShelfWork | None, jars: Jars
) -> tuple[tuple[MendWords, ...], str]:
    """Return all mends of a board in words, and why a fresh board is better, or nothing.

    Without a fitted shelf there are no recipes. Glazes are searched, so it takes its time.
    """
    found = mending(comparison, target)
    told = {d.quantity: d for d in comparison.differences}
    shown = tuple(_words(mend, told, comparison, board, work, jars) for mend in found.mends)
    return shown, "" if found.fresh is None else say(found.fresh)


def _words(
    mend: Mend,
    told: dict[Key, Difference],
    comparison: Comparison,
    board: Reading,
    work: ShelfWork | None,
    jars: Jars,
) -> MendWords:
    ways = _ways(mend, comparison, board, work, jars)
    return MendWords(
        quantity=mend.quantity,
        what=say(told[mend.quantity].words),
        how=say(mend.words),
        means=mend.means.value,
        recipes=() if work is None else tuple(_recipe_words(way, work) for way in ways),
        effects=tuple(
            tr("mend.helps" if effect.helps else "mend.harms", name=say(effect.name))
            for effect in mend.effects
        ),
        mend=mend,
        ways=ways,
    )


def _ways(
    mend: Mend, comparison: Comparison, board: Reading, work: ShelfWork | None, jars: Jars
) -> tuple[PaintMend, ...]:
    if work is None:
        return ()
    difference = next(d for d in comparison.differences if d.quantity == mend.quantity)
    labs = None
    if isinstance(difference.target, tuple) and isinstance(difference.board, tuple):
        labs = (difference.board, difference.target)
    return paint_mends(mend, work.fitted, board, jars, labs)


def _recipe_words(way: PaintMend, work: ShelfWork) -> str:
    names = [paint.name for paint in work.fitted.shelf.paints]
    if way.veil is not None:
        ratio = [1, way.veil.carrier] + ([way.veil.water] if way.veil.water else [])
        return tr(
            "mend.veil",
            parts=parts_words([part.parts for part in way.parts]),
            recipe=parts_words(ratio),
            count=way.veil.coats,
        )
    if way.glaze is not None:
        glaze = way.glaze
        ratio = [sum(part.parts for part in glaze.parts), glaze.carrier]
        ratio += [glaze.water] if glaze.water else []
        return tr(
            "mend.glaze",
            names=_listed([names[part.paint] for part in glaze.parts]),
            recipe=parts_words(ratio),
            count=glaze.coats,
        )
    added = [f"{plain_words(part.parts)} {names[part.paint]}" for part in way.added]
    return tr("mend.jar", added=_listed(added))


def _listed(words: list[str]) -> str:
    if len(words) == 1:
        return words[0]
    return tr("words.and", first=", ".join(words[:-1]), last=words[-1])
