"""Dates as the painter's language writes them."""

from __future__ import annotations

from datetime import date

from babel.dates import format_date

from jartide.wording import chosen_language

# Where a language is written in several ways: days come before months.
_LOCALES = {"en": "en_GB"}


def long_date(day: date) -> str:
    """Return a day with its month in words: "14 May 2026"."""
    language = chosen_language()
    return format_date(day, "long", locale=_LOCALES.get(language, language))
