"""Invented pigments with known spectra, and the mixes, glazes and cards made of them.

Drawn as bands of absorption (asymmetric lobes and edges over wave number) and scattering
that falls with a power of wavelength: other curves than the fit bends. The fit sees
only noisy Lab readings of what is painted here.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.colour.observer import BANDS_NM, lab_of_reflectance
from jartide.paint.recipe import as_lab
from jartide.paint.shelf import Card, Opacity, Shelf, ShelfPaint, Swatch, SwatchKind

Lobe = tuple[float, float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Pigment:
    """A paint by its spectra; `k` and `s`, (36,), of one neat coat."""

    name: str
    opacity: Opacity
    k: np.ndarray
    s: np.ndarray


# Scattering at 550 nm per neat coat, its power of wavelength; absorption: base, then
# edges (nm, width, height: absorbs below) and lobes (nm, left width, right width, height).
_T, _S, _O = Opacity.TRANSPARENT, Opacity.SEMI, Opacity.OPAQUE
_KINDS: dict[str, tuple[Opacity, float, float, float, list[Lobe], list[Lobe]]] = {
    "Titanium white": (_O, 7.0, 0.6, 0.004, [(396, 7, 0, 4.0)], []),
    "Zinc white": (_S, 2.4, 0.5, 0.003, [(384, 6, 0, 2.0)], []),
    "Warm white": (_O, 5.5, 0.5, 0.012, [(420, 30, 0, 0.25)], []),
    "Lamp black": (_S, 0.35, 0.3, 5.5, [(480, 80, 0, 0.8)], []),
    "Iron black": (_O, 0.9, 0.1, 7.0, [], [(620, 90, 120, 1.2)]),
    "Yellow ochre": (_O, 3.6, 0.4, 0.10, [(512, 20, 0, 6.0)], [(900, 200, 100, 0.4)]),
    "Raw sienna": (_S, 1.6, 0.5, 0.14, [(526, 24, 0, 4.2)], [(880, 200, 100, 0.5)]),
    "Burnt sienna": (_S, 1.3, 0.3, 0.22, [(575, 19, 0, 4.2)], []),
    "Raw umber": (_S, 1.5, 0.3, 1.0, [(560, 60, 0, 2.8)], []),
    "Burnt umber": (_S, 1.2, 0.2, 1.2, [(595, 42, 0, 4.0)], []),
    "Red oxide": (_O, 3.8, 0.2, 0.30, [(576, 15, 0, 14.0)], [(860, 60, 60, 0.6)]),
    "Violet oxide": (_O, 3.0, 0.2, 0.9, [(590, 20, 0, 5.0)], [(540, 40, 40, 0.9)]),
    "Bright red": (_O, 3.2, 0.3, 0.05, [(597, 9, 0, 24.0)], []),
    "Rose": (_T, 0.30, 0.4, 0.03, [(398, 20, 0, 0.6)], [(545, 42, 24, 3.4)]),
    "Orange": (_O, 3.4, 0.3, 0.04, [(558, 11, 0, 20.0)], []),
    "Bright yellow": (_O, 3.6, 0.4, 0.03, [(497, 11, 0, 17.0)], []),
    "Lemon yellow": (_S, 1.7, 0.5, 0.02, [(474, 12, 0, 9.0)], []),
    "Oxide green": (
        _O, 2.8, 0.3, 0.28, [(452, 24, 0, 3.2)], [(612, 48, 60, 2.6), (465, 22, 20, 0.9)]
    ),
    "Green earth": (_T, 0.6, 0.4, 0.25, [(458, 40, 0, 1.4)], [(640, 60, 70, 0.7)]),
    "Deep green": (_T, 0.22, 0.6, 0.06, [(430, 25, 0, 2.6)], [(645, 42, 40, 9.0)]),
    "Deep blue": (_T, 0.20, 0.8, 0.08, [(392, 16, 0, 1.8)], [(615, 46, 60, 11.0)]),
    "Ultramarine": (_T, 0.45, 0.5, 0.05, [], [(585, 55, 42, 4.2)]),
    "Cobalt blue": (_S, 1.4, 0.4, 0.05, [], [(575, 50, 48, 3.6), (640, 20, 22, 1.4)]),
    "Sky blue": (_O, 3.4, 0.4, 0.05, [(410, 14, 0, 0.4)], [(610, 52, 60, 1.9)]),
    "Deep violet": (_T, 0.18, 0.6, 0.10, [(400, 24, 0, 1.6)], [(560, 48, 58, 9.5)]),
    "Pale grey": (_O, 5.2, 0.5, 0.28, [(430, 60, 0, 0.12)], []),
}  # fmt: skip


def pigments(seed: int = 0) -> tuple[Pigment, ...]:
    """Return 26 pigments; every seed draws its own makers' variants of them, seed 0 the mean."""
    rng = np.random.default_rng(seed)
    vary = 0.0 if seed == 0 else 1.0

    def by(deviation: float) -> float:
        return float(np.exp(vary * deviation * rng.standard_normal()))

    made = []
    for name, (opacity, strength, power, base, edges, lobes) in _KINDS.items():
        s = strength * by(0.25) * (BANDS_NM / 550) ** -(power * by(0.3))
        k = np.full(BANDS_NM.size, base * by(0.3))
        for at, width, _, height in edges:
            at += vary * rng.normal(0, 4)
            k += height * by(0.25) / (1 + np.exp((BANDS_NM - at) / (width * by(0.15))))
        for at, left, right, height in lobes:
            at += vary * rng.normal(0, 5)
            wide = np.where(at > BANDS_NM, left, right) * by(0.15)
            k += height * by(0.25) * np.exp(-0.5 * ((BANDS_NM - at) / wide) ** 2)
        made.append(Pigment(name=name, opacity=opacity, k=k, s=s))
    return tuple(made)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bench:
    """How the painter's bench is: surface of dry films, what water takes, how cards look."""

    mirrored: float = 0.15
    k2: float = 0.6
    water_takes: float = 0.85
    white: float = 0.86
    black: float = 0.035


def hiding(pigments: tuple[Pigment, ...], parts: dict[int, float], bench: Bench) -> np.ndarray:
    """Return the true Lab, (3,), of a hiding film of pigments by number and parts."""
    return lab_of_reflectance(hiding_shown(pigments, parts, bench))


def hiding_shown(
    pigments: tuple[Pigment, ...], parts: dict[int, float], bench: Bench
) -> np.ndarray:
    """Return what is seen, (36,), of a hiding film."""
    whole = sum(parts.values())
    k = sum(p / whole * pigments[n].k for n, p in parts.items())
    s = sum(p / whole * pigments[n].s for n, p in parts.items())
    ratio = k / s
    return _shown(1 + ratio - np.sqrt(ratio**2 + 2 * ratio), bench)


def glazed(
    pigments: tuple[Pigment, ...],
    parts: dict[int, float],
    bench: Bench,
    ground: np.ndarray,
    *,
    carrier: float = 0.0,
    water: float = 0.0,
    coats: float = 1.0,
) -> np.ndarray:
    """Return the true Lab, (3,), of films over a ground that is seen as `ground`, (36,).

    The film is cut into thin slices and light is carried through them up and down
    (Stokes 1862), and not by the closed formula that inverts it.
    """
    paint = sum(parts.values())
    wet = paint + carrier + water
    thick = coats * (1 - bench.water_takes * water / wet)
    share = thick / (paint + carrier)
    k = sum(p * share * pigments[n].k for n, p in parts.items())
    s = sum(p * share * pigments[n].s for n, p in parts.items())
    slices = 2**14
    reflect, through = s / slices, 1 - (k + s) / slices
    for _ in range(14):
        again = 1 - reflect**2
        reflect, through = reflect + through**2 * reflect / again, through**2 / again
    below = _under(ground, bench)
    inside = reflect + through**2 * below / (1 - reflect * below)
    return lab_of_reflectance(_shown(inside, bench))


def card(over: Card, bench: Bench) -> np.ndarray:
    """Return what is seen, (36,), of the bare card; the white one is a little warm."""
    if over is Card.BLACK:
        return np.full(BANDS_NM.size, bench.black)
    return bench.white - 0.06 * np.exp(-(BANDS_NM - 380) / 40)


def read(lab: np.ndarray, noise: float, rng: np.random.Generator) -> tuple[float, float, float]:
    """Return a reading of a Lab, (3,); `noise` is its standard deviation over all three values."""
    return as_lab(lab + rng.normal(0, noise / np.sqrt(3), 3))


def _under(shown: np.ndarray, bench: Bench) -> np.ndarray:
    left = shown - 0.04 * bench.mirrored
    return left / (0.96 * (1 - bench.k2) + bench.k2 * left)


def _shown(inside: np.ndarray, bench: Bench) -> np.ndarray:
    return 0.04 * bench.mirrored + 0.96 * (1 - bench.k2) * inside / (1 - bench.k2 * inside)


# The swatches a painter makes of a paint, from the masstone alone to all that pay.
LADDERS = ("masstone", "white", "black", "glaze")


def painted_shelf(
    pigments: tuple[Pigment, ...],
    bench: Bench,
    ladder: str,
    seed: int,
    *,
    noise: float = 0.3,
    white: int = 0,
    black: int = 3,
) -> Shelf:
    """Return the shelf as a reader sees it.

    `ladder`: "masstone"; "white" adds 1 part to 4 of white; "black" adds 9 parts to 1 of
    black to that; "glaze" has white and a 1 : 3 glaze over the white and the black card.
    """
    rng = np.random.default_rng([seed, LADDERS.index(ladder)])
    cards = {over: card(over, bench) for over in Card}
    paints = []
    for number, pigment in enumerate(pigments):
        masstone = read(hiding(pigments, {number: 1}, bench), noise, rng)
        swatches = [Swatch(kind=SwatchKind.MASSTONE, lab=masstone)]
        let_downs = []
        if ladder != "masstone" and number != white:
            let_downs.append((white, 1, 4))
        if ladder == "black" and number != black:
            let_downs.append((black, 9, 1))
        for other, own, parts in let_downs:
            mixed = read(hiding(pigments, {number: own, other: parts}, bench), noise, rng)
            swatches.append(
                Swatch(
                    kind=SwatchKind.MIX,
                    lab=mixed,
                    other=pigments[other].name,
                    paint_parts=own,
                    other_parts=parts,
                )
            )
        for over in Card if ladder == "glaze" else ():
            film = glazed(pigments, {number: 1}, bench, cards[over], carrier=3)
            lab = read(film, noise, rng)
            swatches.append(Swatch(kind=SwatchKind.GLAZE, lab=lab, over=over, other_parts=3))
        paints.append(
            ShelfPaint(name=pigment.name, opacity=pigment.opacity, swatches=tuple(swatches))
        )
    white_lab, black_lab = (
        read(lab_of_reflectance(cards[over]), noise, rng) for over in (Card.WHITE, Card.BLACK)
    )
    return Shelf(paints=tuple(paints), white_card=white_lab, black_card=black_lab)
