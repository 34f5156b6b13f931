"""All mixes of few paints in few whole parts, numbered, and their colours."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from math import comb, gcd

import numpy as np

from jartide.colour.observer import band_weights
from jartide.colour.spaces import xyz_to_lab
from jartide.paint.parameters import Parameters
from jartide.paint.surface import K1, Surface

# Mixes computed at a time: their spectra fit the processor's cache.
_AT_ONCE = 12_000


@lru_cache(maxsize=64)
def whole_parts(paints: int, most: int) -> np.ndarray:
    """Return all ways, (M, paints) int8, to share out whole parts with no common divisor."""

    def ways(left: int, most: int) -> Iterator[tuple[int, ...]]:
        for first in range(1, most - left + 1):
            if left == 0:
                yield (first,)
                continue
            for rest in ways(left - 1, most - first):
                yield (first, *rest)

    if paints > most:
        return np.zeros((0, paints), dtype=np.int8)
    found = [way for way in ways(paints - 1, most) if gcd(*way) == 1]
    return np.array(found, dtype=np.int8).reshape(-1, paints)


def count_mixes(paints: int, most_paints: int, most_parts: int) -> int:
    """Return how many mixes there are."""
    return sum(
        comb(paints, size) * whole_parts(size, most_parts).shape[0]
        for size in range(1, most_paints + 1)
    )


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Numbering:
    """Numbers mixes by their paints (a set) and their parts.

    Attributes
    ----------
    sets : one array, (C, size) int16, of paint numbers for each size from 1
    ways : one array, (M, size) int8, of parts for each size
    """

    sets: tuple[np.ndarray, ...]
    ways: tuple[np.ndarray, ...]

    def counts(self) -> np.ndarray:
        """Return how many mixes there are of each size, (sizes,)."""
        pairs = zip(self.sets, self.ways, strict=True)
        return np.array([s.shape[0] * w.shape[0] for s, w in pairs])

    def set_counts(self) -> np.ndarray:
        """Return how many sets there are of each size, (sizes,)."""
        return np.array([s.shape[0] for s in self.sets])

    def parted(self, number: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return size - 1, place of the set, and place of the way, (N,) each."""
        begins = np.concatenate([[0], np.cumsum(self.counts())])
        size = np.searchsorted(begins, number, side="right") - 1
        many = np.array([w.shape[0] for w in self.ways])[size]
        inside = number - begins[size]
        return size, inside // many, inside % many

    def weights(self, number: np.ndarray, paints: int) -> np.ndarray:
        """Return the parts, (N, paints) float, of mixes."""
        out = np.zeros((number.size, paints))
        for row, (size, of_set, way) in enumerate(zip(*self.parted(number), strict=True)):
            out[row, self.sets[size][of_set]] = self.ways[size][way]
        return out


@lru_cache(maxsize=4)
def numbering(paints: tuple[int, ...], most_paints: int, most_parts: int) -> Numbering:
    """Return the numbering of all mixes of some paints."""
    sizes = range(1, min(most_paints, len(paints)) + 1)
    sets = tuple(
        np.array(list(combinations(paints, size)), dtype=np.int16).reshape(-1, size)
        for size in sizes
    )
    return Numbering(sets=sets, ways=tuple(whole_parts(size, most_parts) for size in sizes))


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class HidingColours:
    """Colours of hiding mixes in single precision, for many at a time.

    `k`, `s`: (P, 36) float32. Good to about 0.001 of Lab.
    """

    k: np.ndarray
    s: np.ndarray
    surface: Surface

    @classmethod
    def of(cls, parameters: Parameters) -> HidingColours:
        """Return what computes the mixes of a fitted shelf."""
        k, s = parameters.coefficients()
        return cls(k=k.astype(np.float32), s=s.astype(np.float32), surface=parameters.surface)

    def labs(self, sets: np.ndarray, ways: np.ndarray) -> Iterator[np.ndarray]:
        """Yield Lab, (n, M, 3) float32, for runs of sets, (C, size), each with all ways."""
        parts = ways.astype(np.float32)
        step = max(1, _AT_ONCE // max(ways.shape[0], 1))
        for begin in range(0, sets.shape[0], step):
            yield self.of_parts(sets[begin : begin + step], parts)

    def of_parts(self, sets: np.ndarray, parts: np.ndarray) -> np.ndarray:
        """Return Lab, (n, M, 3), of sets, (n, size), mixed in parts, (M, size)."""
        return self._lab(parts @ self.k[sets], parts @ self.s[sets])

    def of_shares(self, sets: np.ndarray, shares: np.ndarray) -> np.ndarray:
        """Return Lab, (n, M, 3), of sets, (n, size), each with its own shares, (n, M, size)."""
        return self._lab(shares @ self.k[sets], shares @ self.s[sets])

    def of_weights(self, weights: np.ndarray) -> np.ndarray:
        """Return Lab, (R, 3), of mixes of the whole shelf, (R, P) shares."""
        shares = weights.astype(np.float32)
        return self._lab(shares @ self.k, shares @ self.s)

    def _lab(self, k: np.ndarray, s: np.ndarray) -> np.ndarray:
        """Return Lab of summed K and S, which are overwritten (Kubelka & Munk 1931)."""
        root = k + s
        root += s
        root *= k
        np.sqrt(root, out=root)
        k += s
        k += root
        s /= k  # what is reflected inside
        k2 = np.float32(self.surface.k2)
        np.multiply(s, -k2, out=k)
        k += 1
        s /= k
        weights = band_weights().astype(np.float32)
        scale = np.float32((1 - K1) * (1 - k2))
        mirrored = (self.surface.mirrored * K1 * weights.sum(axis=0)).astype(np.float32)
        return xyz_to_lab(s @ (weights * scale) + mirrored)
