"""All text for people comes from one catalogue, by message id and parameters.

`data/locale/<language>/LC_MESSAGES/jartide.po` holds the words (gettext; the
.mo beside it is compiled by `make wording`). Core results carry `Message`s;
only what prints or paints turns them into words.
"""

from __future__ import annotations

import gettext
from functools import lru_cache
from importlib.resources import files

from jartide.figures import Figure, in_figures


class Message:
    """A message id with its parameters; parameters may be messages themselves.

    `count` picks between singular and plural wording.
    """

    __slots__ = ("count", "id", "parameters")

    def __init__(self, id: str, *, count: int | None = None, **parameters: object) -> None:
        self.id = id
        self.count = count
        self.parameters = parameters

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Message) and (self.id, self.count, self.parameters) == (
            other.id,
            other.count,
            other.parameters,
        )

    def __hash__(self) -> int:
        return hash((self.id, self.count, tuple(sorted(self.parameters))))

    def __repr__(self) -> str:
        return f"Message({self.id!r}, count={self.count}, **{self.parameters!r})"

    def __str__(self) -> str:
        return say(self)


@lru_cache(maxsize=4)
def _catalogue(language: str) -> gettext.NullTranslations:
    path = files("jartide").joinpath(f"data/locale/{language}/LC_MESSAGES/jartide.mo")
    with path.open("rb") as file:
        found = gettext.GNUTranslations(file)
    if language != "en":
        found.add_fallback(_catalogue("en"))
    return found


# One per process: what is painted and printed speaks one language at a time.
_chosen = "en"


def choose_language(language: str) -> None:
    """Choose the language of everything that is said from now on."""
    global _chosen
    _catalogue(language)  # one there is not fails here and changes nothing
    _chosen = language


def chosen_language() -> str:
    """Return the language everything is said in."""
    return _chosen


def languages() -> tuple[str, ...]:
    """Return the languages there are words in, English first."""
    found = sorted(
        one.name for one in files("jartide").joinpath("data/locale").iterdir() if one.is_dir()
    )
    return ("en", *(name for name in found if name != "en"))


def english(message: Message) -> str:
    """Return the English words of a message: for formats that programs read."""
    return say(message, "en")


def say(message: Message, language: str | None = None) -> str:
    """Return the words of a message, in the language chosen unless one is named."""
    language = language or _chosen
    catalogue = _catalogue(language)
    if message.count is None:
        pattern = catalogue.gettext(message.id)
    else:
        pattern = catalogue.ngettext(message.id, message.id + ".many", message.count)
    parameters = {name: _worded(value, language) for name, value in message.parameters.items()}
    return pattern.format(n=message.count, **parameters)


def _worded(value: object, language: str) -> object:
    if isinstance(value, Message):
        return say(value, language)
    return in_figures(value, language) if isinstance(value, Figure) else value


def in_language(text: str) -> str:
    """Return a text that may stand in a shipped table: its words, or itself when typed by hand."""
    return _catalogue(_chosen).gettext(text) if text else ""


def tr(id: str, *, count: int | None = None, **parameters: object) -> str:
    """Return the words of a message id at once: for what paints and prints."""
    return say(Message(id, count=count, **parameters))


def known_ids(language: str = "en") -> frozenset[str]:
    """Return every message id the catalogue has words for."""
    catalogue = _catalogue(language)
    assert isinstance(catalogue, gettext.GNUTranslations)
    keys = catalogue._catalog  # type: ignore[attr-defined]
    return frozenset(key[0] if isinstance(key, tuple) else key for key in keys if key)
