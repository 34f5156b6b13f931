"""Photo and settings -> Picture: squared, scaled, neutral, evenly lit, as fine as needed."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from jartide.errors import PrepareError
from jartide.photo.card.find import CardSighting, find_card
from jartide.photo.card.patches import known_colours, middle_mm, seen_patches
from jartide.photo.correct import NO_CORRECTION, SCANNED, Correction, Grade, fit_correction
from jartide.photo.even_light import (
    LightField,
    light_from_blank,
    light_from_picture,
    log_light_over,
    seen_from,
)
from jartide.photo.grey_doubt import grey_warnings
from jartide.photo.health import Warnings, light_warnings, photo_warnings
from jartide.photo.layout import Layout, SquaredBy, check_scale, layout_of, wants_card
from jartide.photo.leave_out import draw_shapes
from jartide.photo.load import Photo
from jartide.photo.neutral import correction_by_chart, correction_by_patches, crop
from jartide.photo.picture import Picture
from jartide.photo.piece.around import angle_warnings, around_warnings
from jartide.photo.piece.find_piece import Piece, PieceSought, find_piece
from jartide.photo.render import Drawn, draw_as_taken, draw_flat, flat_size, sampled
from jartide.photo.settings import LightSource, PhotoSettings, Polygon, Rect, Shape, Stroke
from jartide.wording import Message

# Readings work on this many pixels.
READING_PIXELS = 750_000
# A card casts a shadow and shows its edge: this much around it is not read, mm.
_CARD_MARGIN_MM = 2.0
_MASK_PX = 1_500_000
# The light over all of a plane is told from so many pixels.
_LIGHT_PX = 60_000


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Prepared:
    """A picture, and what it was made with: for those who show how.

    Attributes
    ----------
    picture : Picture
    layout : how the surface lay in the photo
    card : the card found, or None
    piece : the outline of the piece that bounds the reading, or None where nobody looked for
        one, none was found or it is too doubtful
    sought : what was found when the piece was looked for
    where : (H, W, 2) float32, original px of every pixel of the picture
    before : (H, W, 3) float32 linear light, the same pixels before colour and light were corrected
    light_seen : the falloff of the light, taken out or not
    """

    picture: Picture
    layout: Layout
    card: CardSighting | None
    piece: Piece | None
    sought: PieceSought
    where: np.ndarray
    before: np.ndarray
    light_seen: LightField


def card_for(photo: Photo, settings: PhotoSettings) -> CardSighting | None:
    """Look for the card: for what it would set, or else to leave it out of the reading."""
    if settings.card.ignore or settings.scan:
        return None
    # Where it sets no shape a quick search does: a card too small for it is too small to matter.
    return find_card(photo, settings.card.check_mm, thorough=wants_card(settings))


def prepare(
    photo: Photo,
    settings: PhotoSettings,
    max_pixels: int | None = None,
    *,
    card: CardSighting | None = None,
    blank: Photo | None = None,
) -> Picture:
    """Return the flat picture of the surface, about `max_pixels` large, never enlarged.

    Without `max_pixels` it is as large as readings are made of (`READING_PIXELS`).

    Parameters
    ----------
    card : where the photo card lies, from `card_for`; None for no card
    blank : the photo of a blank board that `settings.light` names

    Raises
    ------
    PrepareError : one sentence, when the settings don't make sense for this photo.
    """
    return prepare_in_full(photo, settings, max_pixels, card=card, blank=blank).picture


def prepare_in_full(
    photo: Photo,
    settings: PhotoSettings,
    max_pixels: int | None = None,
    *,
    card: CardSighting | None = None,
    blank: Photo | None = None,
) -> Prepared:
    """Return the picture with what it was made with; parameters and errors as `prepare`."""
    max_pixels = max_pixels or READING_PIXELS
    used = None if settings.card.ignore else card
    with ThreadPoolExecutor(1) as pool:
        # Colours need nothing of the shape: they go on beside it on the second core.
        corrected = pool.submit(_correction, photo, settings, used)
        sought = _sought(photo, settings, card)
        piece = _bounding(sought, settings)
        painters, settings = settings, _within(settings, piece, used)
        layout = layout_of(photo, settings, used)
        if used is None:
            corrected.result()  # before the drawing: a bad patch must not cost the wait
        drawn = _drawn(photo, settings, layout, max_pixels)
        correction, warnings = corrected.result()
    valid = _valid(photo, settings, layout, card, drawn.where)
    bare = _bare(photo, blank, settings, layout, max_pixels, correction)
    rgb = correction.apply(drawn.rgb_linear)
    known = correction.grade is not Grade.NONE
    with ThreadPoolExecutor(1) as pool:
        # The check needs nothing of the light: it goes on beside it on the second core.
        checked = pool.submit(photo_warnings, photo, rgb, drawn.where, valid, drawn.reduced, known)
        light = light_from_picture(rgb, valid) if bare is None else light_from_blank(bare, valid)
        if bare is None and piece is not None and layout.squared_by is SquaredBy.CARD:
            around = _light_around(photo, painters, card, correction, (drawn.where, valid))
            light = min(light, around, key=lambda field: field.log_sd)
        faults = checked.result()
    evened = not settings.scan and _to_even(settings, correction, light)
    if bare is None and not settings.scan:
        warnings += light_warnings(light, evened)
    if evened:
        log = log_light_over(light, rgb.shape[:2])
        log -= _reference(log, layout, used, valid)
        rgb *= np.exp(-log)[..., None]
    warnings += faults + around_warnings(photo, painters, sought, card)
    squared = layout.squared_by is not SquaredBy.NOTHING
    warnings += angle_warnings(piece, painters, squared=squared)
    if settings.rest_on_stand_ins():
        warnings += [("stand_in", Message("warning.stand_in"))]
    scale = layout.mm_per_unit
    corner_error, scale_error = _errors(layout, used, settings)
    picture = Picture(
        rgb_linear=rgb,
        photo_size=photo.size,
        mm_per_px=None if scale is None else check_scale(scale / drawn.per_unit),
        mask=None if valid.all() else valid,
        balance_known=known,
        exposure_known=_exposure_known(settings, correction),
        reduced=drawn.reduced,
        correction=correction,
        light=light if evened else None,
        scale_error=scale_error,
        corner_error_mm=corner_error,
        warnings=tuple(_once(warnings + _layout_warnings(layout, used, settings, corner_error))),
        sheen=settings.sheen,
        joints_as_lines=settings.joints_as_lines,
        metal=settings.metal,
        whole_piece=piece is not None or painters.corners is not None,
    )
    return Prepared(
        picture=picture,
        layout=layout,
        card=card,
        piece=piece,
        sought=sought,
        where=drawn.where,
        before=drawn.rgb_linear,
        light_seen=light,
    )


def _sought(photo: Photo, settings: PhotoSettings, card: CardSighting | None) -> PieceSought:
    """Look for the piece, where a photo may show more than it."""
    by_shape = settings.column is not None or settings.lines is not None or settings.carved
    if settings.scan or settings.whole_plane or by_shape:
        return PieceSought()
    return find_piece(photo, card, settings.card.height_mm)


def _bounding(sought: PieceSought, settings: PhotoSettings) -> Piece | None:
    """The piece that bounds the reading, where nobody said what to read."""
    if settings.corners is not None or settings.region is not None:
        return None
    return sought.piece if sought.piece is not None and sought.piece.likely else None


def _within(
    settings: PhotoSettings, piece: Piece | None, card: CardSighting | None
) -> PhotoSettings:
    """The settings as if the painter had pointed at the piece.

    A card squares it, and a scale that was typed in is that of the photo as it was taken; else
    it is taken for a rectangle and squared by its corners.
    """
    if piece is None:
        return settings
    squares = card is not None and wants_card(settings)
    if piece.all_seen() and (squares or settings.mm_per_px is None):
        return replace(settings, corners=piece.corners)
    return replace(settings, region=Polygon(points=piece.corners))


def _once(warnings: Warnings) -> Warnings:
    return list({code: (code, message) for code, message in warnings}.values())


# ---- colour


def _correction(
    photo: Photo, settings: PhotoSettings, card: CardSighting | None
) -> tuple[Correction, Warnings]:
    """The correction: what the painter said goes before the card."""
    if settings.scan and settings.chart is None and not settings.neutrals:
        if photo.profiled:
            return SCANNED, []
        return NO_CORRECTION, [("scan_profile", Message("warning.scan_profile"))]
    if settings.chart is not None:
        return correction_by_chart(photo, settings.chart), []
    if settings.neutrals:
        return correction_by_patches(photo, settings.neutrals), grey_warnings(
            photo, settings.neutrals
        )
    if card is not None:
        known = known_colours(seen_patches(photo, card), dict(settings.card.measured))
        if known is not None:
            return fit_correction(*known), []
        return NO_CORRECTION, [("card_colour", Message("warning.card_colour"))]
    return NO_CORRECTION, []


def _exposure_known(settings: PhotoSettings, correction: Correction) -> bool:
    if correction.grade is Grade.PATCH:
        return all(patch.lightness is not None for patch in settings.neutrals)
    return correction.grade is not Grade.NONE


# ---- shape


def _drawn(photo: Photo, settings: PhotoSettings, layout: Layout, max_pixels: int) -> Drawn:
    if layout.surface is None or layout.extent is None:
        code, corner = photo.code, (0, 0)
        if settings.region is not None:
            box = _bounds(settings.region)
            code = crop(photo, box, "word.region")
            corner = (max(0, round(box.x)), max(0, round(box.y)))
        return draw_as_taken(photo, corner, code, max_pixels)
    per_unit, finest = flat_size(layout.surface, layout.extent, photo.size, max_pixels)
    return draw_flat(photo, layout.surface, layout.extent, per_unit, finest)


def _bounds(shape: Rect | Polygon) -> Rect:
    if isinstance(shape, Rect):
        return shape
    x, y = np.array(shape.points, float).T
    return Rect(x=x.min(), y=y.min(), w=float(np.ptp(x)), h=float(np.ptp(y)))


def _valid(
    photo: Photo,
    settings: PhotoSettings,
    layout: Layout,
    card: CardSighting | None,
    where: np.ndarray,
) -> np.ndarray:
    """True where a flat pixel is to be read, (H, W)."""
    width, height = photo.size
    x, y = where[..., 0], where[..., 1]
    with np.errstate(invalid="ignore"):
        valid = (x >= 0) & (y >= 0) & (x <= width) & (y <= height)
    scale = min(1.0, (_MASK_PX / (width * height)) ** 0.5)
    out: list[Shape] = list(settings.leave_out)
    if card is not None:
        out += _card_shapes(card, settings)
    inner: list[Shape] = []
    if settings.region is not None:
        inner.append(settings.region)
    if settings.corners is not None and layout.squared_by is SquaredBy.CARD:
        inner.append(Polygon(points=settings.corners))
    for shape in inner:
        valid &= sampled(draw_shapes((shape,), photo.size, scale), scale, where)
    if inner and valid.sum() < 64:
        raise PrepareError("error.region.outside")
    if out:
        valid &= ~sampled(draw_shapes(tuple(out), photo.size, scale), scale, where)
        if valid.sum() < 64:
            raise PrepareError("error.leave_out.all")
    return valid


def _card_shapes(card: CardSighting, settings: PhotoSettings) -> tuple[Shape, Shape]:
    """The card in the photo and a rim around it: its shadow and edge are no finish."""
    ring = tuple((float(x), float(y)) for x, y in card.outline_px())
    margin = (_CARD_MARGIN_MM + abs(settings.card.height_mm)) * card.px_per_mm()
    return Polygon(points=ring), Stroke(points=(*ring, ring[0]), radius_px=margin)


def _errors(
    layout: Layout, card: CardSighting | None, settings: PhotoSettings
) -> tuple[float | None, float]:
    """90 % bounds of the squaring at the worst corner, mm, and of the scale, relative."""
    if layout.squared_by is not SquaredBy.CARD or card is None or layout.extent is None:
        return None, 0.0
    ring = layout.on_card(layout.extent.corners())
    errors = card.pose.error_mm(ring, settings.card.height_mm)
    # The scale of the whole is unsure by what a diagonal is, over its length.
    diagonal = float(np.hypot(layout.extent.width, layout.extent.height))
    if settings.known_length is not None:
        return float(errors.max()), 0.0
    return float(errors.max()), float(min(errors.mean() / diagonal + 0.001, 0.5))


def _layout_warnings(
    layout: Layout, card: CardSighting | None, settings: PhotoSettings, error: float | None
) -> Warnings:
    found: Warnings = []
    if layout.squared_by is SquaredBy.COLUMN:
        found.append(("column", Message("warning.column")))
    if settings.carved:
        found.append(("carved", Message("warning.carved")))
    if card is not None and layout.squared_by is SquaredBy.CARD:
        assert error is not None
        if len(card.codes) < 3:
            found.append(("card_partly", Message("warning.card_partly", mm=_mm(error))))
        elif error > 1.5:
            found.append(("card_small", Message("warning.card_small", mm=_mm(error))))
        if settings.card.height_mm:
            found.append(("card_height", Message("warning.card_height")))
    if settings.metal:
        found.append(("metal", Message("warning.metal")))
    return found


def _mm(value: float) -> str:
    return f"{value:.1f}" if value < 10 else f"{value:.0f}"


# ---- light


def _bare(
    photo: Photo,
    blank: Photo | None,
    settings: PhotoSettings,
    layout: Layout,
    max_pixels: int,
    correction: Correction,
) -> np.ndarray | None:
    """The blank board drawn as the photo is, linear light; None when the light is told otherwise.

    Raises
    ------
    PrepareError : when there is no photo of it, or it was not taken from the same place.
    """
    if settings.light is None or settings.light.source is not LightSource.BLANK:
        return None
    if blank is None:
        raise PrepareError("error.light.blank")
    if blank.size != photo.size:
        raise PrepareError("error.light.blank_size")
    return correction.apply(_drawn(blank, settings, layout, max_pixels).rgb_linear)


def _light_around(
    photo: Photo,
    settings: PhotoSettings,
    card: CardSighting | None,
    correction: Correction,
    part: tuple[np.ndarray, np.ndarray],
) -> LightField:
    """The light over a piece, (where, valid) of it, by all that is seen of its plane: what lies
    around a patterned piece is often plain, and tells the falloff far better than the piece does.
    """
    where, valid = part
    layout = layout_of(photo, settings, card)
    drawn = _drawn(photo, settings, layout, _LIGHT_PX)
    all_seen = _valid(photo, settings, layout, card, drawn.where)
    field = light_from_picture(correction.apply(drawn.rgb_linear), all_seen)
    assert layout.surface is not None and layout.extent is not None
    rows, columns = (np.linspace(0, n - 1, min(n, 40)).round().astype(int) for n in valid.shape)
    px = where[np.ix_(rows, columns)]
    on = layout.surface.to_surface(px.reshape(-1, 2).astype(float)).reshape(px.shape)
    extent = layout.extent
    x = (on[..., 0] - extent.left) / extent.width * 2 - 1
    y = (on[..., 1] - extent.top) / extent.height * 2 - 1
    return seen_from(field, x, y, valid)


def _to_even(settings: PhotoSettings, correction: Correction, light: LightField) -> bool:
    """Whether the falloff is taken out: as the painter says, else by the card where it is sure."""
    if settings.light is not None:
        return settings.light.source is not LightSource.NOT
    return correction.grade in (Grade.PRINTED, Grade.MEASURED) and light.told_apart


def _reference(
    log: np.ndarray, layout: Layout, card: CardSighting | None, valid: np.ndarray
) -> float:
    """The logarithm of the light where the known colour lies: there it must stay as it is."""
    if card is not None and layout.surface is not None and layout.extent is not None:
        middle = card.pose.project(middle_mm(card.card)[None] * card.print_scale)
        x, y = layout.surface.to_surface(middle)[0]
        column = (x - layout.extent.left) / layout.extent.width * log.shape[1]
        row = (y - layout.extent.top) / layout.extent.height * log.shape[0]
        if 0 <= row < log.shape[0] and 0 <= column < log.shape[1]:
            return float(log[int(row), int(column)])
    return float(log[valid].mean())
