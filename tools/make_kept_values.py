"""Keep whole results as they are now: tests compare with them, a change is read in the difference.

python tools/make_kept_values.py [PACKAGE ...]      reading, boards, paint, photo, plan; all without
"""

from __future__ import annotations

import sys
from importlib import import_module
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.kept_values import write, write_steady

MODULES = {
    "reading": ("test_kept_measures", "test_kept_readings"),
    "boards": ("test_kept_values", "test_kept_advice"),
    "paint": ("test_kept_values", "test_kept_amounts"),
    "photo": ("test_kept_values", "test_kept_by_hand"),
    "plan": ("test_kept_values", "test_kept_decisions"),
}
# Last digits change what is found in them: kept with how far.
UNSTEADY = ("test_kept_readings",)


def main(*packages: str) -> None:
    """Write every case of the packages named."""
    for package in packages or MODULES:
        for name in MODULES[package]:
            module = import_module(f"tests.{package}.{name}")
            keep = write_steady if name in UNSTEADY else write
            keep(module.FOLDER, module.CASES)


if __name__ == "__main__":
    main(*sys.argv[1:])
