"""Whole results kept as numbers, so that nothing in them changes unnoticed.

What is true is held elsewhere, against simulated truth and published tables. Here every figure of a
result, also those nobody looks at by itself, is compared with what it was: a change that is meant
is written anew by `tools/make_kept_values.py` and read in the difference.

In a whole reading a last digit that another processor rounds otherwise can move a line, and what
is counted behind it: of those, each number is kept with how far such digits move it. Comparisons
and plans are made of the demo's readings, which are kept as they are.
"""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from enum import Enum
from functools import lru_cache
from importlib.resources import files
from pathlib import Path
from typing import Any

import numpy as np

from jartide.reading.result import Reading
from jartide.store.serialise import reading_from_text

# Digits that are kept; libraries of another build may differ in the last of them.
_DIGITS, _RELATIVE, _ABSOLUTE = 5, 4e-3, 4e-4
# So often a case is made with other last digits, and so many times what moved then is let pass.
_DRAWS, _STEADY = 8, 5.0
# Of so many things one more or less may be found by another build.
_MANY, _ONE_IN = 20, 0.02


@lru_cache(maxsize=1)
def demo_readings() -> dict[str, Reading]:
    """Return the readings that ship with the demo, by the name of their photo."""
    text = files("jartide").joinpath("data/demo/readings.json").read_text("utf-8")
    return {
        name.removesuffix(".jpg"): reading_from_text(json.dumps(data))
        for name, data in json.loads(text).items()
    }


def flat(value: Any, path: str = "") -> dict[str, Any]:
    """Return every number and word of a result by its path; arrays by what sums them up."""
    if isinstance(value, Enum):
        return {path: value.value}
    if isinstance(value, bool | str | int) or value is None:
        return {path: value}
    if isinstance(value, float | np.floating):
        return {path: _rounded(float(value))}
    if isinstance(value, np.ndarray):
        return flat(_summed(value), path)
    found: dict[str, Any] = {}
    if is_dataclass(value):
        items = [(field.name, getattr(value, field.name)) for field in fields(value)]
    elif isinstance(value, Mapping):
        items = sorted((str(key), one) for key, one in value.items())
    elif isinstance(value, frozenset | set):
        items = [(str(n), one) for n, one in enumerate(sorted(value, key=str))]
    elif isinstance(value, tuple | list):
        items = [(str(n), one) for n, one in enumerate(value)]
    else:
        return {path: type(value).__name__}
    for name, one in items:
        found |= flat(one, f"{path}.{name}" if path else name)
    return found


def _rounded(value: float) -> float | str:
    if not math.isfinite(value):
        return str(value)
    return float(f"{value:.{_DIGITS}g}")


def _summed(array: np.ndarray) -> dict[str, Any]:
    """Shape, mean, spread and a weighted sum that tells places apart."""
    plain = np.nan_to_num(np.asarray(array, float), posinf=1e6, neginf=-1e6).ravel()
    if not plain.size:
        return {"shape": list(array.shape)}
    weights = np.cos(np.arange(plain.size) * 0.7)
    return {
        "shape": list(array.shape),
        "mean": float(plain.mean()),
        "spread": float(plain.std()),
        "places": float(plain @ weights / plain.size),
    }


def check(folder: Path, name: str, result: Any) -> None:
    """Compare a result with the kept one; what differs is told, the first ten by their paths."""
    kept = json.loads((folder / f"{name}.json").read_text("utf-8"))
    now = flat(result)
    wrong = [
        f"{path}: {kept.get(path, 'not there')} is now {now.get(path, 'gone')}"
        for path in sorted(kept.keys() | now.keys())
        if path not in kept or path not in now or not _alike(kept[path], now[path])
    ]
    assert not wrong, f"{len(wrong)} of {len(kept)} values of {name}: " + "; ".join(wrong[:10])


def _alike(kept: Any, now: Any) -> bool:
    both = isinstance(kept, float | int) and isinstance(now, float | int)
    if both and not isinstance(kept, bool) and not isinstance(now, bool):
        many = isinstance(kept, int) and abs(kept) >= _MANY
        return math.isclose(kept, now, rel_tol=_ONE_IN if many else _RELATIVE, abs_tol=_ABSOLUTE)
    return bool(kept == now)


def check_steady(folder: Path, name: str, result: Any) -> None:
    """Compare with what was kept by `write_steady`, each number within its own tolerance."""
    kept = json.loads((folder / f"{name}.json").read_text("utf-8"))
    now = flat(result)
    wrong = [
        f"{path}: {was} is now {now.get(path, 'gone')}"
        for path, was in kept.items()
        if path not in now or not _within(was, now[path])
    ]
    assert not wrong, f"{len(wrong)} of {len(kept)} values of {name}: " + "; ".join(wrong[:10])


def _within(kept: Any, now: Any) -> bool:
    if not isinstance(kept, list):
        return bool(kept == now)
    return isinstance(now, float | int) and abs(now - kept[0]) <= kept[1]


def write_steady(
    folder: Path, cases: Mapping[str, Callable[[np.random.Generator | None], Any]]
) -> None:
    """Keep what stays of every case when the last digits of its picture are others.

    Each case is made plain, and again with digits of chance. A number is kept with five times the
    most it moved as its tolerance; a word, or a part of the result, that comes and goes is not.
    """
    folder.mkdir(parents=True, exist_ok=True)
    for name, make in cases.items():
        plain = flat(make(None))
        others = [flat(make(np.random.default_rng(n))) for n in range(_DRAWS)]
        kept = {
            path: told
            for path in sorted(plain)
            if (told := _steady(plain[path], [other.get(path) for other in others])) is not None
        }
        lines = ",\n".join(f"{json.dumps(path)}: {json.dumps(kept[path])}" for path in kept)
        (folder / f"{name}.json").write_text(f"{{\n{lines}\n}}\n", "utf-8")


def _steady(plain: Any, others: list[Any]) -> Any:
    """A number with its tolerance, a word that is always the same, or None."""
    if isinstance(plain, bool) or not isinstance(plain, float | int):
        return plain if all(plain == other for other in others) else None
    if not all(isinstance(other, float | int) for other in others):
        return None
    most = max(abs(other - plain) for other in others)
    return [plain, float(f"{max(_STEADY * most, _RELATIVE * abs(plain), _ABSOLUTE):.3g}")]


def write(folder: Path, cases: Mapping[str, Callable[[], Any]]) -> None:
    """Keep every case's result as it is now."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, make in cases.items():
        text = json.dumps(flat(make()), indent=0, sort_keys=True)
        (folder / f"{name}.json").write_text(text + "\n", "utf-8")
