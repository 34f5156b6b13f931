"""Readings and board logs for a spreadsheet or another program: CSV, and JSON for the logs.

A reading as JSON is `jar-tide/reading/1` of `store.exchange`.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from jartide.boards.log import EntryKind
from jartide.reading.result import Reading
from jartide.reading.trust.paths import measured_values
from jartide.store.records import Board, Entry
from jartide.store.serialise import converter
from jartide.wording import english

READING_COLUMNS = ("quantity", "value", "low", "high", "sampling_low", "sampling_high")
LOG_COLUMNS = (
    "board", "at", "kind", "who", "where", "pass", "jar", "tool", "carrier_parts", "water_parts",
    "coats", "laid_share", "minutes", "used_ml", "temperature_c", "humidity_percent", "text",
    "corrects", "air_source",
)  # fmt: skip
LOG_SCHEMA = "jar-tide/log/1"


def reading_to_csv(reading: Reading) -> str:
    """Return one row for each quantity; intervals are 90 %, empty where there are none."""
    rows: list[Sequence[Any]] = []
    for number, layer in enumerate(reading.layers):
        path = f"layers[{number}]"
        rows.append((f"{path}.name", english(layer.name)))
        if layer.best_lab is not None:
            rows += [
                (f"{path}.{axis}", _figure(v))
                for axis, v in zip("Lab", layer.best_lab, strict=True)
            ]
        rows += [(f"{path}.coverage", layer.coverage)]
        rows += [(f"{path}.coverage_painted", layer.coverage_painted)]
    rows += list(measured_values(reading.pattern, "pattern"))
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(READING_COLUMNS)
    for path, what in rows:
        if isinstance(what, str):
            writer.writerow((path, what, "", "", "", ""))
        else:
            ends = (*(what.measurement or (None, None)), *(what.sampling or (None, None)))
            writer.writerow((path, _figure(what.value), *map(_figure, ends)))
    return out.getvalue()


def _figure(value: float | None) -> str:
    return "" if value is None else f"{value:.6g}"


def log_to_csv(boards: Iterable[Board], entries: Sequence[Entry], jars: Mapping[str, str]) -> str:
    """Return one row for each entry, oldest first; `jars` are the mixes' names by id.

    An entry that was corrected stays; the one that stands for it names its time.
    """
    out = io.StringIO()
    writer = csv.DictWriter(out, LOG_COLUMNS, restval="", lineterminator="\n")
    writer.writeheader()
    for row in _log_rows(boards, entries, jars):
        writer.writerow(row)
    return out.getvalue()


def log_to_json(boards: Iterable[Board], entries: Sequence[Entry], jars: Mapping[str, str]) -> str:
    """Return the same rows as `jar-tide/log/1`, empty values left out."""
    rows = [{k: v for k, v in row.items() if v != ""} for row in _log_rows(boards, entries, jars)]
    return json.dumps({"schema": LOG_SCHEMA, "entries": rows}, ensure_ascii=False, indent=1)


def _log_rows(
    boards: Iterable[Board], entries: Sequence[Entry], jars: Mapping[str, str]
) -> list[dict[str, Any]]:
    numbers = {board.id: board.number for board in boards}
    times = {entry.id: entry.at for entry in entries}
    rows = []
    for entry in entries:
        logged = entry.logged
        row: dict[str, Any] = {
            "board": numbers.get(entry.board_id, ""),
            "at": entry.at,
            "kind": logged.kind.value,
            "who": logged.who,
            "where": logged.where,
            "text": logged.text,
            "corrects": times.get(entry.corrects, ""),
        }
        if logged.kind is EntryKind.PASS and logged.done is not None:
            done = converter().unstructure(logged.done)
            row |= {"pass": done.pop("name"), "jar": jars.get(done.pop("mix"), "")}
            row |= {key: value for key, value in done.items() if key in LOG_COLUMNS}
        if logged.climate is not None:
            row["temperature_c"] = logged.climate.temperature_c
            row["humidity_percent"] = logged.climate.humidity_percent
            row["air_source"] = logged.climate.source
        rows.append(row)
    return rows
