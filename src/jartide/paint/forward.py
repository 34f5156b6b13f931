"""From coefficients to colours: what rows of swatches or recipes read, and by what they change."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.colour.observer import lab_of_reflectance, lab_slopes
from jartide.paint.kubelka_munk import LEAST, film_reflectance, hiding_reflectance
from jartide.paint.parameters import Parameters, bases
from jartide.paint.rows import Painted
from jartide.paint.surface import inside, seen

_STEP = 1e-4


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Colours:
    """Colours of R rows and their slopes.

    Attributes
    ----------
    lab : (R, 3)
    by_k, by_s : (R, 3, 36) change of Lab with the logarithm of the row's whole K and S
    k, s : (R, 36) the row's whole K and S
    """

    lab: np.ndarray
    by_k: np.ndarray
    by_s: np.ndarray
    k: np.ndarray
    s: np.ndarray


def film_thickness(painted: Painted, parameters: Parameters) -> np.ndarray:
    """Return the thickness, (R,), of each film in neat coats; 1 of hiding layers."""
    thin = 1 - parameters.water_takes * painted.water
    films = painted.coats * parameters.thickness(painted.carrier) * thin
    return np.where(painted.film, films, 1.0)


def inner_reflectance(
    k: np.ndarray, s: np.ndarray, film: np.ndarray, ground: np.ndarray
) -> np.ndarray:
    """Return what is reflected inside, (R, 36), by films and hiding layers alike."""
    reflected = hiding_reflectance(k, s)
    if film.any():
        reflected[film] = film_reflectance(k[film], s[film], ground[film])
    return reflected


def summed(painted: Painted, parameters: Parameters) -> tuple[np.ndarray, np.ndarray]:
    """Return each row's whole K and S, (R, 36), of films times their thickness.

    Mixed by volume: K and S of a mix are the sums of its parts' (Duncan 1940).
    """
    k, s = parameters.coefficients()
    laid = painted.weights * film_thickness(painted, parameters)[:, None]
    return np.maximum(laid @ k, LEAST), np.maximum(laid @ s, LEAST)


def lab_of(painted: Painted, parameters: Parameters) -> np.ndarray:
    """Return the colours, (R, 3)."""
    k, s = summed(painted, parameters)
    surface = parameters.surface
    ground = inside(painted.ground, surface)
    return lab_of_reflectance(seen(inner_reflectance(k, s, painted.film, ground), surface))


def colours_of(painted: Painted, parameters: Parameters) -> Colours:
    """Return the colours of rows with their slopes."""
    k, s = summed(painted, parameters)
    surface = parameters.surface
    ground = inside(painted.ground, surface)

    def shown(k: np.ndarray, s: np.ndarray) -> np.ndarray:
        return seen(inner_reflectance(k, s, painted.film, ground), surface)

    now = shown(k, s)
    up, down = np.exp(_STEP), np.exp(-_STEP)
    by_k = (shown(k * up, s) - shown(k * down, s)) / (2 * _STEP)
    by_s = (shown(k, s * up) - shown(k, s * down)) / (2 * _STEP)
    slope = lab_slopes(now)
    return Colours(
        lab=lab_of_reflectance(now),
        by_k=slope * by_k[:, None, :],
        by_s=slope * by_s[:, None, :],
        k=k,
        s=s,
    )


def slopes_by_bend(
    painted: Painted, parameters: Parameters, colours: Colours, paint: np.ndarray
) -> np.ndarray:
    """Return the change of Lab, (R, 3, n), with what bends one paint, (R,) int, of each row."""
    ratio, scattering = bases()
    k, s = parameters.coefficients()
    rows = np.arange(paint.size)
    laid = (painted.weights[rows, paint] * film_thickness(painted, parameters))[:, None]
    part_k = colours.by_k * (laid * k[paint] / colours.k)[:, None, :]
    part_s = colours.by_s * (laid * s[paint] / colours.s)[:, None, :]
    # A paint's K is its K/S times its S.
    return np.concatenate([part_k @ ratio, (part_k + part_s) @ scattering], axis=-1)


def slopes_by_shared(painted: Painted, parameters: Parameters) -> np.ndarray:
    """Return the change of Lab, (R, 3, shared), with what all swatches share."""
    none = np.zeros_like(parameters.bend)
    here = lab_of(painted, parameters)
    slopes = [
        (lab_of(painted, parameters.moved(none, step)) - here) / _STEP
        for step in _STEP * np.eye(parameters.shared.size)
    ]
    return np.stack(slopes, axis=-1)
