"""Bytes and texts that are almost right."""

from __future__ import annotations

import json
from typing import Any

import numpy as np

_TOKENS = (
    b"\0", b"\xff", b"-1", b"1e309", b"NaN", b"9" * 40, b'"', b"\n", b";;;", b"\xef\xbb\xbf",
    b"\xed\xa0\x80", b"../", b"%s", b"{}", b"\r",
)  # fmt: skip
# Values that some field will not take.
VALUES: tuple[Any, ...] = (
    None, "", 0, -1, 1e300, -1e300, 1e-300, 2**63, 10**30, True, [], {}, [[]], "x" * 5000, "\0",
    "\u202e", "9999-12-31", "0000-00-00", [1, 2], {"a": 1}, 0.5, 10**9, "NaN", [None] * 50,
)  # fmt: skip


def mutated(data: bytes, rng: np.random.Generator) -> bytes:
    """Return bytes with one to eight faults: changed, cut, doubled, put in or moved."""
    out = bytearray(data)
    for _ in range(int(rng.integers(1, 9))):
        if not out:
            break
        at = int(rng.integers(0, len(out)))
        length = int(min(rng.geometric(0.02), len(out) - at))
        match int(rng.integers(0, 7)):
            case 0:
                out[at] = int(rng.integers(0, 256))
            case 1:
                out[at] ^= 1 << int(rng.integers(0, 8))
            case 2:
                del out[at : at + length]
            case 3:
                out[at:at] = out[at : at + length]
            case 4:
                out[at:at] = _TOKENS[int(rng.integers(0, len(_TOKENS)))]
            case 5:
                # Sizes and offsets are numbers of four bytes.
                value = int(rng.choice([0, 1, 0x7FFFFFFF, 0xFFFFFFFF, 0x10000]))
                out[at : at + 4] = value.to_bytes(4, "little")[: len(out) - at]
            case _:
                if rng.random() < 0.2:
                    del out[at:]
                else:
                    out[at : at + length] = rng.bytes(length)
    return bytes(out)


def mutated_json(plain: Any, rng: np.random.Generator) -> Any:
    """Return JSON data with one to three of its values, at any depth, replaced by others."""
    plain = json.loads(json.dumps(plain))
    for _ in range(int(rng.integers(1, 4))):
        holder, key = None, None
        here = plain
        while isinstance(here, dict | list) and here:
            holder = here
            keys = list(here) if isinstance(here, dict) else range(len(here))
            key = keys[int(rng.integers(0, len(keys)))]
            here = holder[key]
            if rng.random() < 0.15:
                break
        if holder is not None:
            holder[key] = VALUES[int(rng.integers(0, len(VALUES)))]
    return plain
