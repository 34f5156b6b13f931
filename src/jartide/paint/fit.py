"""Fit all paints of a shelf to all their swatches at once.

Bayesian least squares: noise-weighted Lab residuals of every reading plus the square of every
number that bends a paint away from its start (Levenberg-Marquardt; Gelman et al. 2013 for the
posterior at the optimum). One code path serves every amount of knowledge: what was not
swatched stays at its start and is uncertain.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.linalg import cho_factor, cho_solve

from jartide.paint.fitted import FittedShelf, Posterior
from jartide.paint.forward import Colours, colours_of, lab_of, slopes_by_bend, slopes_by_shared
from jartide.paint.parameters import Parameters, carriers_in, shared_start, start_of
from jartide.paint.rows import Rows, rows_of
from jartide.paint.shelf import Shelf

# What no swatch tells and the model does not hold: uneven films, a stirred part too little.
MODEL_OFF = 0.2
_STEPS = 40
_ENOUGH = 1e-4
_LEAST_DAMPING, _MOST_DAMPING = 1e-6, 1e6


def fit_shelf(shelf: Shelf) -> FittedShelf:
    """Fit every paint of a shelf.

    Raises
    ------
    PaintError : when a swatch names a paint that is not there.
    """
    rows = rows_of(shelf)
    start = start_of(shelf, len(rows.carriers))
    parameters, system = _fitted(rows, start, _hubs(rows))
    return _finished(shelf, rows, parameters, system)


def _hubs(rows: Rows) -> np.ndarray:
    """Return the places of the paints that others were mixed with."""
    return np.unique(rows.other[rows.other >= 0])


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _System:
    """The normal equations in arrow form, with what they were made of.

    `leaf` (P, n, n), `cross` (P, n, H), `hub` (H, H); `pull_leaf` (P, n), `pull_hub` (H,).
    `first` and `by_hub` are each row's whitened slopes by its own paint and by all hubs.
    """

    leaf: np.ndarray
    cross: np.ndarray
    hub: np.ndarray
    pull_leaf: np.ndarray
    pull_hub: np.ndarray
    hub_place: np.ndarray
    first: np.ndarray
    by_hub: np.ndarray
    residual: np.ndarray
    loss: float


def _fitted(rows: Rows, start: Parameters, hubs: np.ndarray) -> tuple[Parameters, _System]:
    now = start
    system = _system(rows, now, hubs)
    damping = 1e-2
    for _ in range(_STEPS):
        bend, shared = _step(system, damping)
        ahead = now.moved(bend, shared)
        loss = _loss(rows, ahead)
        if loss < system.loss:
            gain = system.loss - loss
            now, damping = ahead, max(damping / 6, _LEAST_DAMPING)
            system = _system(rows, now, hubs)
            if gain < _ENOUGH * (1 + loss):
                break
        else:
            damping *= 5
            if damping > _MOST_DAMPING:
                break
    return now, system


def _noise(rows: Rows) -> np.ndarray:
    return np.hypot(rows.noise / np.sqrt(3), MODEL_OFF)[:, None]


def _prior(parameters: Parameters) -> tuple[np.ndarray, np.ndarray]:
    """Return how far the shared numbers are from their start, and their deviations."""
    start, off = shared_start(carriers_in(parameters.shared))
    return parameters.shared - start, off


def _loss(rows: Rows, parameters: Parameters) -> float:
    residual = (lab_of(rows.painted, parameters) - rows.lab) / _noise(rows)
    moved, off = _prior(parameters)
    return float((residual**2).sum() + (parameters.bend**2).sum() + ((moved / off) ** 2).sum())


def _slopes(rows: Rows, parameters: Parameters) -> tuple[Colours, list[np.ndarray]]:
    """Return colours and their slopes by the row's paint, its other paint, and the shared."""
    colours = colours_of(rows.painted, parameters)
    first = slopes_by_bend(rows.painted, parameters, colours, rows.paint)
    second = slopes_by_bend(rows.painted, parameters, colours, np.maximum(rows.other, 0))
    # Mixed with itself a paint is itself: its slope was counted whole already.
    second[(rows.other < 0) | (rows.other == rows.paint)] = 0
    return colours, [first, second, slopes_by_shared(rows.painted, parameters)]


def _system(rows: Rows, parameters: Parameters, hubs: np.ndarray) -> _System:
    noise = _noise(rows)
    colours, slopes = _slopes(rows, parameters)
    residual = (colours.lab - rows.lab) / noise
    first, second, shared = (slope / noise[..., None] for slope in slopes)
    paints, n = parameters.bend.shape
    place = np.full(paints, -1)
    place[hubs] = n * np.arange(hubs.size)
    size = n * hubs.size + shared.shape[-1]

    # All slopes by hubs, side by side: (R, 3, H).
    by_hub = np.zeros((*residual.shape, size))
    by_hub[..., n * hubs.size :] = shared
    for paint, slope in ((rows.paint, first), (rows.other, second)):
        for row in np.flatnonzero((paint >= 0) & (place[paint] >= 0)):
            begin = place[paint[row]]
            by_hub[row, :, begin : begin + n] += slope[row]
    flat = by_hub.reshape(-1, size)
    moved, off = _prior(parameters)
    hub = flat.T @ flat
    pull_hub = flat.T @ residual.ravel()
    own = np.concatenate([parameters.bend[hubs].ravel(), moved / off**2])
    pull_hub += own
    hub[np.diag_indices(size)] += np.concatenate([np.ones(n * hubs.size), off**-2])

    leaf = np.tile(np.eye(n), (paints, 1, 1))
    cross = np.zeros((paints, n, size))
    pull_leaf = parameters.bend.copy()
    is_leaf = place[rows.paint] < 0
    on = rows.paint[is_leaf]
    turned = first[is_leaf].transpose(0, 2, 1)
    np.add.at(leaf, on, turned @ first[is_leaf])
    np.add.at(cross, on, turned @ by_hub[is_leaf])
    np.add.at(pull_leaf, on, (turned @ residual[is_leaf][..., None])[..., 0])
    loss = float((residual**2).sum() + (parameters.bend**2).sum() + ((moved / off) ** 2).sum())
    return _System(
        leaf=leaf,
        cross=cross,
        hub=hub,
        pull_leaf=pull_leaf,
        pull_hub=pull_hub,
        hub_place=place,
        first=first,
        by_hub=by_hub,
        residual=residual,
        loss=loss,
    )


def _step(system: _System, damping: float) -> tuple[np.ndarray, np.ndarray]:
    """Return the damped step of all bends, (P, n), and of what is shared."""
    paints, n = system.pull_leaf.shape
    leaf = system.leaf + damping * np.eye(n)
    hub = system.hub + damping * np.diag(np.diag(system.hub))
    leaves = np.flatnonzero(system.hub_place < 0)
    solved = np.linalg.solve(
        leaf[leaves],
        np.concatenate([system.cross[leaves], system.pull_leaf[leaves][..., None]], axis=-1),
    )
    lean, ahead = solved[..., :-1], solved[..., -1]
    turned = system.cross[leaves].transpose(0, 2, 1)
    hub = hub - (turned @ lean).sum(axis=0)
    pull = system.pull_hub - (turned @ ahead[..., None])[..., 0].sum(axis=0)
    hub_step = -cho_solve(cho_factor(hub), pull)
    bend = np.zeros((paints, n))
    bend[leaves] = -ahead - lean @ hub_step
    hubs = np.flatnonzero(system.hub_place >= 0)
    bend[hubs] = hub_step[: n * hubs.size].reshape(-1, n)
    return bend, hub_step[n * hubs.size :]


def _posterior(system: _System) -> Posterior:
    paints, n = system.pull_leaf.shape
    leaves = np.flatnonzero(system.hub_place < 0)
    own = np.zeros((paints, n, n))
    lean = np.zeros((paints, n, system.hub.shape[0]))
    own[leaves] = np.linalg.inv(system.leaf[leaves])
    lean[leaves] = own[leaves] @ system.cross[leaves]
    hub = system.hub - (system.cross[leaves].transpose(0, 2, 1) @ lean[leaves]).sum(axis=0)
    return Posterior(
        leaf_own=own, leaf_lean=lean, hub=np.linalg.inv(hub), hub_place=system.hub_place
    )


def _finished(shelf: Shelf, rows: Rows, parameters: Parameters, system: _System) -> FittedShelf:
    posterior = _posterior(system)
    return FittedShelf(
        shelf=shelf,
        rows=rows,
        parameters=parameters,
        posterior=posterior,
        residual=system.residual * _noise(rows),
        disagreement=_disagreement(rows, system, posterior),
    )


def _disagreement(rows: Rows, system: _System, posterior: Posterior) -> np.ndarray:
    """Return how far each reading lies from what all the others say, in deviations.

    With a row's leverage h its deleted residual is r / (1 - h), of variance 1 / (1 - h)
    (Cook & Weisberg 1982).
    """
    first, by_hub = system.first, system.by_hub
    leaf = posterior.hub_place[rows.paint] < 0
    through = by_hub.copy()
    through[leaf] -= first[leaf] @ posterior.leaf_lean[rows.paint[leaf]]
    leverage = through @ posterior.hub @ through.transpose(0, 2, 1)
    own = first[leaf] @ posterior.leaf_own[rows.paint[leaf]] @ first[leaf].transpose(0, 2, 1)
    leverage[leaf] += own
    left = np.eye(3) - leverage + 1e-6 * np.eye(3)
    solved = np.linalg.solve(left, system.residual[..., None])[..., 0]
    # Three values of one reading: their mean square is 1 if nothing is wrong.
    return np.sqrt(np.maximum((system.residual * solved).sum(axis=-1) / 3, 0))
