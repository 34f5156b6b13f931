"""Parts of a jar as they are measured, and what that comes to of every tin."""

from __future__ import annotations

import pytest

from jartide.job.measured_parts import (
    measured_parts,
    part_name,
    really_in,
    recipe_counts,
    small_jar_words,
)
from jartide.store.jar_records import JarPart

NAMES = {"w": "White", "b": "Black", "o": "Ochre"}
# Eight white, three ochre, two of a small jar of 1 black in 9 white.
REAL = (
    JarPart(tin_id="w", parts=9.8),
    JarPart(tin_id="o", parts=3.0),
    JarPart(tin_id="b", parts=0.2, let_down=9.0, let_down_with="w"),
)


def test_a_small_jar_is_counted_in_whole_parts():
    assert recipe_counts(REAL) == pytest.approx([8, 3, 2])
    white, ochre, small = measured_parts(REAL)
    assert [part_name(p, NAMES) for p in (white, ochre, small)] == [
        "White", "Ochre", "Black, let down",
    ]  # fmt: skip
    assert small_jar_words(small, NAMES) == "First a small jar: 1 Black into 9 White."
    assert small_jar_words(white, NAMES) == ""


def test_what_is_measured_comes_to_what_is_really_in_it():
    again = really_in(measured_parts(REAL), recipe_counts(REAL))
    assert {part.tin_id: part for part in again}.keys() == {"w", "o", "b"}
    for part in REAL:
        own = next(one for one in again if one.tin_id == part.tin_id)
        assert own.parts == pytest.approx(part.parts)
        assert (own.let_down, own.let_down_with) == (part.let_down, part.let_down_with)
    # One more of the small jar: a tenth of it is black.
    more = really_in(measured_parts(REAL), [8, 3, 3])
    assert next(p.parts for p in more if p.tin_id == "b") == pytest.approx(0.3)
    assert next(p.parts for p in more if p.tin_id == "w") == pytest.approx(10.7)


def test_a_body_that_is_only_in_the_small_jar_is_not_measured_beside_it():
    only = (
        JarPart(tin_id="w", parts=9.0),
        JarPart(tin_id="b", parts=1.0, let_down=9.0, let_down_with="w"),
    )
    assert [(p.tin_id, p.count) for p in measured_parts(only)] == [("b", 10.0)]
    assert {p.tin_id for p in really_in(measured_parts(only), [10])} == {"w", "b"}


def test_plain_parts_stay_as_they_are():
    plain = (JarPart(tin_id="w", parts=5), JarPart(tin_id="o", parts=2))
    assert really_in(measured_parts(plain), [5, 2]) == plain
