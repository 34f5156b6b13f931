"""The one thing worth saying of a reading in the foot."""

from __future__ import annotations

from jartide.app.stations.reading.views import spread_words
from jartide.job.open_job import OpenJob
from jartide.job.words.layers import relief_words
from jartide.reading.result import Reading
from jartide.wording import say, tr


def suggested_family(job: OpenJob, reading: Reading | None) -> str | None:
    """Return the family the photo looks like, where the painter has named none."""
    finish = job.finish
    if reading is None or finish is None or finish.family != "auto":
        return None
    return reading.family if reading.family != "auto" else None


def reading_note(job: OpenJob, reading: Reading, suggested: str | None) -> str:
    """Return what to look at or to be careful of, the weightiest first."""
    together, count = job.readings.together(), len(job.records.targets())
    doubts = [layer for layer in reading.layers if layer.lab is None]
    if suggested is not None:
        sure = reading.family_confidence or 0.0
        how = "certain" if sure >= 0.85 else "fairly" if sure >= 0.65 else "guess"
        return tr(f"reading.looks_like.{how}", family=tr(f"family.{suggested}").lower())
    if together is not None and together.odd:
        return tr("reading.odd_photo", number=together.odd[0] + 1, all=count)
    if reading.mm_per_px is None:
        return tr("warning.no_scale")
    if doubts:
        return tr("warning.layer_too_fine", name=say(doubts[0].name))
    if not reading.balance_known:
        return tr("warning.no_neutral")
    if together is not None and count > 1:
        return tr("reading.together", all=count, spread=spread_words(together))
    return relief_words(reading.relief) or tr("reading.pick_hint")
