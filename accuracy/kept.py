"""The figures that were kept: accuracy/results.json, and the page of docs that shows them."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass
from datetime import date
from pathlib import Path

RESULTS = Path(__file__).parent / "results.json"
PAGE = Path(__file__).parents[1] / "docs" / "figures.md"

_HEAD = """# Figures, measured

What `make accuracy` measured against surfaces, photos, paints and boards that were drawn with
known truth, and the goal beside it. Seeds are fixed, so that anybody can measure it again.
[measures.md](measures.md), [photos.md](photos.md), [mixing.md](mixing.md) and
[steps.md](steps.md) define what is measured. A figure is an error in the unit its name says;
smaller is better, **missed** says that the goal was not reached, and the day is the one on which
the figure was kept. This page is written by `python -m accuracy --keep`.
"""

# Parts in the order of the work, and what they are about.
_TITLES = {
    "geometry": "Squaring and scale",
    "colours": "Colours of a photo",
    "light": "Uneven light",
    "surfaces": "Whole surfaces",
    "layers": "Layers",
    "soft": "Layers whose tones pass into each other",
    "veins": "Veins with soft edges",
    "pattern": "Measures of the pattern",
    "scales": "At coarser scales",
    "families": "Which family it looks like",
    "repeats": "Repeats",
    "boards": "Boards against their target",
    "pairs": "Comparing pairs",
    "fresh": "Boards painted afresh",
    "cases": "Boards with one fault each",
    "mending": "Advice followed",
    "watching": "Watching a reaction",
    "mixes": "Mixes and glazes",
    "schedules": "Order of work",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept:
    """One figure: its part of the measurements, error, goal, the day, and whether of few seeds."""

    part: str
    error: float
    goal: float
    day: str
    quick: bool


def today() -> str:
    """Return the day a figure is kept under."""
    return date.today().isoformat()


def read_kept() -> dict[str, Kept]:
    """Return the kept figures by name; none where nothing was kept yet."""
    if not RESULTS.exists():
        return {}
    told = json.loads(RESULTS.read_text(encoding="utf-8"))
    return {name: Kept(**one) for name, one in told.items()}


def write_kept(kept: dict[str, Kept]) -> None:
    """Keep the figures, and write the page that shows them."""
    told = {name: asdict(one) for name, one in sorted(kept.items())}
    RESULTS.write_text(json.dumps(told, indent=1) + "\n", encoding="utf-8")
    PAGE.write_text(page(kept), encoding="utf-8")


def page(kept: dict[str, Kept]) -> str:
    """Return docs/figures.md: the figures of the full runs, part by part."""
    lines = [_HEAD]
    for part, title in _TITLES.items():
        rows = [(n, one) for n, one in kept.items() if one.part == part and not one.quick]
        if not rows:
            continue
        lines += [f"## {title}", "", "| what | error | goal | | day |", "|---|---:|---:|---|---|"]
        for name, one in sorted(rows):
            note = "missed" if one.error > one.goal else ""
            told = name.replace("|", "\\|")
            lines.append(f"| {told} | {one.error:.3g} | {one.goal:.3g} | {note} | {one.day} |")
        lines.append("")
    return "\n".join(lines)
