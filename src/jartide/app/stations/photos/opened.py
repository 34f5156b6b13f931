"""The opened photo with all that is known of it: what the list and the panels show."""

from __future__ import annotations

from dataclasses import dataclass

from jartide.app.stations.photos.marks import STEPS
from jartide.app.widgets.steps_list import Step
from jartide.figures import figure, short_figure
from jartide.job.flat import Flat
from jartide.job.words.numbers import mm_words
from jartide.photo.card.design import PatchKind
from jartide.photo.even_light import LightField
from jartide.photo.settings import PhotoSettings
from jartide.store.records import Board, BoardCheck, Photo
from jartide.wording import tr

# Colours nearer than this, CIEDE2000, are told apart only side by side.
_HAIR, _LITTLE = 1.5, 3.5


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Opened:
    """A photo as the station shows it.

    `size` is the original's, px; `others` are the finish's other photos with their titles;
    `known` the painter's lists of lengths and colours; `reader` says whether a colour reader
    is at hand.
    """

    photo: Photo
    size: tuple[int, int]
    flat: Flat | None
    board: Board | None
    others: tuple[tuple[Photo, str], ...]
    lengths: tuple[tuple[str, float], ...]
    colours: tuple[tuple[str, tuple[float, float, float]], ...]
    reader: bool = False

    @property
    def settings(self) -> PhotoSettings:
        """What the painter has set."""
        return self.photo.settings


def steps_of(opened: Opened) -> dict[str, Step]:
    """Return how each step stands, in their order; the board's list only for a board."""
    makers = {
        "card": _card,
        "shape": _shape,
        "scale": _scale,
        "colour": _colour,
        "light": _light,
        "left_out": _left_out,
        "sheen": _sheen,
        "check": _check,
        "board": _board,
    }
    return {
        name: makers[name](opened) for name in STEPS if name != "board" or opened.board is not None
    }


def closeness_word(de00: float) -> str:
    """Return a colour's uncertainty in words."""
    if de00 < _HAIR:
        return tr("sure.hair")
    return tr("sure.little" if de00 < _LITTLE else "sure.rough")


def card_patches(opened: Opened) -> list[tuple[str, object]]:
    """Return what the patches of the card in the photo are called, and their ids."""
    card = None if opened.flat is None else opened.flat.prepared.card
    if card is None:
        return []
    read = dict(opened.settings.card.measured)
    found: list[tuple[str, object]] = []
    for patch in card.card.patches:
        if patch.kind is PatchKind.PAPER and patch.id != "paper":
            continue  # spots of the same paper
        kind, _, place = patch.id.partition("-")
        words = tr(f"card.patch.{kind}", number=place)
        found.append((words + (tr("card.is_read") if patch.id in read else ""), patch.id))
    return found


def dim_side(field: LightField) -> str:
    """Return the word for the side that gets less light."""
    x, y = field.coefficients[1], field.coefficients[2]
    if abs(x) >= abs(y):
        return tr("side.left" if x > 0 else "side.right")
    return tr("side.top" if y > 0 else "side.bottom")


def _step(name: str, sign: str, state: str, note: str) -> Step:
    return Step(sign=sign, name=tr(f"step.{name}"), state=state, note=note)


def _card(opened: Opened) -> Step:
    card = None if opened.flat is None else opened.flat.prepared.card
    if opened.settings.card.ignore:
        return _step("card", "todo", tr("step.card.ignored"), tr("step.card.ignored_note"))
    if card is None:
        # Nothing is missing where the painter has set all by hand.
        by_hand = opened.flat is not None and opened.flat.mm_per_px is not None
        sign = "ready" if by_hand and opened.settings.neutrals else "todo"
        return _step("card", sign, tr("word.none"), tr("step.card.none_note"))
    error = opened.flat.prepared.picture.corner_error_mm if opened.flat is not None else None
    note = tr("step.card.colour_note")
    if error is not None:
        note = tr("step.card.note", mm=mm_words(error))
    state = tr("step.card.found", size=tr(f"card.short.{card.size.name.lower()}"))
    return _step("card", "ready", state, note)


def _shape(opened: Opened) -> Step:
    s, flat = opened.settings, opened.flat
    by = "nothing" if flat is None else flat.prepared.layout.squared_by.value
    piece = None if flat is None else flat.prepared.sought.piece
    asked = s.corners is None and s.region is None and not s.whole_plane
    if piece is not None and asked:
        sign = "ready" if piece.sure else "check"
        return _step("shape", sign, tr(f"step.shape.piece.{by}"), tr("piece.ask"))
    if s.carved:
        return _step("shape", "check", tr("step.shape.carved"), tr("step.shape.carved_note"))
    sign = "todo" if by == "nothing" else "ready"
    return _step("shape", sign, tr(f"step.shape.{by}"), tr(f"step.shape.{by}_note"))


def _scale(opened: Opened) -> Step:
    s, flat = opened.settings, opened.flat
    if flat is None or flat.mm_per_px is None:
        return _step("scale", "todo", tr("word.unknown"), tr("step.scale.none_note"))
    if s.scan:
        return _step("scale", "ready", tr("step.scale.scan"), tr("scale.by_scan"))
    picture = flat.prepared.picture
    per_mm = picture.reduced / flat.mm_per_px
    state = tr("step.scale.state", px=short_figure(per_mm))
    if s.known_length is not None and s.known_length.name:
        return _step("scale", "ready", state, tr("step.scale.by", name=s.known_length.name))
    if picture.scale_error > 0:
        percent = figure(100 * picture.scale_error, 1)
        return _step("scale", "ready", state, tr("step.scale.card_note", percent=percent))
    by_size = s.size_mm is not None or s.column is not None
    return _step(
        "scale", "ready", state, tr("step.scale.size_note" if by_size else "step.scale.length_note")
    )


def _colour(opened: Opened) -> Step:
    if opened.flat is None:
        return _step("colour", "todo", tr("word.unknown"), "")
    picture = opened.flat.prepared.picture
    correction = picture.correction
    if not picture.balance_known:
        return _step("colour", "todo", tr("step.colour.none"), tr("step.colour.none_note"))
    state = tr(f"step.colour.{correction.grade.name.lower()}")
    if not picture.exposure_known:
        return _step("colour", "ready", state, tr("step.colour.tint_note"))
    note = tr("step.colour.note", sure=closeness_word(picture.colour_radius()))
    return _step("colour", "check" if picture.metal else "ready", state, note)


def _light(opened: Opened) -> Step:
    if opened.flat is None:
        return _step("light", "todo", tr("word.unknown"), "")
    seen = opened.flat.prepared.light_seen
    evened = opened.flat.prepared.picture.light is not None
    state = tr("step.light.evened" if evened else "step.light.as_it_fell")
    percent = round(100 * seen.strength)
    note = tr("step.light.even_note")
    if percent >= 3:
        note = tr("step.light.note", side=dim_side(seen), percent=percent)
    if not seen.told_apart:
        return _step("light", "check", state, tr("step.light.unsure_note"))
    return _step("light", "ready" if evened or percent < 8 else "todo", state, note)


def _left_out(opened: Opened) -> Step:
    s = opened.settings
    suggested = 0 if opened.flat is None else len(opened.flat.suggestions)
    state = tr("step.left_out.state", count=len(s.leave_out)) if s.leave_out else tr("word.nothing")
    if suggested and not s.leave_out:
        note = tr("step.left_out.suggested", count=suggested)
        return _step("left_out", "check", state, note)
    note = tr("step.left_out.region_note" if s.region is not None else "step.left_out.note")
    return _step("left_out", "ready", state, note)


def _sheen(opened: Opened) -> Step:
    s = opened.settings
    note = tr("step.sheen.metal_note" if s.metal else "step.sheen.note")
    if s.sheen is None:
        return _step("sheen", "check" if s.metal else "todo", tr("step.sheen.none"), note)
    return _step(
        "sheen", "check" if s.metal else "ready", tr(f"sheen.{s.sheen.word.name.lower()}"), note
    )


def _check(opened: Opened) -> Step:
    if opened.flat is None:
        return _step("check", "todo", tr("word.unknown"), "")
    warnings = opened.flat.prepared.picture.warnings
    if not warnings:
        return _step("check", "ready", tr("step.check.good"), tr("step.check.good_note"))
    state = tr("step.check.state", count=len(warnings))
    return _step("check", "check", state, tr("step.check.note"))


def _board(opened: Opened) -> Step:
    assert opened.board is not None
    ticked, wanted = len(opened.board.checks), len(BoardCheck)
    state = tr("step.board.state", done=ticked, wanted=wanted)
    if ticked == wanted:
        return _step("board", "ready", state, tr("step.board.done_note"))
    return _step("board", "todo", state, tr("step.board.note"))
