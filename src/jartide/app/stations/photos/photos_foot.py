"""What the foot says of the opened photo: what it is ready for, and what will be missing."""

from __future__ import annotations

from dataclasses import replace

from jartide.app.widgets.foot import Action, FootState
from jartide.job.flat import Flat
from jartide.job.standing import ONLY_LOOKED_AT
from jartide.photo.picture import Picture
from jartide.store.records import Board, Photo
from jartide.wording import tr


def photo_foot(
    photo: Photo,
    title: str,
    flat: Flat | None,
    refusal: str | None,
    board: Board | None,
    actions: tuple[Action, Action],
) -> FootState:
    """Return what the foot says; `actions` take the photo away and lead on."""
    remove, go = actions
    if refusal is not None:
        return FootState(text=refusal, sign="stop", actions=(remove, replace(go, enabled=False)))
    if flat is None:
        return FootState(text=tr("photos.squaring"), actions=actions)
    if photo.use in ONLY_LOOKED_AT:
        return FootState(
            text=tr(f"photos.is_{photo.use}"), note=tr("photos.use_note"), actions=actions
        )
    missing = missing_of(flat.prepared.picture, flat.mm_per_px)
    if missing:
        return FootState(
            text=tr(f"photos.no_{missing}", title=title),
            note=tr(f"photos.no_{missing}_note"),
            sign="todo",
            actions=actions,
        )
    unticked = board is not None and not board.checks
    note = tr("photos.board_note" if unticked else "photos.ready_note")
    return FootState(text=tr("photos.ready", title=title), note=note, sign="ready", actions=actions)


def missing_of(picture: Picture, mm_per_px: float | None) -> str:
    """Return what a photo still lacks: "scale", "colour", "scale_or_colour", or "" for nothing."""
    lacks = ["scale"] if mm_per_px is None else []
    if not picture.balance_known:
        lacks.append("colour")
    return "_or_".join(lacks)
