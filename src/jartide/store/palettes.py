"""Palettes out and in: GPL (text), ASE (binary, Lab D50) and CSS variables (out only)."""

from __future__ import annotations

import math
import re
import struct
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jartide.colour.adaptation import lab_d50_to_d65, lab_d65_to_d50
from jartide.colour.spaces import decode_srgb, linear_to_lab, srgb_hex
from jartide.colour.words import Lab
from jartide.errors import PaintError

# The first lines that tell these formats from any other file.
_GPL, _ASE = "GIMP Palette", b"ASEF"
_GROUP_BEGIN, _GROUP_END, _COLOUR = 0xC001, 0xC002, 0x0001
_MOST = 10_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Swatch:
    """A named colour, Lab D65."""

    name: str
    lab: Lab


# ---- out


def write_gpl(swatches: Sequence[Swatch], name: str) -> str:
    """Return a palette as text: red, green, blue 0 to 255, and the name."""
    lines = [_GPL, f"Name: {_one_line(name)}", "Columns: 0", "#"]
    for swatch in swatches:
        red, green, blue = bytes.fromhex(srgb_hex(swatch.lab)[1:])
        lines.append(f"{red:3d} {green:3d} {blue:3d}\t{_one_line(swatch.name)}")
    return "\n".join(lines) + "\n"


def write_ase(swatches: Sequence[Swatch]) -> bytes:
    """Return a palette as ASE: Lab under D50, lightness 0 to 1, big-endian."""
    out = [_ASE, struct.pack(">HHI", 1, 0, len(swatches))]
    for swatch in swatches:
        lightness, a, b = lab_d65_to_d50(swatch.lab)
        words = (swatch.name + "\0").encode("utf-16-be")
        body = struct.pack(">H", len(words) // 2) + words
        body += b"LAB " + struct.pack(">fffH", lightness / 100, a, b, 2)
        out.append(struct.pack(">HI", _COLOUR, len(body)) + body)
    return b"".join(out)


def write_css(swatches: Sequence[Swatch]) -> str:
    """Return custom properties: each colour as sRGB, and as Lab (D50) where it is understood."""
    lines = [":root {"]
    used: dict[str, int] = {}
    for swatch in swatches:
        key = re.sub(r"[^a-z0-9]+", "-", swatch.name.lower()).strip("-") or "colour"
        used[key] = used.get(key, 0) + 1
        key = key if used[key] == 1 else f"{key}-{used[key]}"
        lightness, a, b = lab_d65_to_d50(swatch.lab)
        lines.append(f"  --{key}: {srgb_hex(swatch.lab)};")
        lines.append(f"  --{key}-lab: lab({lightness:.2f}% {a:.2f} {b:.2f});")
    return "\n".join([*lines, "}", ""])


def _one_line(words: str) -> str:
    return " ".join(words.split())


# ---- in


def read_palette(data: bytes, name: str) -> tuple[Swatch, ...]:
    """Return the colours of a GPL or ASE file.

    Raises
    ------
    PaintError : one sentence, when it is neither, or a line or block of it can't be read.
    """
    found = _read_ase(data, name) if data[:4] == _ASE else _read_gpl(data, name)
    if not found:
        raise PaintError("error.palette.empty", name=name)
    return found


def _read_gpl(data: bytes, name: str) -> tuple[Swatch, ...]:
    try:
        lines = data.decode("utf-8-sig").splitlines()
    except UnicodeDecodeError as error:
        raise PaintError("error.palette.kind", name=name) from error
    if not lines or lines[0].strip() != _GPL:
        raise PaintError("error.palette.kind", name=name)
    found = []
    for number, line in enumerate(lines[1:_MOST], 2):
        text = line.strip()
        if not text or text.startswith("#") or re.match(r"(Name|Columns):", text):
            continue
        parts = text.split(None, 3)
        try:
            red, green, blue = (int(part) for part in parts[:3])
        except ValueError:
            red = green = blue = -1
        if not all(0 <= value <= 255 for value in (red, green, blue)):
            raise PaintError("error.palette.line", name=name, line=number)
        encoded = np.array([[red, green, blue]]) / 255.0
        words = parts[3] if len(parts) > 3 else f"{red} {green} {blue}"
        found.append(Swatch(name=words, lab=_lab(linear_to_lab(decode_srgb(encoded))[0])))
    return tuple(found)


def _read_ase(data: bytes, name: str) -> tuple[Swatch, ...]:
    found = []
    try:
        _, _, count = struct.unpack_from(">HHI", data, 4)
        at = 12
        for _ in range(min(count, _MOST)):
            kind, size = struct.unpack_from(">HI", data, at)
            body = data[at + 6 : at + 6 + size]
            if len(body) < size:
                raise struct.error("cut short")
            at += 6 + size
            if kind == _COLOUR:
                found.append(_ase_colour(body))
            elif kind not in (_GROUP_BEGIN, _GROUP_END):
                raise struct.error("unknown block")
    except (struct.error, UnicodeDecodeError, ValueError) as error:
        raise PaintError("error.palette.block", name=name, number=len(found) + 1) from error
    return tuple(found)


def _ase_colour(body: bytes) -> Swatch:
    """One colour block; grey, RGB (taken as sRGB) and Lab are known."""
    (length,) = struct.unpack_from(">H", body, 0)
    words = body[2 : 2 + 2 * length].decode("utf-16-be").rstrip("\0")
    model = body[2 + 2 * length : 6 + 2 * length]
    at = 6 + 2 * length
    if model == b"LAB ":
        lightness, a, b = struct.unpack_from(">fff", body, at)
        lab = lab_d50_to_d65((100 * lightness, a, b))
    elif model == b"RGB ":
        lab = _lab(linear_to_lab(decode_srgb(np.array([struct.unpack_from(">fff", body, at)])))[0])
    elif model == b"Gray":
        (grey,) = struct.unpack_from(">f", body, at)
        lab = _lab(linear_to_lab(decode_srgb(np.array([[grey] * 3])))[0])
    else:
        raise ValueError("colour model")
    if not all(map(math.isfinite, lab)) or not -1 <= lab[0] <= 105 or max(map(abs, lab)) > 250:
        raise ValueError("colour")
    return Swatch(name=words, lab=_lab(lab))


def _lab(values: Sequence[float] | np.ndarray) -> Lab:
    return (float(values[0]), float(values[1]), float(values[2]))
