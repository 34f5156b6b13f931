"""Write the plans of the thirty pieces as text, to be read and then kept: tests compare with them.

python tools/make_golden_plans.py tests/plan/golden
"""

from __future__ import annotations

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.plan.pieces import PIECES, as_text


def main(folder: str) -> None:
    """Write one file for each piece."""
    place = Path(folder)
    place.mkdir(parents=True, exist_ok=True)
    for name in PIECES:
        (place / f"{name.replace(' ', '-').replace(',', '')}.txt").write_text(
            as_text(name), "utf-8"
        )


if __name__ == "__main__":
    main(*sys.argv[1:])
