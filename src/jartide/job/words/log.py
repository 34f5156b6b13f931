"""What the log of a board says, in words: for its page and for the job sheet."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from jartide.boards.log import Logged, PassDone
from jartide.figures import plain_figure
from jartide.job.words.numbers import percent_words
from jartide.store.records import Entry
from jartide.wording import tr


def standing(entries: Iterable[Entry]) -> list[Entry]:
    """Return the entries that hold: a corrected one gives its place to its correction."""
    found: list[Entry] = []
    places: dict[str, int] = {}
    for entry in entries:
        place = places.get(entry.corrects or "")
        if place is None:
            places[entry.id] = len(found)
            found.append(entry)
        else:
            # It stands under the first one's name: photos of stages know that one.
            found[place] = replace(entry, id=found[place].id, at=found[place].at)
    return found


def passes_of(entries: Iterable[Entry]) -> list[PassDone]:
    """Return a recipe: the passes that hold, in the order they were done."""
    return [e.logged.done for e in standing(entries) if e.logged.done is not None]


def pass_words(logged: Logged, done: PassDone) -> str:
    """Return how a pass was done: tool, dilution, coats, amount, share, who."""
    words = [done.tool] if done.tool else []
    if done.carrier_parts:
        words.append(tr("log.carrier_words", parts=plain_figure(done.carrier_parts)))
    if done.water_parts:
        words.append(tr("log.water_words", parts=plain_figure(done.water_parts)))
    if done.coats != 1:
        words.append(tr("log.coats_words", count=done.coats))
    if done.used_ml:
        words.append(tr("unit.ml", value=plain_figure(done.used_ml)))
    if done.laid_share < 1:
        words.append(tr("log.share_words", share=percent_words(done.laid_share)))
    if logged.who:
        words.append(logged.who)
    return ", ".join(words)


def log_line(entries: Iterable[Entry]) -> str:
    """Return a board's whole log as one line: its passes in their order, and the work in all."""
    passes = [(e.logged, e.logged.done) for e in standing(entries) if e.logged.done is not None]
    told = []
    for logged, done in passes:
        how = pass_words(logged, done)
        # A ratio is not parted at the end of a line.
        how = how.replace(" : ", "\u00a0:\u00a0")
        told.append(f"{done.name} ({how})" if how else done.name)
    minutes = round(sum(done.minutes or 0 for _, done in passes))
    words = "; ".join(told)
    work = tr("log.total", count=minutes) if minutes else ""
    return " ".join(filter(None, (f"{words}." if words else "", work)))
