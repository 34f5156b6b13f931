"""Keep whole results as they are now: tests compare with them, a change is read in the difference.

python tools/make_kept_values.py [PACKAGE ...]      reading, boards, paint, photo, plan; all without
"""

from __future__ import annotations

import sys
from importlib import import_module
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.kept_values import write

PACKAGES = ("reading", "boards", "paint", "photo", "plan")


def main(*packages: str) -> None:
    """Write every case of the packages named."""
    for package in packages or PACKAGES:
        module = import_module(f"tests.{package}.test_kept_values")
        write(module.FOLDER, module.CASES)


if __name__ == "__main__":
    main(*sys.argv[1:])
