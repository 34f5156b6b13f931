"""Is the piece told from its surroundings? Boards on sites full of clutter, their outlines known.

    python -m accuracy.outlines FOLDER [--save DIR]

takes boards that show the photos of a folder beside the drawn ones; `--save` writes each photo
with the true outline and the found one. A surface that fills its photo has no outline to find.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from accuracy.rows import Row
from jartide.colour.spaces import decode_srgb
from jartide.photo.card.design import CardSize, card_of
from jartide.photo.load import Photo, decode_photo
from jartide.photo.prepare import card_for, prepare_in_full
from jartide.photo.settings import PhotoSettings
from jartide.studio.concrete import draw_concrete
from jartide.studio.leather import draw_leather
from jartide.studio.marble import draw_marble
from jartide.studio.oak import draw_oak
from jartide.studio.rust import draw_rust
from jartide.studio.site import BACKDROPS, Site
from jartide.studio.snapshot import PrintedCard, Shot, Snapshot, take_snapshot
from jartide.studio.spectral_camera import make_camera
from jartide.studio.truth import Surface, SurfaceTruth
from jartide.studio.verdigris import draw_verdigris

ENOUGH = 0.97
_DRAWS = (draw_marble, draw_concrete, draw_verdigris, draw_oak, draw_rust, draw_leather)
_PHOTO_PX = (1600, 1200)


@dataclass(frozen=True, slots=True, kw_only=True)
class Outlined:
    """How one board was found.

    `overlap` is that of what is read with the board, 0..1; `warned` whether the photo check says
    that something else may be read.
    """

    name: str
    overlap: float
    warned: bool

    @property
    def right(self) -> bool:
        return self.overlap >= ENOUGH

    @property
    def silently_wrong(self) -> bool:
        return not self.right and not self.warned


def shown_by(code: np.ndarray, width_mm: float) -> Surface:
    """A board that shows a photo, (H, W, 3) uint8, at a width."""
    light = decode_srgb(code / 255.0).astype(np.float32)
    return Surface(
        rgb_linear=light,
        mm_per_px=width_mm / code.shape[1],
        truth=SurfaceTruth(family="auto", layers=(), direction_deg=None),
    )


def any_site(rng: np.random.Generator) -> Site:
    """A site drawn by chance."""
    return Site(
        backdrop=BACKDROPS[int(rng.integers(len(BACKDROPS)))],
        hands=int(rng.random() < 0.3),
        tapes=int(rng.integers(0, 3)) if rng.random() < 0.4 else 0,
        shadow=bool(rng.random() < 0.2),
        own_shadow=bool(rng.random() < 0.7),
    )


def shot_of_board(surface: Surface, rng: np.random.Generator, *, card: bool, site: Site) -> Shot:
    """A photo in which the whole board is seen, and a part of what is around it."""
    rows, columns = surface.rgb_linear.shape[:2]
    size = np.array([columns, rows]) * surface.mm_per_px
    fill = rng.uniform(0.45, 0.85)
    width_mm = max(size[0], size[1] * _PHOTO_PX[0] / _PHOTO_PX[1]) / fill
    sheet = card_of(CardSize.A6)
    printed = PrintedCard(size=CardSize.A6)
    room = size - 6 - (sheet.width_mm, sheet.height_mm)
    at = (float(rng.uniform(3, max(room[0], 4))), float(rng.uniform(3, max(room[1], 4))))
    return Shot(
        size_px=_PHOTO_PX,
        focal_35mm=26.0,
        tilt_deg=float(rng.uniform(0, 35)),
        towards_deg=float(rng.uniform(0, 360)),
        roll_deg=float(rng.normal(0, 4)),
        card_share=sheet.width_mm / width_mm,
        card_at_mm=at if card else None,
        aim_mm=(float(size[0] * rng.uniform(0.45, 0.55)), float(size[1] * rng.uniform(0.45, 0.55))),
        falloff=float(rng.uniform(0, 0.3)),
        falloff_deg=float(rng.uniform(0, 360)),
        blur_px=float(rng.uniform(0.5, 0.9)),
        noise=float(rng.uniform(1, 3)),
        quality=int(rng.integers(75, 96)),
        print=printed,
        site=site,
    )


def board_of(code: np.ndarray | None, number: int, rng: np.random.Generator) -> Surface:
    """A board of 240 to 420 mm: of a photo, or drawn."""
    width = float(rng.uniform(240, 420))
    if code is not None:
        return shown_by(code, width)
    return _DRAWS[number % len(_DRAWS)]((width, width * rng.uniform(0.7, 1.1)), 0.35, number)


def read_part(photo: Photo) -> tuple[np.ndarray, bool]:
    """Where a photo is read when nobody says anything, (H, W) bool; and whether it is doubted."""
    settings = PhotoSettings()
    done = prepare_in_full(photo, settings, card=card_for(photo, settings))
    ring = _rim(done.where) if done.piece is None else np.array(done.piece.corners)
    read = np.zeros(photo.code.shape[:2], np.uint8)
    cv2.fillPoly(read, [np.rint(ring * 16).astype(np.int32)], 1, shift=4)
    codes = {code for code, _ in done.picture.warnings}
    return read > 0, bool(codes & {"piece_unsure", "border", "reaches_in"})


def _rim(where: np.ndarray) -> np.ndarray:
    """The corners of all that is shown, px of the photo."""
    return np.array([where[0, 0], where[0, -1], where[-1, -1], where[-1, 0]])


def overlap(read: np.ndarray, ring: np.ndarray) -> float:
    """Intersection over union of what is read, (H, W), and an outline, (4, 2) px."""
    truth = np.zeros(read.shape, np.uint8)
    cv2.fillPoly(truth, [np.rint(ring * 16).astype(np.int32)], 1, shift=4)
    both, either = (read & (truth > 0)).sum(), (read | (truth > 0)).sum()
    return float(both / max(either, 1))


def outlined(snapshot: Snapshot, name: str, save: Path | None) -> Outlined:
    """Find the board of one photo."""
    photo = decode_photo(snapshot.jpeg, f"{name}.jpg")
    read, warned = read_part(photo)
    found = Outlined(name=name, overlap=overlap(read, snapshot.board_px), warned=warned)
    if save is not None:
        _draw(photo.code, read, snapshot.board_px, found, save)
    return found


def _draw(code: np.ndarray, read: np.ndarray, ring: np.ndarray, found: Outlined, to: Path) -> None:
    shown = code.copy()
    shown[~read] = shown[~read] // 2
    cv2.polylines(shown, [np.rint(ring).astype(np.int32)], True, (255, 0, 255), 2)
    verdict = "ok" if found.right else "warned" if found.warned else "WRONG"
    to.mkdir(parents=True, exist_ok=True)
    small = Image.fromarray(shown).resize((800, 600))
    small.save(to / f"{found.name}-{verdict}-{100 * found.overlap:.0f}.jpg")


def boards(photos: Sequence[Path], count: int, save: Path | None) -> Iterator[Outlined]:
    """Boards on sites, every second one of a photo where there are photos."""
    for number in range(count):
        rng = np.random.default_rng([21, number])
        code = None
        if photos and number % 2:
            code = np.asarray(Image.open(photos[number // 2 % len(photos)]).convert("RGB"))
        surface = board_of(code, number, rng)
        card = bool(rng.random() < 0.5)
        shot = shot_of_board(surface, rng, card=card, site=any_site(rng))
        camera = make_camera(float(rng.uniform(3000, 7000)), rng)
        snapshot = take_snapshot(surface, shot, number, camera)
        yield outlined(snapshot, f"{number:02d}{'c' if card else 'n'}", save)


def filled(photos: Sequence[Path], count: int, save: Path | None) -> Iterator[Outlined]:
    """Surfaces that fill their photo: nothing lies around them."""
    for number in range(count):
        rng = np.random.default_rng([22, number])
        code = None
        if photos and number % 2:
            code = np.asarray(Image.open(photos[number // 2 % len(photos)]).convert("RGB"))
        surface = board_of(code, number, rng)
        shot = shot_of_board(surface, rng, card=False, site=Site(own_shadow=False))
        share = card_of(CardSize.A6).width_mm / (surface.rgb_linear.shape[1] * surface.mm_per_px)
        rows, columns = surface.rgb_linear.shape[:2]
        middle = np.array([columns, rows]) * surface.mm_per_px / 2
        shot = replace(
            shot,
            card_share=share * 1.9,
            tilt_deg=float(rng.uniform(0, 12)),
            aim_mm=(float(middle[0]), float(middle[1])),
        )
        snapshot = take_snapshot(surface, shot, number)
        whole = replace(snapshot, board_px=np.array([[0, 0], [1600, 0], [1600, 1200], [0, 1200]]))
        yield outlined(whole, f"filled {number:02d}", save)


def outline_rows(quick: bool) -> Iterator[Row]:
    """Yield the share of drawn boards that are not told from their surroundings."""
    yield from _rows((), 6 if quick else 30, 4 if quick else 12, None)


def _rows(photos: Sequence[Path], count: int, whole: int, save: Path | None) -> Iterator[Row]:
    on_site = list(boards(photos, count, save))
    full = list(filled(photos, whole, save))
    for each in (*on_site, *full):
        if not each.right:
            print(f"  {each.name}: {each.overlap:.3f}{' warned' if each.warned else ''}")
    words = f"{count} boards{', half of them photos' if photos else ''}"
    missed = 100 * float(np.mean([not one.right for one in on_site]))
    yield Row(name=f"outline under 97 %, % of {words}", error=missed, goal=5)
    silent = float(sum(one.silently_wrong for one in (*on_site, *full)))
    yield Row(name=f"outline silently wrong, of {count + whole}", error=silent, goal=0)
    cut = float(sum(one.overlap < 0.995 for one in full))
    yield Row(name=f"cut though it fills the photo, of {whole}", error=cut, goal=0)


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="python -m accuracy.outlines", description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--save", type=Path)
    given = parser.parse_args(arguments)
    photos = sorted(p for p in given.folder.iterdir() if p.suffix.lower() in (".jpg", ".png"))
    rows = list(_rows(photos, 60, 20, given.save))
    for row in rows:
        note = "MISSED" if row.error > row.goal else ""
        print(f"{row.name:60} {row.error:9.3f} {row.goal:9.3f} {note}")
    return int(any(row.error > row.goal for row in rows))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
