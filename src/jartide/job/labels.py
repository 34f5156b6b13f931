"""What the label of a jar says."""

from __future__ import annotations

from datetime import datetime

from jartide.colour.spaces import srgb_hex
from jartide.job.jars import JarState
from jartide.job.measured_parts import measured_parts, part_name, small_jar_words
from jartide.job.records import Records
from jartide.job.shelf import Shelf
from jartide.job.words.dates import long_date
from jartide.job.words.jars import count_words, ml_words
from jartide.sheet.jar_label import Label
from jartide.wording import tr


def label_of(records: Records, state: JarState, shelf: Shelf) -> Label:
    """Return what the label of a jar says."""
    mix, job, finish = state.mix, records.job(), records.finish
    names = shelf.tin_names()
    measured = measured_parts(mix.parts)
    parts = [(count_words(part.count), part_name(part, names)) for part in measured]
    if mix.carrier:
        parts.append((count_words(mix.carrier), tr("jars.carrier")))
    if mix.water:
        parts.append((count_words(mix.water), tr("jars.water")))
    lines = []
    if mix.mixed_at:
        date = long_date(datetime.fromisoformat(mix.mixed_at).date())
        lines.append(tr("label.mixed", date=date, ml=ml_words(mix.mixed_ml)))
    lines += filter(None, (small_jar_words(part, names) for part in measured))
    lines.append(tr("label.caution"))
    shown = state.shown.lab if state.shown is not None else mix.target
    return Label(
        title=mix.name,
        job=", ".join(one.name for one in (finish, job) if one is not None),
        parts=tuple(parts),
        lines=tuple(lines),
        srgb=None if shown is None else srgb_hex(shown),
    )
