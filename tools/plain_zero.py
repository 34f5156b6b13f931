"""Make the shipped fonts: the open-licensed typeface with a zero that has no slash.

    python tools/plain_zero.py FOLDER_OF_ORIGINALS src/jartide/data/fonts

In lists of millimetres and parts a slashed zero reads as a strike. The licence
(OFL 1.1) allows changed versions; the family is renamed so that both can be installed.
"""

from __future__ import annotations

import sys
from pathlib import Path

from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

FAMILY = "Jar Tide Sans"


def plain(font: TTFont) -> None:
    """Replace the two half counters beside the slash by one whole counter."""
    table = font["glyf"]
    glyph = table["zero"]
    points, ends, flags = glyph.getCoordinates(table)
    outer = [tuple(p) for p in points[: ends[0] + 1]]
    on_curve = list(flags[: ends[0] + 1])
    counters = points[ends[0] + 1 :]
    left, right = min(x for x, _ in counters), max(x for x, _ in counters)
    low, high = min(y for _, y in counters), max(y for _, y in counters)
    x0, x1 = min(x for x, _ in outer), max(x for x, _ in outer)
    y0, y1 = min(y for _, y in outer), max(y for _, y in outer)
    inner = [
        (
            round(left + (x - x0) * (right - left) / (x1 - x0)),
            round(low + (y - y0) * (high - low) / (y1 - y0)),
        )
        for x, y in outer
    ]
    pen = TTGlyphPen(None)
    for contour, on in ((outer, on_curve), (inner[::-1], on_curve[::-1])):
        _draw(pen, contour, on)
    table["zero"] = pen.glyph()


def _draw(pen: TTGlyphPen, contour: list, on_curve: list) -> None:
    start = next(i for i, on in enumerate(on_curve) if on & 1)
    points = contour[start:] + contour[:start]
    flags = on_curve[start:] + on_curve[:start]
    pen.moveTo(points[0])
    waiting: list = []
    for point, on in [*zip(points[1:], flags[1:], strict=True), (points[0], 1)]:
        if not on & 1:
            waiting.append(point)
        elif waiting:
            pen.qCurveTo(*waiting, point)
            waiting = []
        else:
            pen.lineTo(point)
    pen.closePath()


def rename(font: TTFont) -> None:
    """Give the changed font its own family name."""
    for record in font["name"].names:
        if record.nameID in (1, 3, 4, 6, 16):
            old = record.toUnicode()
            name = old.replace("Atkinson Hyperlegible Next", FAMILY)
            name = name.replace("AtkinsonHyperlegibleNext", FAMILY.replace(" ", ""))
            record.string = name


def main(source: Path, target: Path) -> None:
    for path in sorted(source.glob("*.ttf")):
        font = TTFont(path)
        plain(font)
        rename(font)
        weight = path.stem.split("_")[-1]
        font.save(target / f"JarTideSans_{weight}.ttf")


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
