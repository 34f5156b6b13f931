"""Paint order and roles: what lies under what, and the reasons.

Evidence for each two layers that touch is weighed together: who cuts whose
edges, who bulges into whom, who is thinner, and the family's usual order. The
order that agrees best with all pairs is found exactly, over all orders.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jartide.families import Family
from jartide.reading.layers.shapes import RimShapes, Shapes
from jartide.reading.result import Role

# A woven or brushed finish is of threads and strokes all over, however they cross; only what is
# deeper than a thread is a patch on it.
_DEEPER_THAN_THREADS_MM = 1.0
# Pieces four times as tall as wide.
_UPRIGHT = 0.6
_SPECK_MAX_COVERAGE = 0.08
_SPECK_MAX_AREA_MM2 = 100.0


class Why(StrEnum):
    """Reasons that one layer lies over another; the values are parts of message ids."""

    CUTS = "cuts"
    BULGES = "bulges"
    THIN = "thin"
    USUAL = "usual"
    HOLLOWS = "hollows"
    BY_HAND = "by_hand"


# How much each kind of evidence says; fitted once on the simulated surfaces of both
# generators and rounded. Cut and bulge count by how often or how long they were seen.
_CUTS, _BULGE, _THIN, _USUAL, _LIGHT = 1.5, 1.5, 2.5, 0.4, 0.08
_WHOLE = 0.8
# Lines that cross each other; grain and cracks do not.
_CROSSING = (Role.VEIN, Role.THREAD, Role.BRUSH)
# The same for the lowest of all: how broad it is, and the family's usual ground.
_BROAD, _GROUND = 0.5, 2.2


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class OrderEvidence:
    """For each two of K layers how much says that the first lies over the second, (K, K) each."""

    of: dict[Why, np.ndarray]

    @property
    def total(self) -> np.ndarray:
        """All of it together, (K, K)."""
        return np.sum(list(self.of.values()), axis=0)

    def strongest(self, upper: int, lower: int) -> Why:
        """Return what says most that one lies over another."""
        return max(self.of, key=lambda why: float(self.of[why][upper, lower]))


def roles_of(
    shapes: Shapes, ground: int | None, family: Family, mm_per_px: float | None
) -> list[Role]:
    """Return the role of each layer; without a ground, as if none were it."""
    roles = []
    for k in range(len(shapes.coverage)):
        piece = shapes.piece_px[k] * (mm_per_px or 0.3) ** 2
        if k == ground:
            roles.append(Role.GROUND)
        elif shapes.line_likeness[k] > 0:
            # What is long, narrow and upright on metal that weathers is a drip.
            runs = family.runs and shapes.falls[k] > _UPRIGHT
            roles.append(Role.RUN if runs else Role(family.lines_role))
        elif (
            shapes.coverage[k] < _SPECK_MAX_COVERAGE
            and piece < _SPECK_MAX_AREA_MM2
            and shapes.roundness[k] > 0.55
        ):
            roles.append(Role.SPECK)
        elif _all_over(family, shapes.depth_px[k] * (mm_per_px or 0.3)):
            roles.append(Role(family.lines_role))
        else:
            roles.append(Role(family.patches_role))
    if family.ground == "net" and ground is not None:
        # What broke into cells is the broadest of what lies over the net.
        broad = [k for k, role in enumerate(roles) if role is Role(family.patches_role)]
        if broad:
            roles[max(broad, key=lambda k: shapes.coverage[k])] = Role.CELL
    return roles


def _all_over(family: Family, depth_mm: float) -> bool:
    """Whether a layer of a finish that is all threads or strokes is of them, too."""
    if family.lines_role == Role.THREAD:
        return depth_mm < _DEEPER_THAN_THREADS_MM
    return family.lines_role == Role.BRUSH


def evidence_of(
    shapes: Shapes, tones: np.ndarray, roles: list[Role], family: Family
) -> OrderEvidence:
    """Weigh what says who lies over whom; `tones` are (K, 3) Lab."""
    rank = np.array([_rank(role, family) for role in roles])
    smaller = np.log((shapes.coverage[None] + 0.01) / (shapes.coverage[:, None] + 0.01))
    seen_often = 1 - np.exp(-shapes.met / 8)
    usual = _USUAL * np.sign(rank[:, None] - rank[None])
    if family.light_last:
        same = rank[:, None] == rank[None]
        usual = usual + _LIGHT * same * (tones[:, None, 0] - tones[None, :, 0])
    # Of lines that cross, the upper run on whole and the lower are cut to pieces.
    lines = np.array([role in _CROSSING for role in roles])
    piece = np.log(np.maximum(shapes.piece_px, 1.0))
    whole = np.clip(piece[:, None] - piece[None], -2, 2) * (lines[:, None] & lines[None])
    return OrderEvidence(
        of={
            Why.CUTS: _CUTS * shapes.cuts * seen_often + _WHOLE * whole,
            Why.BULGES: _BULGE * shapes.bulge,
            Why.THIN: _THIN * smaller,
            Why.USUAL: usual,
        }
    )


def _rank(role: Role, family: Family) -> float:
    """How far up a role usually lies."""
    usual = family.order
    return float(usual.index(role)) if role in usual else 0.5 * len(usual)


def ground_scores(shapes: Shapes, tones: np.ndarray, family: Family) -> np.ndarray:
    """Return how much speaks for each of (K, 3) tones as the lowest, beside the pairs, (K,)."""
    broad = shapes.coverage >= max(0.08, 0.2 * shapes.coverage.max())
    if family.ground == "net":
        # What shows in the cracks lies below the coat that broke.
        net = shapes.line_likeness + np.log(np.maximum(shapes.coverage, 1e-4) / 0.05)
        return np.where(np.arange(len(net)) == net.argmax(), 3.0, 0.0)
    score = _BROAD * shapes.coverage - 0.8 * (shapes.line_likeness > 0)
    if family.ground != "broad":
        darkness = -tones[:, 0] if family.ground == "dark" else tones[:, 0]
        candidates = np.flatnonzero(broad & (shapes.line_likeness <= 0))
        if candidates.size:
            score[candidates[darkness[candidates].argmax()]] += _GROUND
    score[~broad] -= 1.5
    return score


def paint_order(shapes: Shapes, evidence: OrderEvidence, base: np.ndarray) -> list[int]:
    """Return the numbers base first: the order that agrees best with the evidence; `base` is (K,).

    Every pair adds its evidence, bounded, by how much the two touch; the lowest adds
    its own score. Found exactly by dynamic programming over sets of layers (Held & Karp
    1962), since there are eight at most.
    """
    # Pairs that hardly touch say little about each other.
    touch = np.sqrt(shapes.contact / max(float(shapes.contact.max()), 1e-9)) + 0.08
    over = np.tanh(evidence.total) * touch
    # What usually lies over what is said of layers that lie on the ground, not of the ground.
    over_ground = np.tanh(evidence.total - evidence.of[Why.USUAL]) * touch
    found = []
    for ground in range(len(base)):
        others = [k for k in range(len(base)) if k != ground]
        score, order = _best_order(over, others)
        found.append((score + base[ground] + over_ground[others, ground].sum(), [ground, *order]))
    return max(found)[1]


def _best_order(over: np.ndarray, layers: list[int]) -> tuple[float, list[int]]:
    """Return the order of some layers, lowest first, that agrees best with `over`, and how well."""
    best: list[tuple[float, int]] = [(0.0, -1)]
    for laid in range(1, 1 << len(layers)):
        members = [n for n in range(len(layers)) if laid >> n & 1]
        options = []
        for top in members:
            gain = sum(over[layers[top], layers[n]] for n in members if n != top)
            options.append((best[laid & ~(1 << top)][0] + float(gain), top))
        best.append(max(options))
    order, laid = [], (1 << len(layers)) - 1
    while laid:
        order.append(layers[best[laid][1]])
        laid &= ~(1 << best[laid][1])
    return best[-1][0], order[::-1]


def painted_share(shapes: Shapes | RimShapes, order: Sequence[int]) -> np.ndarray:
    """Return how much of each layer lies there, hidden or not, (K,); the ground is 1.

    What lies over a spot is hidden from view, but what surrounds the cover goes
    on under it: each upper layer is taken to lie on those below it in the
    proportion in which its edges touch them.
    """
    painted = shapes.coverage.copy()
    for place in range(len(order) - 1, 0, -1):
        upper = order[place]
        below = list(order[:place])
        touching = shapes.contact[upper, below]
        if touching.sum() <= 0:
            continue
        for lower, share in zip(below, touching / touching.sum(), strict=True):
            # Of the upper layer only what is seen of it is shared out here; what
            # it covers of others was added to it before.
            painted[lower] += painted[upper] * share
    if len(order):
        painted[order[0]] = 1.0
    return np.minimum(painted, 1.0)
