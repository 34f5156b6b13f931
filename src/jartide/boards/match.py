"""Which layer of the board is which layer of the target, and what the light did to all."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.optimize import linear_sum_assignment

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import RGB_TO_XYZ, lab_to_linear, linear_to_lab
from jartide.reading.result import LINE_ROLES, Layer, Reading

# A pair that costs more than this is no pair: better said as missing and extra.
_MOST_COST = 30.0
_ROLE_COST = 8.0
_ORDER_COST = 6.0
# Of two layers near in colour, the large one is more likely the large one's pair.
_COVER_COST = 22.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LayerMatch:
    """Pairs of layers and the light between both photos.

    Attributes
    ----------
    pairs : (target index, board index)
    missing, extra : target layers without a board layer, and the other way round
    gains : (3,) factors on linear R, G, B that take the board's light to the target's
    board_lab : (K, 3) the board's colours in the target's light
    """

    pairs: tuple[tuple[int, int], ...]
    missing: tuple[int, ...]
    extra: tuple[int, ...]
    gains: np.ndarray
    board_lab: np.ndarray

    @property
    def light_change_L(self) -> float:
        """How much lighter (+) the board's photo is than the target's, for a mid grey, in L*."""
        grey = np.full(3, 0.184)
        return float(linear_to_lab(grey / self.gains)[0] - linear_to_lab(grey)[0])


def match_layers(target: Reading, board: Reading) -> LayerMatch:
    """Match layers by colour, role and place in the order (Hungarian assignment).

    Where a photo has no known grey, the light can't be told from the paint:
    what all layers have in common is taken for light, and taken out. With the
    tint known in both, that is one factor for all channels.
    """
    lab_t, lab_b = _shown(target), _shown(board)
    gains = np.ones(3)
    if target.exposure_known and board.exposure_known:
        return _match(_assign(target, board, lab_t, lab_b), target, board, gains, lab_b)
    tint_known = target.balance_known and board.balance_known
    # First by the mean of all that is seen, then by the pairs this gives.
    gains = _mean_light(target) / _mean_light(board)
    pairs: list[tuple[int, int]] = []
    for _ in range(3):
        if tint_known:
            weight = RGB_TO_XYZ[1]
            gains = np.full(3, float(np.exp(np.log(gains) @ weight)))
        lit = linear_to_lab(np.clip(lab_to_linear(lab_b), 0, None) * gains)
        pairs = _assign(target, board, lab_t, lit)
        if not pairs:
            break
        gains = _common_gain(pairs, target, board, lab_t, lab_b)
    if tint_known:
        gains = np.full(3, float(np.exp(np.log(gains) @ RGB_TO_XYZ[1])))
    lit = linear_to_lab(np.clip(lab_to_linear(lab_b), 0, None) * gains)
    return _match(pairs, target, board, gains, lit)


def _shown(reading: Reading) -> np.ndarray:
    return np.array([layer.shown_lab for layer in reading.layers])


def _share(layer: Layer) -> float:
    return layer.coverage.value or 0.0


def _mean_light(reading: Reading) -> np.ndarray:
    shares = np.array([_share(layer) for layer in reading.layers])
    light = np.clip(lab_to_linear(_shown(reading)), 1e-4, None)
    return shares @ light / max(shares.sum(), 1e-9)


def _assign(target: Reading, board: Reading, lab_t, lab_b) -> list[tuple[int, int]]:
    cost = delta_e_2000(lab_t[:, None], lab_b[None])
    for i, a in enumerate(target.layers):
        for j, b in enumerate(board.layers):
            if (a.role in LINE_ROLES) != (b.role in LINE_ROLES):
                cost[i, j] += _ROLE_COST
            place = i / max(len(lab_t) - 1, 1) - j / max(len(lab_b) - 1, 1)
            cost[i, j] += _ORDER_COST * abs(place)
            cost[i, j] += _COVER_COST * abs(_share(a) - _share(b))
    rows, columns = linear_sum_assignment(cost)
    return [
        (int(i), int(j)) for i, j in zip(rows, columns, strict=True) if cost[i, j] <= _MOST_COST
    ]


def _common_gain(pairs, target: Reading, board: Reading, lab_t, lab_b) -> np.ndarray:
    """The channel factors most of the surface agrees on: a share-weighted median of logs."""
    light_t = np.clip(lab_to_linear(lab_t), 1e-4, None)
    light_b = np.clip(lab_to_linear(lab_b), 1e-4, None)
    logs = np.array([np.log(light_t[i] / light_b[j]) for i, j in pairs])
    # Dark layers say little about a factor: their values are near the noise.
    weight = np.array(
        [
            np.sqrt(_share(target.layers[i]) * _share(board.layers[j]))
            * min(light_t[i].mean() / 0.05, 1.0)
            for i, j in pairs
        ]
    )
    weight = np.maximum(weight, 1e-6)
    mean = weight @ logs / weight.sum()
    away = np.linalg.norm(logs - mean, axis=1)
    weight = weight / (1 + (away / 0.1) ** 2)
    return np.exp(weight @ logs / weight.sum())


def _match(pairs, target: Reading, board: Reading, gains, lab_b) -> LayerMatch:
    return LayerMatch(
        pairs=tuple(sorted(pairs)),
        missing=tuple(sorted(set(range(len(target.layers))) - {i for i, _ in pairs})),
        extra=tuple(sorted(set(range(len(board.layers))) - {j for _, j in pairs})),
        gains=gains,
        board_lab=np.asarray(lab_b),
    )
