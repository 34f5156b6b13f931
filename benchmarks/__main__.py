"""Print what the work costs beside its goal.

    python -m benchmarks

A row in "times" is a ratio of medians: the work against a named baseline that runs in
turn with it, so that a slow or busy machine slows both. Rows in seconds, milliseconds
and megabytes have a goal that is one.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from benchmarks.boards import comparing_rows, distance_rows
from benchmarks.logbook import logbook_rows
from benchmarks.sheets import sheet_rows
from benchmarks.steps import planning_rows
from benchmarks.window import window_use_rows
from jartide.studio.camera import Camera, photograph
from jartide.studio.camera_stand import Board, board_surface
from jartide.studio.marble import draw_marble
from jartide.studio.snapshot import Shot, take_snapshot
from jartide.studio.spectral_camera import make_camera

RUNS = 5


def main() -> int:
    with tempfile.TemporaryDirectory() as folder:
        photo = Path(folder) / "twelve-megapixels.jpg"
        surface = draw_marble((400, 300), 0.1, 5)
        # As a phone writes it: sensor noise and high quality make 4 to 6 MB.
        phone = Camera(noise=3.0, quality=95)
        photo.write_bytes(photograph(surface.rgb_linear, 5, camera=phone))
        large = Path(folder) / "twenty-four-megapixels.jpg"
        shot = Shot(size_px=(6000, 4000), noise=3.0, quality=95, card_at_mm=(8.0, 120.0))
        camera = make_camera(5500, np.random.default_rng(1))
        large.write_bytes(take_snapshot(board_surface(Board.MARBLE), shot, 1, camera).jpeg)
        rows = [
            *reading_rows(photo),
            *layer_rows(photo),
            *pattern_rows(photo),
            *card_rows(large),
            *mix_rows(),
            *repaint_rows(large),
            *comparing_rows(photo),
            *distance_rows(),
            *planning_rows(),
            *sheet_rows(),
            *logbook_rows(),
            *window_rows(),
            *window_use_rows(),
        ]
    missed = 0
    print(f"{'what':58} {'figure':>9} {'goal':>8}")
    for name, figure, goal, unit in rows:
        note = "" if figure <= goal else "MISSED"
        missed += figure > goal
        print(f"{name:58} {figure:9.2f} {goal:8.2f} {unit} {note}")
    return int(missed > 0)


def _child(code: str, *arguments: str) -> list[float]:
    """Run code in a fresh interpreter and return the numbers it prints."""
    found = subprocess.run(
        [sys.executable, "-c", code, *arguments],
        capture_output=True,
        text=True,
        check=True,
        env={**os.environ, "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen")},
    )
    return [float(word) for word in found.stdout.split()]


# Times the work in {work} against the bare decode of the same file, in turn.
AGAINST_DECODE = """
import statistics, sys, time
from PIL import Image
path = sys.argv[1]
from jartide.photo.load import load_photo
from jartide.photo.prepare import card_for, prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.read import read_picture
import cv2, scipy.optimize, scipy.stats, skimage.morphology, pillow_heif  # no part of the work
decode, whole = [], []
for _ in range(int(sys.argv[2]) + 1):
    start = time.perf_counter()
    with Image.open(path) as image:
        image.load()
    decode.append(time.perf_counter() - start)
    start = time.perf_counter()
    photo = load_photo(path)
    {work}
    whole.append(time.perf_counter() - start)
# Of this process alone: what getrusage says includes the parent it was forked from.
status = open("/proc/self/status").read()
peak = int(status.split("VmHWM:")[1].split()[0]) / 1e6
print(statistics.median(decode[1:]), statistics.median(whole[1:]), peak)
"""
READ = """
    settings = PhotoSettings(mm_per_px=0.1)
    read_picture(prepare(photo, settings, card=card_for(photo, settings)), "marble")
"""
CARD = """
    card = card_for(photo, PhotoSettings())
    assert card is not None
    prepare(photo, PhotoSettings(), card=card)
"""


def reading_rows(photo: Path):
    """A 12-megapixel JPEG opened, prepared and read, against Pillow's bare decode."""
    decode, whole, peak = _child(AGAINST_DECODE.format(work=READ.strip()), str(photo), str(RUNS))
    print(f"(bare decode {decode * 1000:.0f} ms, whole {whole * 1000:.0f} ms)", file=sys.stderr)
    yield "12 MP JPEG opened, prepared, read / bare decode", whole / decode, 12.0, "times"
    yield "its peak memory", peak, 1.0, "GB"


# The beginning of the scripts that time what follows on a prepared photo.
PREPARED = """
import statistics, sys, time
import numpy as np
from PIL import Image
from jartide.photo.load import load_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.layers.layer_map import glance_chosen, read_layers
from jartide.reading.read import find_basis, read_basis
import cv2, scipy.optimize, scipy.stats, skimage.morphology, pillow_heif  # no part of the work
path, runs = sys.argv[1], int(sys.argv[2])
photo = load_photo(path)
picture = prepare(photo, PhotoSettings(mm_per_px=0.1))
decode, whole, layers, refit, lines = [], [], [], [], []
def decoded():
    start = time.perf_counter()
    with Image.open(path) as image:
        image.load()
    decode.append(time.perf_counter() - start)
"""
LAYERS = """
from sklearn.cluster import KMeans
from jartide.reading.decisions import choices_of, merged
for _ in range(runs + 1):
    decoded()
    start = time.perf_counter()
    basis = find_basis(picture, "marble")
    found = read_layers(basis.evidence, basis.tones)
    layers.append(time.perf_counter() - start)
    choices = merged(choices_of(found.layers), 1, 2)
    start = time.perf_counter()
    glance_chosen(basis.evidence, choices)
    refit.append(time.perf_counter() - start)
start = time.perf_counter()
pixels = (photo.code.reshape(-1, 3) / 255).astype(np.float32)
KMeans(n_clusters=len(found.layers), n_init=1, random_state=0).fit(pixels)
means = time.perf_counter() - start
middle = [statistics.median(t[1:]) for t in (decode, layers, refit)]
print(*middle, means)
"""


def layer_rows(photo: Path):
    """The layers of a prepared 12-megapixel photo, and a re-fit after two were joined.

    Against Pillow's bare decode and scikit-learn's KMeans of as many clusters over the
    full-resolution picture, in the same run.
    """
    decode, layers, refit, means = _child(PREPARED + LAYERS, str(photo), str(RUNS))
    print(
        f"(decode {decode * 1000:.0f} ms, layers {layers * 1000:.0f} ms, KMeans {means:.1f} s)",
        file=sys.stderr,
    )
    yield "layers of a prepared 12 MP photo / its bare decode", layers / decode, 8.0, "times"
    yield "the same / KMeans at full resolution", layers / means, 0.1, "times"
    yield "re-fit after two layers were joined", refit * 1000, 150.0, "ms"


PATTERN = """
from skimage.filters import sato
from jartide.reading.lines.line_pieces import line_pieces
from jartide.reading.lines.measure_lines import measure_lines
from jartide.reading.lines.profiles import measure_profiles
from jartide.reading.lines.ridges import find_centre_lines
for _ in range(runs + 1):
    decoded()
    start = time.perf_counter()
    basis = find_basis(picture, "marble")
    _, found = read_basis(basis)
    whole.append(time.perf_counter() - start)
    evidence = basis.evidence
    start = time.perf_counter()
    centre = find_centre_lines(np.ascontiguousarray(evidence.lab[..., 0]), evidence.valid)
    sample = measure_profiles(evidence.rgb_linear, centre, np.random.default_rng(0))
    pieces = line_pieces(
        evidence.rgb_linear, centre, sample, found.layers, found.masks(), np.random.default_rng(1)
    )
    measure_lines(pieces, None, evidence.valid, picture.mm_per_px, picture.reduced)
    lines.append(time.perf_counter() - start)
light = photo.code.mean(axis=2).astype(np.float32) / 255
start = time.perf_counter()
sato(light, sigmas=(1, 2, 4, 8, 16, 32), black_ridges=False)
ridges = time.perf_counter() - start
print(*(statistics.median(t[1:]) for t in (decode, whole, lines)), ridges)
"""


def pattern_rows(photo: Path):
    """Layers and pattern of a prepared 12-megapixel photo, and its line measures by themselves.

    Against Pillow's bare decode, and scikit-image's multi-scale ridge filter at full
    resolution, in the same run.
    """
    decode, whole, lines, ridges = _child(PREPARED + PATTERN, str(photo), str(RUNS))
    print(
        f"(decode {decode * 1000:.0f} ms, reading {whole * 1000:.0f} ms, lines "
        f"{lines * 1000:.0f} ms, ridge filter {ridges:.1f} s)",
        file=sys.stderr,
    )
    yield "full reading of a prepared 12 MP photo / its decode", whole / decode, 10.0, "times"
    yield "line measures / multi-scale ridge filter", lines / ridges, 1 / 15, "times"


MIXES = """
import resource, statistics, sys, time
from dataclasses import replace
from itertools import combinations
import numpy as np
from scipy.optimize import minimize
from jartide.colour.difference import delta_e_2000
from jartide.paint.fit import fit_shelf
from jartide.paint.forward import lab_of
from jartide.paint.mix_index import build_index
from jartide.paint.recipe import Wishes, as_lab
from jartide.paint.rows import hiding_layers
from jartide.paint.search import find_mixes
from jartide.studio.pigments import Bench, hiding, painted_shelf, pigments
many = sum((pigments(seed) for seed in (1, 2, 3)), ())[:60]
many = tuple(replace(paint, name=f"{paint.name} {n}") for n, paint in enumerate(many))
bench = Bench()
shelf = painted_shelf(many, bench, "glaze", 1)
one = shelf.only([0, 3, 5])
fit_shelf(one)
fits = []
for _ in range(7):
    start = time.perf_counter()
    fit_shelf(one)
    fits.append(time.perf_counter() - start)
fitted = fit_shelf(shelf)
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
start = time.perf_counter()
index = build_index(fitted.parameters, list(range(60)), 3, 12)
prepared = time.perf_counter() - start
memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024 - before
rng = np.random.default_rng(1)
times = {3: [], 4: []}
for n in range(21):
    own = {int(p): int(rng.integers(1, 6)) for p in rng.choice(60, 3, replace=False)}
    target = as_lab(hiding(many, own, bench))
    for most in (3, 4):
        start = time.perf_counter()
        find_mixes(fitted, target, Wishes(most_paints=most), index)
        times[most].append(time.perf_counter() - start)
few = fit_shelf(shelf.only(list(range(24))))
small = build_index(few.parameters, list(range(24)), 3, 12)
target = (52.0, 3.0, 9.0)
find_mixes(few, target, Wishes(), small)
start = time.perf_counter()
for _ in range(5):
    find_mixes(few, target, Wishes(), small)
ours = (time.perf_counter() - start) / 5
k, s = few.parameters.coefficients()
sets = list(combinations(range(24), 3))
start = time.perf_counter()
for own in sets[::40]:
    def off(parts):
        row = np.zeros((1, 24))
        row[0, list(own)] = np.maximum(parts, 1e-6)
        lab = lab_of(hiding_layers(row / row.sum()), few.parameters)[0]
        return float(delta_e_2000(lab, target)) ** 2
    minimize(off, np.full(3, 1 / 3), method="SLSQP", bounds=[(0, 1)] * 3,
             constraints=[{"type": "eq", "fun": lambda parts: parts.sum() - 1}])
theirs = (time.perf_counter() - start) * len(sets) / len(sets[::40])
print(statistics.median(fits), prepared, memory, statistics.median(times[3][1:]),
      statistics.median(times[4][1:]), theirs / ours)
"""


def mix_rows():
    """Fitting one paint, preparing and searching a shelf of 60, and SLSQP over all triples of 24.

    SLSQP is timed over every fortieth triple, since all of them take minutes.
    """
    fit, prepared, memory, three, four, faster = _child(MIXES)
    yield "fit of one paint with its white and black", fit, 0.1, "s"
    yield "60 paints, 3 in 12 parts: prepared once", prepared, 8.0, "s"
    yield "the same: memory over what stood before", memory, 250.0, "MB"
    yield "at most 3 of 60 paints, exact", 1000 * three, 50.0, "ms"
    yield "at most 4 of 60 paints", 1000 * four, 500.0, "ms"
    yield "search of 24 paints / SLSQP over all triples", 1 / faster, 1 / 500, "times"


def card_rows(photo: Path):
    """A 24-megapixel JPEG with the card: found, squared, corrected, against its bare decode."""
    decode, whole, _ = _child(AGAINST_DECODE.format(work=CARD.strip()), str(photo), str(RUNS))
    print(f"(bare decode {decode * 1000:.0f} ms, whole {whole * 1000:.0f} ms)", file=sys.stderr)
    yield "24 MP JPEG with card squared, corrected / bare decode", whole / decode, 4.0, "times"


REPAINT = """
import statistics, sys, time
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from jartide.app.main import make_application
from jartide.app.widgets.photo_view import Mark, MarkKind, PhotoView
from PySide6.QtGui import QImage
application = make_application()
view = PhotoView()
view.resize(1280, 800)
image = QImage(sys.argv[1]).convertToFormat(QImage.Format.Format_RGB888)
ratio = (1_600_000 / (image.width() * image.height())) ** 0.5
image = image.scaled(round(image.width() * ratio), round(image.height() * ratio))
size = (image.width() / ratio, image.height() / ratio)
view.show_photo(image, ratio, size)
w, h = size
corners = ((0.2 * w, 0.2 * h), (0.8 * w, 0.2 * h), (0.8 * w, 0.8 * h), (0.2 * w, 0.8 * h))
view.show_marks((Mark(key="corners", kind=MarkKind.OUTLINE, points=corners, movable=True),))
view.show()
application.processEvents()
at = view.to_widget(corners[0]).toPoint()
QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
times = []
for step in range(60):
    QTest.mouseMove(view, at + QPoint(step, step // 2))
    start = time.perf_counter()
    view.repaint()
    times.append(time.perf_counter() - start)
print(1000 * statistics.median(times), 1000 * max(times[2:]))
"""


def repaint_rows(photo: Path):
    """A handle dragged with the loupe open: how long one picture of the window takes."""
    middle, worst = _child(REPAINT, str(photo))
    print(f"(worst repaint {worst:.1f} ms)", file=sys.stderr)
    yield "handle dragged at 1280 x 800, one repaint", middle, 16.0, "ms"


EMPTY = """
import sys
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QMainWindow
application = QApplication([])
class Window(QMainWindow):
    def paintEvent(self, event):
        super().paintEvent(event)
        QTimer.singleShot(0, application.quit)
window = Window()
window.resize(1280, 800)
window.show()
application.exec()
"""
OURS = """
from PySide6.QtCore import QTimer
from jartide.app.main import make_application
from jartide.app.window import MainWindow
application = make_application()
class Window(MainWindow):
    def paintEvent(self, event):
        super().paintEvent(event)
        QTimer.singleShot(0, application.quit)
window = Window()
window.show()
application.exec()
"""


def window_rows():
    """Our window from the start of the process to its first painting, against an empty one."""
    times: dict[str, list[float]] = {EMPTY: [], OURS: []}
    for number in range(RUNS + 1):
        for code, found in times.items():
            start = time.perf_counter()
            _child(code)
            if number:
                found.append(time.perf_counter() - start)
    empty, ours = (statistics.median(found) for found in times.values())
    print(f"(empty window {empty * 1000:.0f} ms, ours {ours * 1000:.0f} ms)", file=sys.stderr)
    yield "window shown / empty PySide6 window", ours / empty, 2.5, "times"


if __name__ == "__main__":
    sys.exit(main())
