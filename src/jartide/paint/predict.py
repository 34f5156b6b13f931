"""Predicted colours of mixes and films, with a bound on how far the real one may be."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.paint.fitted import FittedShelf
from jartide.paint.forward import Colours, colours_of, slopes_by_bend, slopes_by_shared
from jartide.paint.rows import Painted
from jartide.paint.shelf import READER_NOISE

# What remains of a prediction's error when every paint is well known, each of L, a, b:
# of hiding layers, and of films, whose ground was read as well.
_FLOOR, _FILM_FLOOR = 0.12, 0.3
# Paints are smoother than they are allowed to be, so hiding mixes of well known paints are surer
# than the posterior says; those of hardly known ones are not, since colours bend. Set on
# simulated shelves of seeds 1 to 3 so that nine in ten hold (docs/mixing.md).
_SURER, _SURER_BELOW, _NOT_ABOVE = 0.8, 1.2, 4.0
# Films of paints that no glaze swatch was painted with are a little surer as well.
_FILMS_SURER, _FILMS_ABOVE = 0.8, 0.8
_DRAWS = 200
_SHARE = 90.0
# A mix this unsure is called rough.
ROUGH_DE00 = 4.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Predicted:
    """Colours of R recipes.

    Attributes
    ----------
    lab : (R, 3)
    covariance : (R, 3, 3) of Lab
    bound_de00 : (R,) CIEDE2000 within which nine of ten real ones lie
    """

    lab: np.ndarray
    covariance: np.ndarray
    bound_de00: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Trials:
    """Mixes that were really made and read: T of them.

    Attributes
    ----------
    painted : as really measured out
    lab : (T, 3) as read
    noise : standard deviation of a reading, CIEDE2000
    """

    painted: Painted
    lab: np.ndarray
    noise: float = READER_NOISE


def predict(fitted: FittedShelf, painted: Painted, trials: Trials | None = None) -> Predicted:
    """Return what recipes will look like, dry.

    What trial mixes read corrects the prediction as far as recipe and trial
    share what is not known of the paints (conditional normal distribution; Rasmussen &
    Williams 2006, ch. 2): wholly for the same recipe, not at all for one of other paints.
    """
    effect = _effect(fitted, painted)
    lab, covariance = effect.lab, _own_covariance(effect, effect)
    if trials is not None and trials.lab.size:
        tried = _effect(fitted, trials.painted)
        rows, count = lab.shape[0], tried.lab.shape[0]
        shared = _joint(effect, tried).reshape(rows * 3, count * 3)
        among = _joint(tried, tried).reshape(count * 3, count * 3)
        noise = trials.noise**2 / 3 + _floor(trials.painted)
        among[np.diag_indices(count * 3)] += np.repeat(noise, 3)
        weight = np.linalg.solve(among, shared.T).T
        lab = lab + (weight @ (trials.lab - tried.lab).ravel()).reshape(rows, 3)
        known = (weight @ shared.T).reshape(rows, 3, rows, 3)
        covariance = covariance - known[np.arange(rows), :, np.arange(rows), :]
    covariance = covariance * _surer(painted, covariance)[:, None, None] ** 2
    covariance = covariance + _floor(painted)[:, None, None] * np.eye(3)
    return Predicted(lab=lab, covariance=covariance, bound_de00=bound(lab, covariance))


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Effect:
    """How colours move with what is not known: by the hubs, and by each leaf's own scatter.

    `through` (R, 3, H); `by_leaf` (R, 3, n) for each paint in use; `own` their covariances.
    """

    lab: np.ndarray
    through: np.ndarray
    hub: np.ndarray
    by_leaf: dict[int, np.ndarray]
    own: np.ndarray


def _effect(fitted: FittedShelf, painted: Painted) -> _Effect:
    colours: Colours = colours_of(painted, fitted.parameters)
    posterior, parameters = fitted.posterior, fitted.parameters
    rows, n = colours.lab.shape[0], parameters.bend.shape[1]
    through = np.zeros((rows, 3, posterior.hub.shape[0]))
    shared = slopes_by_shared(painted, parameters)
    through[..., posterior.hub.shape[0] - shared.shape[-1] :] = shared
    by_leaf = {}
    for paint in np.flatnonzero(painted.weights.any(axis=0)).tolist():
        slope = slopes_by_bend(painted, parameters, colours, np.full(rows, paint))
        place = posterior.hub_place[paint]
        if place >= 0:
            through[..., place : place + n] += slope
            continue
        through -= slope @ posterior.leaf_lean[paint]
        by_leaf[paint] = slope
    return _Effect(
        lab=colours.lab,
        through=through,
        hub=posterior.hub,
        by_leaf=by_leaf,
        own=posterior.leaf_own,
    )


def _own_covariance(first: _Effect, second: _Effect) -> np.ndarray:
    """Return each row's covariance, (R, 3, 3)."""
    whole = first.through @ first.hub @ second.through.transpose(0, 2, 1)
    for paint, slope in first.by_leaf.items():
        whole += slope @ first.own[paint] @ second.by_leaf[paint].transpose(0, 2, 1)
    return whole


def _joint(first: _Effect, second: _Effect) -> np.ndarray:
    """Return the covariance of all rows with all others, (R, 3, T, 3)."""
    whole = np.einsum("rih,hg,tjg->ritj", first.through, first.hub, second.through, optimize=True)
    for paint in first.by_leaf.keys() & second.by_leaf.keys():
        whole += np.einsum(
            "rin,nm,tjm->ritj",
            first.by_leaf[paint],
            first.own[paint],
            second.by_leaf[paint],
            optimize=True,
        )
    return whole


def _surer(painted: Painted, covariance: np.ndarray) -> np.ndarray:
    """Return by how much, (R,), predictions are surer than the posterior says."""
    deviation = np.sqrt(np.maximum(np.trace(covariance, axis1=1, axis2=2), 0) / 3)
    doubt = np.clip((deviation - _SURER_BELOW) / (_NOT_ABOVE - _SURER_BELOW), 0, 1)
    films = np.where(deviation > _FILMS_ABOVE, _FILMS_SURER, 1.0)
    return np.where(painted.film, films, _SURER + (1 - _SURER) * doubt)


def _floor(painted: Painted) -> np.ndarray:
    return np.where(painted.film, _FILM_FLOOR, _FLOOR) ** 2


@lru_cache(maxsize=1)
def _normal() -> np.ndarray:
    return np.random.default_rng(2004).standard_normal((_DRAWS, 3))


def bound(lab: np.ndarray, covariance: np.ndarray) -> np.ndarray:
    """Return the CIEDE2000, (R,), that nine of ten draws from a normal around `lab` keep within."""
    spread = np.linalg.cholesky(covariance + 1e-9 * np.eye(3))
    drawn = lab[:, None] + _normal() @ spread.transpose(0, 2, 1)
    drawn[..., 0] = np.clip(drawn[..., 0], 0, 100)
    return np.percentile(delta_e_2000(lab[:, None], drawn), _SHARE, axis=1)
