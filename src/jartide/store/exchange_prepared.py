"""What `jar-tide prepare` prints: `jar-tide/prepared/1`, how a photo was made flat and true."""

from __future__ import annotations

from typing import Any

import numpy as np

from jartide.photo.card.find import CardSighting
from jartide.photo.flatten import PlaneMap
from jartide.photo.layout import wants_card
from jartide.photo.piece.find_piece import PieceSought
from jartide.photo.prepare import Prepared
from jartide.photo.settings import PhotoSettings
from jartide.wording import english


def prepared_to_json(
    prepared: Prepared, settings: PhotoSettings, out: str | None
) -> dict[str, Any]:
    """Return what was done to a photo, plain data for JSON."""
    picture, layout = prepared.picture, prepared.layout
    height, width = picture.shape
    correction = picture.correction
    scale = picture.mm_per_px
    return {
        "schema": "jar-tide/prepared/1",
        "out": out,
        "photo": {
            "width_px": picture.photo_size[0],
            "height_px": picture.photo_size[1],
            "warnings": [{"code": c, "message": english(m)} for c, m in picture.warnings],
        },
        "flat": {
            "width_px": width,
            "height_px": height,
            "mm_per_px": None if scale is None else round(scale, 6),
            "width_mm": None if scale is None else round(width * scale, 3),
            "height_mm": None if scale is None else round(height * scale, 3),
            "read_share": round(float(picture.valid().mean()), 4),
            "corners_px": _flat_corners(prepared),
        },
        "squared": {
            "by": layout.squared_by.value,
            "homography_px_to_mm": _homography(prepared),
            "lens": _lens(prepared),
            "corner_error_mm": _round(picture.corner_error_mm, 3),
            "scale_error_percent": _round(100 * picture.scale_error, 3),
        },
        "card": None if prepared.card is None else _card(prepared.card, settings),
        "board_px": None if prepared.piece is None else [list(xy) for xy in prepared.piece.corners],
        "piece": _piece(prepared.sought),
        "colour": {
            "grade": correction.grade.value,
            "model": correction.model.value,
            "white_balance": picture.balance_known,
            "exposure": picture.exposure_known,
            "left_out_mean_de00": _round(correction.left_out_mean, 2),
            "left_out_max_de00": _round(correction.left_out_max, 2),
            "uncertainty_de00": _round(
                picture.colour_radius() if picture.balance_known else None, 2
            ),
        },
        "light": {
            "evened_by": _evened_by(prepared, settings),
            "strength_percent": round(100 * prepared.light_seen.strength, 1),
            "told_apart": prepared.light_seen.told_apart,
        },
        "sheen": None if picture.sheen is None else picture.sheen.word.value,
        "metal": picture.metal,
    }


def _piece(sought: PieceSought) -> dict[str, Any] | None:
    """The piece's outline as it was found; whether it bounds the reading, and how sure that is."""
    piece = sought.piece
    if piece is None:
        return None
    return {
        "corners_px": [list(xy) for xy in piece.corners],
        "sure": piece.sure,
        "read_alone": piece.likely,
        "reaching_in_px": [[list(xy) for xy in ring.points] for ring in piece.reaching_in],
    }


def _evened_by(prepared: Prepared, settings: PhotoSettings) -> str | None:
    if prepared.picture.light is None:
        return None
    return "picture" if settings.light is None else settings.light.source.value


def _round(value: float | None, digits: int) -> float | None:
    return None if value is None else round(float(value), digits)


def _flat_corners(prepared: Prepared) -> list[list[float]] | None:
    """The flat picture's corners in the original, clockwise from the top left."""
    layout = prepared.layout
    if layout.surface is None or layout.extent is None:
        return None
    seen = layout.surface.to_photo(layout.extent.corners())
    return [[round(float(x), 2), round(float(y), 2)] for x, y in np.nan_to_num(seen)]


def _homography(prepared: Prepared) -> list[list[float]] | None:
    """From original pixels (lens distortion aside) to mm on the flat picture, origin top left."""
    layout = prepared.layout
    if not isinstance(layout.surface, PlaneMap) or layout.extent is None:
        return None
    scale = layout.mm_per_unit
    if scale is None:
        return None
    matrix = layout.surface.matrix
    lens = layout.surface.lens
    if lens is not None:
        x, y = lens.centre
        to_ray = np.array(
            [[1 / lens.focal_px, 0, -x / lens.focal_px], [0, 1 / lens.focal_px, -y / lens.focal_px]]
        )
        matrix = matrix @ np.vstack([to_ray, [0, 0, 1]])
    shift = np.array([[1, 0, -layout.extent.left], [0, 1, -layout.extent.top], [0, 0, 1.0]])
    matrix = np.diag([scale, scale, 1.0]) @ shift @ matrix
    matrix = matrix / matrix[2, 2]
    return [[float(f"{v:.9g}") for v in row] for row in matrix]


def _lens(prepared: Prepared) -> dict[str, Any] | None:
    surface = prepared.layout.surface
    if not isinstance(surface, PlaneMap) or surface.lens is None:
        return None
    lens = surface.lens
    return {
        "focal_px": round(lens.focal_px, 1),
        "k1": round(lens.k1, 5),
        "centre_px": [round(v, 1) for v in lens.centre],
        "focal_known": prepared.card is not None and prepared.card.focal_known,
    }


def _card(card: CardSighting, settings: PhotoSettings) -> dict[str, Any]:
    return {
        "size": card.size.value,
        "codes": list(card.codes),
        "outline_px": [[round(float(x), 2), round(float(y), 2)] for x, y in card.outline_px()],
        "px_per_mm": round(card.px_per_mm(), 3),
        "tilt_deg": round(card.pose.tilt_deg(), 1),
        "residual_px": round(card.pose.residual_px, 3),
        "edge_points": card.edge_points,
        "height_mm": settings.card.height_mm,
        "print_scale": card.print_scale,
        "used": wants_card(settings),
    }
