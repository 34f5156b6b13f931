"""What a step's binder and thinning mean: oil for water, and how far a label lets it be thinned."""

from __future__ import annotations

from dataclasses import replace

from jartide.plan.step import Step
from jartide.plan.technique import Product

# Oil stays open for hours and wants a night and more before the next coat.
_OIL_OPEN_MIN, _OIL_DRY_H = 120.0, 24.0
# Solvent-free oil is through after about a week; sooner it moves under what comes over it.
OIL_CURES_H = 168.0
# Most parts of water to one of what it thins, where no label was entered: rules of thumb.
_LIMITS = {
    Product.GLAZE: 0.3,
    Product.MEDIUM: 0.3,
    Product.CLEAR: 0.1,
    Product.PRIMER: 0.05,
    Product.METAL: 0.05,
}
_PAINT_LIMIT = 0.2


def in_oil(step: Step) -> Step:
    """Return a step done with an oil product in place of a water-borne one."""
    if step.binder != "water":
        return step
    dry = max(step.dry_h, _OIL_DRY_H)
    open_min = _OIL_OPEN_MIN if step.open_min else 0.0
    return replace(step, binder="oil", water=0.0, open_min=open_min, dry_h=dry)


def water_limit(product: Product, label: float | None = None) -> float:
    """Return the most parts of water to one part; a tin's own label goes first."""
    return _LIMITS.get(product, _PAINT_LIMIT) if label is None else label


def is_over_thinned(step: Step, label: float | None = None) -> bool:
    """Whether a step has more water in it than the label allows."""
    limit = water_limit(step.product, label)
    return step.lays and step.water > limit * (1 + step.carrier) + 1e-9


def thinned_with_carrier(step: Step, label: float | None = None) -> Step:
    """Return the step with the water it may not have replaced by carrier, as thin as before."""
    if not is_over_thinned(step, label):
        return step
    whole = step.carrier + step.water
    # water = limit (1 + carrier), and both together stay what they were.
    limit = water_limit(step.product, label)
    carrier = max((whole - limit) / (1 + limit), 0.0)
    # Rounded towards the carrier, so that it stays within the limit.
    carrier = -(-carrier * 10 // 1) / 10
    return replace(step, carrier=carrier, water=max(int(10 * (whole - carrier)) / 10, 0.0))
