"""One number of a reading as the plan takes it: exact until it is put into words."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from jartide.figures import Figure, figure, short_figure
from jartide.measures.shown import share_shown
from jartide.wording import Message


class Said(StrEnum):
    """How a number is said."""

    SIZE = "size"  # millimetres: to 0.1 below 10, whole above
    WHOLE = "whole"
    TENTH = "tenth"
    SHARE = "share"  # in percent
    DEGREES = "degrees"  # whole, of an undirected axis


@dataclass(frozen=True, slots=True)
class Fact:
    """A number, and how it is said."""

    value: float
    said: Said

    def words(self) -> Figure | Message | str:
        """Return it as it stands in a sentence."""
        match self.said:
            case Said.SIZE:
                return short_figure(self.value)
            case Said.TENTH:
                return figure(self.value, 1)
            case Said.SHARE:
                return share_shown(self.value)
            case Said.DEGREES:
                return f"{round(self.value) % 180}"
        return figure(self.value)


# What a text of a table may name: a number, words that stand for themselves, or nothing known.
Facts = dict[str, Fact | Message | None]


def in_words(fact: Fact | Message) -> Figure | Message | str:
    """Return what a fact is in a sentence."""
    return fact.words() if isinstance(fact, Fact) else fact
