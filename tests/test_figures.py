"""Numbers as people read them, in either language."""

from __future__ import annotations

import json

import pytest

from jartide.figures import Figure, as_figure, figure, in_figures, plain_figure, short_figure
from jartide.store.serialise import converter
from jartide.wording import Message, say


@pytest.mark.parametrize(
    ("value", "digits", "text"),
    [(1.25, 1, "1.2"), (9.96, 1, "10.0"), (-0.04, 1, "0.0"), (-2.5, 1, "-2.5"), (34.4, 0, "34")],
)
def test_a_figure_is_rounded_once_and_is_never_minus_nought(value, digits, text):
    assert figure(value, digits) == text


@pytest.mark.parametrize(
    ("value", "text"), [(0.52, "0.5"), (9.94, "9.9"), (9.96, "10"), (34.4, "34"), (-12.6, "-13")]
)
def test_sizes_have_a_tenth_below_ten(value, text):
    assert short_figure(value) == text


def test_each_language_has_its_own_marks():
    assert in_figures(figure(1234.5, 1), "en") == "1234.5"
    assert in_figures(figure(1234.5, 1), "de") == "1234,5"
    assert in_figures(figure(-2.5, 1), "de") == "−2,5"
    assert in_figures(plain_figure(2.50), "de") == "2,5"
    assert in_figures(plain_figure(3), "de") == "3"


def test_only_numbers_are_figures():
    assert isinstance(as_figure("2.5"), Figure)
    assert isinstance(as_figure("-3"), Figure)
    for text in ("0.1.0", "2:1", "08:00", "", "wall 2.5", "1e5"):
        assert not isinstance(as_figure(text), Figure)


def test_messages_write_figures_as_their_language_does_even_after_they_were_kept():
    message = Message("unit.mm", value=figure(2.5, 1))
    assert (say(message, "en"), say(message, "de")) == ("2.5 mm", "2,5 mm")
    plain = json.loads(json.dumps(converter().unstructure(message)))
    assert say(converter().structure(plain, Message), "de") == "2,5 mm"
