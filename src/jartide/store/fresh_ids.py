"""The same records under ids of their own: what refers to one of them goes along."""

from __future__ import annotations

import json
from collections.abc import Sequence

from jartide.store.jar_records import Tin
from jartide.store.records import Record, new_id
from jartide.store.serialise import converter


def with_fresh_ids(records: Sequence[Record]) -> tuple[Record, ...]:
    """Return copies of records under new ids; tins are shared by all jobs and keep theirs."""
    text = json.dumps([converter().unstructure(record) for record in records])
    for record in records:
        if not isinstance(record, Tin):
            text = text.replace(record.id, new_id())
    return tuple(
        converter().structure(plain, type(record))
        for plain, record in zip(json.loads(text), records, strict=True)
    )
