"""Photos with the card: is it found, is the plane square?

Photos are simulated by `studio.snapshot`: tilts to 50 degrees, lamps from 2700
to 7500 K, falloff to 40 %, noise, JPEG 70 to 95, a camera whose sensitivities
and tone curve nothing else knows.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from accuracy.rows import Row
from jartide.photo.card.design import CardSize, card_of
from jartide.photo.card.find import CardSighting, find_card
from jartide.photo.load import decode_photo
from jartide.photo.square import transform
from jartide.studio.concrete import draw_concrete
from jartide.studio.marble import draw_marble
from jartide.studio.oak import draw_oak
from jartide.studio.snapshot import PrintedCard, Shot, Snapshot, take_snapshot
from jartide.studio.spectral_camera import make_camera
from jartide.studio.truth import Surface, SurfaceTruth
from jartide.studio.verdigris import draw_verdigris

BOARD_MM = 240.0
# name, size, share of the picture's width, focal length known, goals mm (median, 95th)
GROUPS = (
    ("A6 at 30 %", CardSize.A6, 0.30, True, 0.15, 0.4),
    ("A6 at 8 %, focal length known", CardSize.A6, 0.08, True, 0.2, 0.6),
    ("A6 at 8 %, unknown", CardSize.A6, 0.08, False, 0.6, 1.4),
    ("credit card at 8 %, known", CardSize.WALLET, 0.08, True, 0.3, 1.0),
    ("credit card at 8 %, unknown", CardSize.WALLET, 0.08, False, 1.2, 2.6),
)
PER_GROUP = 22


def any_print(size: CardSize, rng: np.random.Generator) -> PrintedCard:
    """One print on one paper by one printer."""
    return PrintedCard(
        size=size,
        paper_lab=(rng.normal(95, 1.0), rng.normal(0.2, 0.5), rng.normal(-1.0, 1.0)),
        black=rng.uniform(0.025, 0.05),
        dot_gain=rng.uniform(0.95, 1.18),
        cast=tuple(rng.uniform(0.96, 1.04, 3)),
    )


def any_shot(size: CardSize, share: float, known: bool, rng: np.random.Generator) -> Shot:
    card = card_of(size)
    room = BOARD_MM - 2 - np.array([card.width_mm, card.height_mm])
    return Shot(
        focal_35mm=float(rng.choice([24, 26, 28, 35, 50])),
        focal_factor=1 + rng.normal(0, 0.008),
        write_focal=known,
        k1=rng.normal(0, 0.003),
        tilt_deg=rng.uniform(0, 50),
        towards_deg=rng.uniform(0, 360),
        roll_deg=rng.uniform(-20, 20),
        card_share=share,
        card_at_mm=(rng.uniform(2, room[0]), rng.uniform(2, room[1])),
        aim_mm=(rng.uniform(95, 145), rng.uniform(95, 145)),
        falloff=rng.uniform(0, 0.4),
        falloff_deg=rng.uniform(0, 360),
        blur_px=rng.uniform(0.5, 1.1),
        noise=rng.uniform(1, 3),
        quality=int(rng.integers(70, 96)),
        exposure=rng.uniform(0.6, 0.85),
        print=any_print(size, rng),
    )


def corner_errors(shot: Shot, snapshot: Snapshot, card: CardSighting) -> tuple[float, float]:
    """Return the worst corner's error, mm, and the scale's error, percent, on the board."""
    assert shot.card_at_mm is not None
    ring = np.array([[0, 0], [BOARD_MM, 0], [BOARD_MM, BOARD_MM], [0, BOARD_MM]])
    truth = ring - np.array(shot.card_at_mm)
    rays = card.pose.lens.undistort(snapshot.board_px)
    found = transform(np.linalg.inv(card.pose.homography()), rays)
    worst = float(np.linalg.norm(found - truth, axis=1).max())

    def area(points: np.ndarray) -> float:
        x, y = points.T
        return 0.5 * abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))))

    return worst, 100 * abs(float(np.sqrt(area(found) / area(truth))) - 1)


def geometry_rows(quick: bool) -> Iterator[Row]:
    surfaces = [
        draw_marble((BOARD_MM, BOARD_MM), 0.25, 3),
        draw_concrete((BOARD_MM, BOARD_MM), 0.25, 3),
    ]
    count = 2 if quick else PER_GROUP
    missed, total, scales, held = 0, 0, [], []
    for name, size, share, known, median, most in GROUPS[: 2 if quick else None]:
        errors = []
        for number in range(count):
            # The same photos whether the focal length is told or not.
            rng = np.random.default_rng([7, number, list(CardSize).index(size), int(100 * share)])
            camera = make_camera(rng.uniform(2700, 7500), rng)
            shot = any_shot(size, share, known, rng)
            snapshot = take_snapshot(surfaces[number % 2], shot, number, camera)
            card = find_card(decode_photo(snapshot.jpeg, "simulated.jpg"))
            total += 1
            if card is None or card.size is not size:
                missed += 1
                continue
            worst, scale = corner_errors(shot, snapshot, card)
            errors.append(worst)
            scales.append(scale)
            ring = np.array([[0, 0], [BOARD_MM, 0], [BOARD_MM, BOARD_MM], [0, BOARD_MM]])
            assert shot.card_at_mm is not None
            held.append(worst <= card.pose.error_mm(ring - np.array(shot.card_at_mm)).max())
        few = ", few photos" if quick else ""
        yield Row(
            name=f"{name}: corner, mm, median{few}", error=float(np.median(errors)), goal=median
        )
        yield Row(
            name=f"{name}: corner, mm, 95th{few}", error=float(np.quantile(errors, 0.95)), goal=most
        )
    if not quick:
        yield Row(name=f"card missed, % of {total}", error=100 * missed / total, goal=2)
        yield Row(name="scale, %, 95th", error=float(np.quantile(scales, 0.95)), goal=0.5)
        yield Row(
            name="corners beyond their stated error, %", error=100 - 100 * np.mean(held), goal=20
        )
        yield from cell_rows()
        yield Row(
            name="wrong cards in 400 photos without one", error=float(wrong_cards(400)), goal=0
        )


def cell_rows() -> Iterator[Row]:
    """The smallest cards: 3 px a code cell when sharp, 6 when blurred."""
    surface = draw_marble((BOARD_MM, BOARD_MM), 0.25, 3)
    for name, cell_px, blur in (
        ("3 px a cell, sharp", 3.1, 0.45),
        ("6 px a cell, blurred", 6.1, 2.0),
    ):
        found = 0
        for number in range(20):
            rng = np.random.default_rng([8, number])
            size = CardSize.A6 if number % 2 else CardSize.WALLET
            card = card_of(size)
            px = cell_px / card.cell_mm * card.width_mm
            tilt = rng.uniform(0, 50)
            # Foreshortened cells count by their short side.
            share = px / np.cos(np.radians(tilt)) / 1600
            shot = replace(
                any_shot(size, share, True, rng),
                size_px=(1600, 1200),
                tilt_deg=tilt,
                blur_px=blur,
                k1=0.0,
            )
            camera = make_camera(rng.uniform(2700, 7500), rng)
            snapshot = take_snapshot(surface, shot, number, camera)
            found += find_card(decode_photo(snapshot.jpeg, "simulated.jpg")) is not None
        yield Row(name=f"card missed at {name}, % of 20", error=100 - 5 * found, goal=2)


def wrong_cards(count: int) -> int:
    """How many photos without a card show one all the same."""
    draws = (draw_marble, draw_concrete, draw_verdigris, draw_oak)
    surfaces = [draw((BOARD_MM, BOARD_MM), 0.3, seed) for draw in draws for seed in (1, 2)]
    wrong = 0
    for number in range(count):
        rng = np.random.default_rng([9, number])
        shot = replace(
            any_shot(CardSize.A6, rng.uniform(0.2, 0.9), True, rng),
            size_px=(1280, 960),
            card_at_mm=None,
        )
        surface = surfaces[number % len(surfaces)]
        if number % 3 == 0:
            surface = _tiles(rng)
        snapshot = take_snapshot(surface, shot, number)
        wrong += find_card(decode_photo(snapshot.jpeg, "simulated.jpg")) is not None
    return wrong


def _tiles(rng: np.random.Generator) -> Surface:
    """Black and white tiles at random: as near to codes as a floor comes."""
    cell = int(rng.integers(8, 40))
    grid = rng.random((800 // cell + 1, 800 // cell + 1)) < 0.5
    tiles = np.kron(grid, np.ones((cell, cell)))[:800, :800]
    rgb = np.repeat(np.where(tiles, 0.8, 0.05)[..., None], 3, axis=2).astype(np.float32)
    return Surface(
        rgb_linear=rgb,
        mm_per_px=0.3,
        truth=SurfaceTruth(family="auto", layers=(), direction_deg=None),
    )
