"""Dry-down: how a colour looks wet, dry and sealed.

Wetting or gloss takes the first reflection away and lets more of the light from inside be
thrown back: darker and fuller. A matt coat adds the first reflection: lighter and greyer.
The surface model is Saunderson's; chalky paints scatter less when wet, which no dry reading
tells, so the painter's own wet and dry pairs go first.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jartide.colour.observer import lab_of_reflectance, smoothest_reflectance
from jartide.colour.words import Lab
from jartide.paint.surface import Surface, inside, seen


class Finish(StrEnum):
    """The surface a colour is seen through, dullest first."""

    DEAD_MATT = "dead_matt"
    MATT = "matt"
    EGGSHELL = "eggshell"
    SATIN = "satin"
    GLOSS = "gloss"
    WET = "wet"


# How much of the first reflection is seen away from the gloss angle, and what is thrown back
# inside. Working values between dead matt (all of it is seen) and gloss (none).
_SURFACES = {
    Finish.DEAD_MATT: Surface(mirrored=1.0, k2=0.50),
    Finish.MATT: Surface(mirrored=0.7, k2=0.52),
    Finish.EGGSHELL: Surface(mirrored=0.45, k2=0.55),
    Finish.SATIN: Surface(mirrored=0.25, k2=0.57),
    Finish.GLOSS: Surface(mirrored=0.05, k2=0.60),
    Finish.WET: Surface(mirrored=0.05, k2=0.62),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class DryPair:
    """One colour of a product seen in two states, as the painter read it."""

    before: Lab
    after: Lab


def shifted(lab: Lab, before: Finish, after: Finish, records: tuple[DryPair, ...] = ()) -> Lab:
    """Return what a colour seen with one surface looks like with another.

    With records of the same change their mean departure from the model is added, so a single
    pair already corrects it.
    """
    lightness, a, b = (float(v) for v in shifted_all(np.array([lab]), before, after, records)[0])
    return lightness, a, b


def shifted_all(
    labs: np.ndarray, before: Finish, after: Finish, records: tuple[DryPair, ...] = ()
) -> np.ndarray:
    """Return what colours, (N, 3) Lab, look like with another surface; as `shifted`."""
    model = _modelled(np.asarray(labs, float), before, after)
    if records:
        was = np.array([pair.before for pair in records])
        became = np.array([pair.after for pair in records])
        model = model + (became - _modelled(was, before, after)).mean(axis=0)
    return np.concatenate([np.clip(model[:, :1], 0, 100), model[:, 1:]], axis=1)


def _modelled(labs: np.ndarray, before: Finish, after: Finish) -> np.ndarray:
    if before is after:
        return labs
    light = inside(smoothest_reflectance(labs), _SURFACES[before])
    return lab_of_reflectance(seen(light, _SURFACES[after]))
