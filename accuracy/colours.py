"""Colours by the card: how far the mean colour of a layer is from its truth.

Boards of six colours in scattered cells, as layers lie; each is photographed
with one print of the card in two lamps by two cameras, lit from one side.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from accuracy.photos import BOARD_MM, any_print, any_shot
from accuracy.rows import Row
from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.photo.card.design import CardSize
from jartide.photo.card.find import CardSighting, find_card
from jartide.photo.load import Photo, decode_photo
from jartide.photo.picture import Picture
from jartide.photo.prepare import prepare_in_full
from jartide.photo.settings import CardUse, EvenLight, PhotoSettings
from jartide.photo.square import transform
from jartide.studio.noise import fractal
from jartide.studio.snapshot import Shot, take_snapshot
from jartide.studio.spectral_camera import make_camera
from jartide.studio.truth import Surface, SurfaceTruth

# Layer colours of the families, L*, a*, b*.
PALETTE = (
    (13, -6, 1), (24, -13, 3), (36, -15, 5), (54, -13, 5), (76, -8, 6),  # green marble
    (60, 1, 5), (67, 0, 6), (53, 1, 4), (26, 1, 4),  # concrete
    (38, 6, 17), (58, -22, -4), (70, -20, 2), (46, -16, -2),  # verdigris on bronze
    (64, 7, 24), (72, 4, 18), (55, 9, 26), (84, 1, 9),  # limed oak
    (42, 24, 26), (30, 12, 12), (35, 3, -12),  # rust, leather, slate
)  # fmt: skip
_COUNT = 6
_SIDE = 480
_BORDER_PX = 5
_READER_NOISE = 0.15


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Board:
    """A board of six colours: the label at each place, -1 at their borders, and true Lab."""

    surface: Surface
    labels: np.ndarray
    truth: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Case:
    """A photo of a board with the card found in it, and what a reader said of the print."""

    board: Board
    photo: Photo
    card: CardSighting
    card_at_mm: tuple[float, float]
    read: tuple[tuple[str, tuple[float, float, float]], ...]


def draw_board(rng: np.random.Generator) -> Board:
    """A board whose colours lie in scattered cells about 27 mm wide, with grain."""
    import cv2
    from scipy.spatial import cKDTree

    pick = rng.choice(len(PALETTE), _COUNT, replace=False)
    labs = np.array(PALETTE, float)[pick] + rng.normal(0, 1.5, (_COUNT, 3))
    seeds = rng.uniform(0, _SIDE, (84, 2))
    y, x = np.mgrid[0:_SIDE, 0:_SIDE]
    _, nearest = cKDTree(seeds).query(np.stack([x, y], axis=-1))
    cells = rng.permutation(np.arange(84) % _COUNT)[nearest].astype(np.int16)
    grain = np.exp(0.04 * fractal((_SIDE, _SIDE), 0.5, rng, largest_mm=8, slope=1.5))
    paint = np.clip(lab_to_linear(labs), 0.003, 0.95)
    rgb = (paint[cells] * grain[..., None]).astype(np.float32)
    truth = np.array([linear_to_lab(rgb[cells == n].mean(axis=0)) for n in range(_COUNT)])
    labels = np.full(cells.shape, -1, np.int16)
    for number in range(_COUNT):
        own = cv2.erode((cells == number).astype(np.uint8), np.ones((_BORDER_PX,) * 2, np.uint8))
        labels[own > 0] = number
    surface = Surface(
        rgb_linear=rgb,
        mm_per_px=BOARD_MM / _SIDE,
        truth=SurfaceTruth(family="auto", layers=(), direction_deg=None),
    )
    return Board(surface=surface, labels=labels, truth=truth)


def draw_cases(number: int) -> list[Case]:
    """One board with one print of the card, in two lamps before two cameras."""
    rng = np.random.default_rng([11, number])
    board, printed, cases = draw_board(rng), any_print(CardSize.A6, rng), []
    for _ in range(2):
        camera = make_camera(rng.uniform(2700, 7500), rng)
        shot = replace(
            any_shot(CardSize.A6, rng.uniform(0.35, 0.5), True, rng),
            size_px=(1600, 1200),
            tilt_deg=rng.uniform(0, 35),
            print=printed,
        )
        snapshot = take_snapshot(board.surface, shot, number, camera)
        photo = decode_photo(snapshot.jpeg, "simulated.jpg")
        card = find_card(photo)
        if card is None or shot.card_at_mm is None:
            raise RuntimeError("no card found in a photo meant for colours")
        cases.append(
            Case(
                board=board,
                photo=photo,
                card=card,
                card_at_mm=shot.card_at_mm,
                read=_read_print(shot, card, number),
            )
        )
    return cases


def _read_print(
    shot: Shot, card: CardSighting, seed: int
) -> tuple[tuple[str, tuple[float, float, float]], ...]:
    """What a colour reader says of the print's own patches."""
    rng = np.random.default_rng([seed, 5])
    read = []
    for patch in card.card.patches:
        if not patch.id.startswith(("space", "paper-")):
            lab = np.array(shot.print.patch_lab(patch.srgb)) + rng.normal(0, _READER_NOISE, 3)
            read.append((patch.id, (float(lab[0]), float(lab[1]), float(lab[2]))))
    return tuple(read)


def mean_colours(
    case: Case, measured: bool, max_pixels: int = 300_000
) -> tuple[np.ndarray, Picture]:
    """Mean Lab of the six colours, NaN where hardly any is seen, and the prepared picture."""
    settings = PhotoSettings(
        card=CardUse(measured=case.read if measured else ()), light=EvenLight()
    )
    done = prepare_in_full(case.photo, settings, max_pixels, card=case.card)
    pose = case.card.pose
    rays = pose.lens.undistort(done.where.reshape(-1, 2))
    on_card = transform(np.linalg.inv(pose.homography()), rays)
    on_board = (on_card + np.array(case.card_at_mm)).reshape(done.where.shape)
    place = np.floor(np.nan_to_num(on_board, nan=-1) / case.board.surface.mm_per_px).astype(int)
    inside = done.picture.valid() & (place >= 0).all(axis=-1) & (place < _SIDE).all(axis=-1)
    label = np.full(inside.shape, -1)
    label[inside] = case.board.labels[place[inside][:, 1], place[inside][:, 0]]
    found = np.full((_COUNT, 3), np.nan)
    for number in range(_COUNT):
        own = label == number
        if own.sum() > 200:
            mean = done.picture.rgb_linear[own].mean(axis=0).astype(float)
            found[number] = linear_to_lab(mean)
    return found, done.picture


def colour_rows(quick: bool) -> Iterator[Row]:
    """The rows of both grades, from the same photos."""
    boards = [draw_cases(number) for number in range(2 if quick else 50)]
    few = ", few photos" if quick else ""
    for grade, measured, median, most in (
        ("card measured", True, 1.0, 2.0),
        ("card as printed", False, 1.8, 3.5),
    ):
        errors, agree = errors_of(boards, measured)
        yield Row(
            name=f"{grade}: colour, CIEDE2000, median{few}",
            error=float(np.median(errors)),
            goal=median,
        )
        yield Row(
            name=f"{grade}: colour, CIEDE2000, 90th{few}",
            error=float(np.quantile(errors, 0.9)),
            goal=most,
        )
        if not quick:
            # 90 to 98 % are wanted: the distance from the middle of that.
            share = 100 * float(np.mean(agree))
            yield Row(name=f"{grade}: two lights agree, |% - 94|", error=abs(share - 94), goal=4)


def errors_of(boards: list[list[Case]], measured: bool) -> tuple[np.ndarray, np.ndarray]:
    """Return all colour errors, CIEDE2000, and whether two lights agree within their bounds."""
    errors, agree = [], []
    for cases in boards:
        seen = [mean_colours(case, measured) for case in cases]
        for found, _ in seen:
            there = np.isfinite(found[:, 0])
            errors.append(delta_e_2000(found[there], cases[0].board.truth[there]))
        both = np.isfinite(seen[0][0][:, 0]) & np.isfinite(seen[1][0][:, 0])
        apart = delta_e_2000(seen[0][0][both], seen[1][0][both])
        radii = [picture.colour_radius() for _, picture in seen]
        agree.append(apart <= np.hypot(*radii))
    return np.concatenate(errors), np.concatenate(agree)
