"""The scale strip: a steel rule that touches the foot of a photo."""

from __future__ import annotations

from jartide.app.kit import Kit, text_width
from jartide.wording import tr

HEIGHT = 26


def draw_scale_strip(kit: Kit, x: float, y: float, w: float, px_per_mm: float | None) -> None:
    """Draw the rule from 0 at its left end; without a scale it says so."""
    kit.fill(x, y, w, HEIGHT, "raised")
    if not px_per_mm:
        kit.text(x + 8, y + 4, tr("scale.none"), 14, 400, "ink2", w - 12)
        return
    # Numbers every so many mm, as close as they can stand without crowding.
    every = next((n for n in (5, 10, 20, 50, 100, 200, 500) if n * px_per_mm >= 46), 1000)
    small = every / 5
    for number in range(int(w / px_per_mm / small + 1e-6) + 1):
        at = x + number * small * px_per_mm
        long = number % 5 == 0
        kit.upright(min(round(at), x + w - 1), y, 12 if long else 6, "ink" if long else "ink3")
    for number in range(int(w / px_per_mm / every + 1e-6) + 1):
        at = x + number * every * px_per_mm
        words = f"{number * every}" + (" mm" if number == 0 else "")
        if at + text_width(words, 14) + 4 < x + w:
            kit.text(at + 4, y + HEIGHT - 19, words, 14, 600 if number == 0 else 400, "ink2")
