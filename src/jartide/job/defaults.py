"""What new work begins with: units, money, viewing distance, tolerance."""

from __future__ import annotations

from dataclasses import asdict, dataclass

from jartide.boards.result import TOLERANCE, USUAL_VIEWING_M
from jartide.job.records import Records
from jartide.store.workspace import Workspace

_NAME = "defaults"


@dataclass(frozen=True, slots=True, kw_only=True)
class Defaults:
    """The painter's usual values; a finish or a plan that has its own keeps them."""

    units: str = "metric"
    currency: str = "€"
    viewing_m: float = USUAL_VIEWING_M
    tolerance: float = TOLERANCE


def read_defaults(workspace: Workspace | None) -> Defaults:
    """Return the values kept; of what is missing or makes no sense, the usual ones."""
    kept = None if workspace is None else workspace.preference(_NAME)
    usual = Defaults()
    if not isinstance(kept, dict):
        return usual
    viewing, tolerance = kept.get("viewing_m"), kept.get("tolerance")
    return Defaults(
        units=kept["units"] if kept.get("units") in ("metric", "us") else usual.units,
        currency=str(kept.get("currency", usual.currency))[:6],
        viewing_m=viewing if isinstance(viewing, int | float) else usual.viewing_m,
        tolerance=tolerance if isinstance(tolerance, int | float) else usual.tolerance,
    )


def keep_defaults(records: Records, defaults: Defaults) -> None:
    """Keep the values."""
    records.set_preference(_NAME, asdict(defaults))
