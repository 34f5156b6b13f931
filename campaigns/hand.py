"""A hand that does anything in the window: nothing falls over, stalls, or grows without end."""

from __future__ import annotations

import argparse
import os
import resource
import sys
import time
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from PySide6.QtCore import QMessageLogContext, QPoint, Qt, QTimer, QtMsgType, qInstallMessageHandler
from PySide6.QtGui import QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QWidget

from campaigns.campaign import Outcome
from campaigns.kept import keep
from jartide.app.main import make_application, make_window, warm_up
from jartide.app.memory import give_back

PROMISE = (
    "a hand that does anything in the window meets no exception and no warning of Qt, no stall over"
    " 250 ms, and memory at rest within 150 MB of its value after five minutes"
)
# A hand looks before it acts again.
_PAUSE_MS = 10
_LEFT_MS = 20
_REST_S = 90
_STALL_S = 0.25
_GROWN_MB = 150
_SETTLED_S = 300
_KEYS = (
    Qt.Key.Key_Tab, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Space, Qt.Key.Key_Left,
    Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Delete, Qt.Key.Key_Backspace,
    Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_F1, Qt.Key.Key_Plus, Qt.Key.Key_Minus,
)  # fmt: skip
_TYPED = ("12", "0", "-5", "1e9", "abc", ",", "<b>x", "99999999999", "2026-05-01")
# What the platform says of itself is not ours.
_NOT_OURS = ("This plugin does not support", "propagateSizeHints", "QStandardPaths")


class Hand:
    """One window, one seed: what it did, and what went wrong."""

    def __init__(self, application: QApplication, folder: Path, seed: int) -> None:
        self.rng = np.random.default_rng(seed)
        self.application, self.faults = application, list[str]()
        self.actions, self.stalls, self.longest_s = 0, 0, 0.0
        self.last = "nothing"
        warm_up(lambda _: None)
        self.window = make_window()
        self.window.resize(1280, 800)
        self.window.show()
        self.window.job.open(folder / "w", demo=True)
        while self.window.job.workspace is None or self.window.job.runner.busy:
            self._events()
        finish = self.window.job.records.jobs()[0][1][0]
        self.window.open_finish(finish.id)

        # What waits for an answer, such as the system's own dialog for printing, is left at once:
        # what those give is tried elsewhere.
        self._leaving = QTimer()
        self._leaving.setInterval(_LEFT_MS)
        self._leaving.timeout.connect(self._leave)
        self._leaving.start()

    def _leave(self) -> None:
        for box in self.application.topLevelWidgets():
            if isinstance(box, QDialog) and box.isVisible():
                box.reject()

    def _events(self) -> None:
        began = time.perf_counter()
        self.application.processEvents()
        took = time.perf_counter() - began
        self.longest_s = max(self.longest_s, took)
        if took > _STALL_S:
            self.stalls += 1
            self.faults.append(f"stalled {1000 * took:.0f} ms after {self.last}")

    def act(self) -> None:
        """Do one thing, then let the window answer."""
        self.actions += 1
        began = time.perf_counter()
        self._one()
        took = time.perf_counter() - began
        self.longest_s = max(self.longest_s, took)
        if took > _STALL_S:
            self.stalls += 1
            self.faults.append(f"stalled {1000 * took:.0f} ms in {self.last}")
        QTest.qWait(_PAUSE_MS)
        self._events()

    def _one(self) -> None:
        window, chance = self.window, float(self.rng.random())
        target = self.application.focusWidget() or window
        # By the window's own way in: what a press takes away is not pressed again.
        handle = window.windowHandle()
        if chance < 0.55:
            at = QPoint(
                int(self.rng.integers(0, window.width())),
                int(self.rng.integers(0, window.height())),
            )
            under: QWidget = window.childAt(at) or window
            self.last = f"a press on {type(under).__name__} at {at.x()}, {at.y()}"
            QTest.mouseClick(handle, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        elif chance < 0.7:
            key = _KEYS[int(self.rng.integers(0, len(_KEYS)))]
            self.last = f"{QKeySequence(key).toString()} on {type(target).__name__}"
            QTest.keyClick(handle, key)
        elif chance < 0.8:
            text = _TYPED[int(self.rng.integers(0, len(_TYPED)))]
            self.last = f"{text!r} typed into {type(target).__name__}"
            for sign in text:
                QTest.keyClick(handle, sign)
        elif chance < 0.88:
            names = ("photos", "reading", "jars", "boards", "steps", "sheet")
            name = names[int(self.rng.integers(0, len(names)))]
            self.last = f"going to {name}"
            if window.job.finish is not None:
                window.go_to(name)
        elif chance < 0.92:
            self.last = "undo"
            window.job.history.undo()
        elif chance < 0.95:
            self.last = "redo"
            window.job.history.redo()
        elif chance < 0.97:
            size = int(self.rng.integers(900, 1600)), int(self.rng.integers(640, 1000))
            self.last = f"a window of {size}"
            window.resize(*size)
        else:
            self.last = "another finish"
            finishes = [f for _, own in window.job.records.jobs() for f in own]
            if finishes:
                window.open_finish(finishes[int(self.rng.integers(0, len(finishes)))].id)

    def rest(self) -> float:
        """Let everything come to rest; megabytes that the process takes then."""
        ends = time.monotonic() + _REST_S
        while self.window.job.runner.busy and time.monotonic() < ends:
            self.application.processEvents()
            time.sleep(0.005)
        give_back()
        return resident_mb()


def resident_mb() -> float:
    """What the process takes now, megabytes."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * resource.getpagesize() / 1e6


def play(seed: int, seconds: float) -> tuple[Hand, list[str]]:
    """Let a hand play for so long; what it did, and everything that went wrong."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    application = make_application()
    said: list[str] = []

    def heard(kind: QtMsgType, _: QMessageLogContext, words: str) -> None:
        if kind is not QtMsgType.QtDebugMsg and not any(own in words for own in _NOT_OURS):
            said.append(f"Qt: {words}")

    qInstallMessageHandler(heard)
    thrown: list[str] = []
    sys.excepthook = lambda kind, error, where: thrown.append(f"{kind.__name__}: {error}")
    QFileDialog.getOpenFileNames = staticmethod(lambda *_, **__: ([], ""))  # type: ignore
    QFileDialog.getOpenFileName = staticmethod(lambda *_, **__: ("", ""))  # type: ignore
    QFileDialog.getSaveFileName = staticmethod(lambda *_, **__: ("", ""))  # type: ignore
    QFileDialog.getExistingDirectory = staticmethod(lambda *_, **__: "")  # type: ignore
    with TemporaryDirectory(prefix="jar-tide-hand-") as folder:
        hand = Hand(application, Path(folder), seed)
        began, settled, told = time.monotonic(), None, 0
        while time.monotonic() - began < seconds:
            before = len(thrown)
            hand.act()
            if len(thrown) > before:
                hand.faults.append(f"{thrown[-1]} after {hand.last}")
            if time.monotonic() - began > 60 * (told + 1):
                told += 1
                print(f"  {told} min: {hand.actions} actions, {resident_mb():.0f} MB", flush=True)
            if settled is None and time.monotonic() - began > min(_SETTLED_S, seconds / 4):
                settled = hand.rest()
        grown = hand.rest() - (settled or resident_mb())
        if grown > _GROWN_MB:
            hand.faults.append(f"grew by {grown:.0f} MB")
        print(f"seed {seed}: {hand.actions} actions in {seconds:.0f} s, {hand.stalls} stalls,")
        print(
            f"  the longest {1000 * hand.longest_s:.0f} ms, {resident_mb():.0f} MB ({grown:+.0f}),"
        )
        print(f"  {len(thrown)} exceptions, {len(said)} warnings of Qt", flush=True)
        hand.window.close()
        qInstallMessageHandler(None)
    return hand, hand.faults + said


def main(given: list[str]) -> int:
    """Play one seed; 1 when something went wrong."""
    parser = argparse.ArgumentParser(prog="python -m campaigns.hand", description=__doc__)
    parser.add_argument("--seed", type=int, default=int(time.time()))
    parser.add_argument("--seconds", type=float, default=1200.0)
    parser.add_argument("--keep", action="store_true")
    options = parser.parse_args(given)
    hand, faults = play(options.seed, options.seconds)
    if options.keep:
        found = tuple((options.seed, fault) for fault in faults)
        keep(
            "hand", PROMISE,
            Outcome(
                seed=options.seed, count=hand.actions, seconds=options.seconds, faults=found
            ),
        )  # fmt: skip
    for fault in faults[:40]:
        print(fault)
    return int(bool(faults))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
