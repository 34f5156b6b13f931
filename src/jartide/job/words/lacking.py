"""What to say of photos whose originals did not come along."""

from __future__ import annotations

from collections.abc import Sequence

from jartide.wording import tr

_NAMED = 3


def with_lacking(words: str, names: Sequence[str]) -> str:
    """Return a sentence, with another behind it that names the photos that are lacking."""
    if not names:
        return words
    named = ", ".join(names[:_NAMED])
    return f"{words} {tr('photos.lacking', count=len(names), names=named)}"
