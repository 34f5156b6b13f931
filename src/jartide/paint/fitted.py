"""A fitted shelf: coefficients of every paint and how surely they are known."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.paint.parameters import Parameters
from jartide.paint.rows import Rows
from jartide.paint.shelf import Shelf


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Posterior:
    """How the numbers of a shelf scatter around the fit, as a normal distribution.

    Hubs are the paints others were mixed with, and what all swatches share; all other paints
    (leaves) depend on each other only through them: leaf = own scatter - lean @ hubs.

    Attributes
    ----------
    leaf_own : (P, n, n) covariance of each paint's own scatter; 0 for hubs
    leaf_lean : (P, n, H)
    hub : (H, H) covariance
    hub_place : (P,) int, where a hub paint's numbers begin; -1 for leaves
    """

    leaf_own: np.ndarray
    leaf_lean: np.ndarray
    hub: np.ndarray
    hub_place: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class FittedShelf:
    """A shelf, the parameters fitted to it, and their posterior.

    Attributes
    ----------
    shelf, rows, parameters, posterior : what was fitted to what
    residual : (R, 3) predicted less read, Lab
    disagreement : (R,) how far each reading lies from what all others say, in deviations
    """

    shelf: Shelf
    rows: Rows
    parameters: Parameters
    posterior: Posterior
    residual: np.ndarray
    disagreement: np.ndarray
