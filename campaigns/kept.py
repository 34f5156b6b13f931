"""Counts of all runs of the campaigns, and the page that is written from them."""

from __future__ import annotations

import json
from pathlib import Path

from campaigns.campaign import Outcome

_COUNTS = Path(__file__).with_name("counts.json")
_PAGE = Path(__file__).resolve().parents[1] / "docs/reliability.md"
_BEGINS, _ENDS = "<!-- counts -->", "<!-- end of counts -->"


def keep(name: str, promise: str, outcome: Outcome) -> None:
    """Add a run to the counts, and write them into docs/reliability.md."""
    counts = json.loads(_COUNTS.read_text("utf-8")) if _COUNTS.exists() else {}
    own = counts.setdefault(name, {"attacks": 0, "seconds": 0, "seeds": []})
    own["promise"] = promise
    own["attacks"] += outcome.count
    own["seconds"] = round(own["seconds"] + outcome.seconds)
    own["seeds"].append([outcome.seed, outcome.count])
    # What was found is mended before the next run: the last run says how it stands.
    own["last"] = {"attacks": outcome.count, "faults": len(outcome.faults)}
    _COUNTS.write_text(json.dumps(counts, indent=1, ensure_ascii=False) + "\n", "utf-8")
    _write_page(counts)


def _write_page(counts: dict) -> None:
    page = _PAGE.read_text("utf-8")
    begins, ends = page.index(_BEGINS) + len(_BEGINS), page.index(_ENDS)
    rows = ["| Campaign | Promise | Attacks in all | Last run | Faults |", "|---|---|---|---|---|"]
    for name, own in counts.items():
        last = own["last"]
        told = (name, own["promise"], own["attacks"], last["attacks"], last["faults"])
        rows.append(f"| {' | '.join(map(str, told))} |")
    _PAGE.write_text(page[:begins] + "\n" + "\n".join(rows) + "\n" + page[ends:], "utf-8")
