"""Words beside the numbers of a pattern: what each would be called at the bench."""

from __future__ import annotations

from bisect import bisect

# Below each limit the first word still free; above the last limit the last word.
_STEPS: dict[str, tuple[tuple[float, ...], tuple[str, ...]]] = {
    "width": ((1.0, 2.0, 5.0), ("hair", "fine", "middle", "broad")),
    "length": ((1.0, 3.0, 6.0), ("sparse", "some", "crowded", "packed")),
    "softness": ((0.3, 0.8, 2.0), ("crisp", "little_soft", "soft", "melting")),
    "contrast": ((8.0, 20.0, 40.0), ("faint", "gentle", "clear", "stark")),
    "contrast_spread": ((3.0, 8.0), ("one_value", "some_values", "many_values")),
    "variation": ((0.15, 0.35), ("ruled", "swelling", "uneven")),
    "evenness": ((0.85, 1.25), ("bunches", "scattered", "even")),
    "forks": ((1.0, 5.0), ("hardly_forked", "forked", "much_forked")),
    "wander": ((1.03, 1.1, 1.25), ("straight", "nearly_straight", "winding", "wriggling")),
    "halo": ((0.3, 1.0), ("no_halo", "halo", "wide_halo")),
    "count": ((10.0, 40.0, 120.0), ("few", "some", "many", "very_many")),
    "across": ((3.5, 11.0, 36.0), ("specks", "small", "middle", "large")),
    "elongation": ((1.5, 2.5), ("round", "longish", "long")),
    "runs": ((-0.15, 0.15), ("lying", "no_way", "running_down")),
    "ragged": ((0.4, 1.2), ("smooth", "ragged", "frayed")),
    "mottle": ((5.0, 15.0, 40.0), ("fine", "middle", "broad", "very_broad")),
    "threads": ((4.0, 8.0, 16.0), ("coarse", "middle", "fine", "very_fine")),
    "weave_even": ((0.8, 0.93), ("uneven_spun", "little_uneven", "even_spun")),
    "cell": ((4.0, 10.0, 25.0), ("fine", "small", "middle", "large")),
    "groove": ((0.8, 2.0), ("hair", "narrow", "broad")),
    "grain": ((2.0, 5.0, 12.0), ("close", "middle", "wide", "very_wide")),
    "straightness": ((0.75, 0.92), ("wild", "wavy", "straight")),
    "ridge": ((1.5, 4.0), ("fine", "middle", "coarse")),
    "light_share": ((0.25, 0.6), ("grain_dirt", "some_relief", "mostly_relief")),
    "diameter": ((1.0, 3.0), ("pinpricks", "small", "large")),
}


def step_word(scale: str, value: float) -> str:
    """Return the message id of the word for a value on one of the scales."""
    limits, words = _STEPS[scale]
    return f"word.{words[bisect(limits, value)]}"


def word_ids() -> set[str]:
    """Return every message id that `step_word` can give."""
    return {f"word.{word}" for _, words in _STEPS.values() for word in words}
