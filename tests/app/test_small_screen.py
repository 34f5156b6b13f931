"""On a screen smaller than the window needs, at the largest text: it scrolls, nothing is lost."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys

import pytest

SCRIPT = """
import json, sys, time
from pathlib import Path
from PySide6.QtWidgets import QApplication, QScrollArea
from jartide.app.main import make_application, make_window
from jartide.app.widgets.buttons import Button
from jartide.app.window import MainWindow

application = make_application()
window = make_window()
job = window.job
window.show()
job.open(Path(sys.argv[1]), demo=True)
while job.workspace is None or job.runner.busy:
    application.processEvents()
    time.sleep(0.005)
screen = window.screen().availableSize()
area = window.centralWidget()
scrolls = isinstance(area, QScrollArea)
seen = []
if scrolls:
    for button in window.foot.findChildren(Button):
        area.ensureWidgetVisible(button)
        application.processEvents()
        seen.append(not button.visibleRegion().isEmpty())
print(json.dumps({
    "scale": window.devicePixelRatioF(), "scrolls": scrolls, "seen": seen,
    "fits": window.width() <= screen.width() and window.height() <= screen.height(),
    "frame": [area.widget().width(), area.widget().height()] if scrolls else [],
}))
window.close()
"""


@pytest.mark.xvfb
@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="Xvfb is not installed")
@pytest.mark.parametrize(("screen", "scale"), [("1180x720", "1.3"), ("1024x600", "1")])
def test_a_small_screen_scrolls(tmp_path, screen, scale):
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", "1", "-screen", "0", f"{screen}x24"],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
    )
    try:
        number = server.stdout.readline().strip()
        found = subprocess.run(
            [sys.executable, "-c", SCRIPT, str(tmp_path / "workspace")],
            env={
                **os.environ,
                "QT_QPA_PLATFORM": "xcb",
                "DISPLAY": f":{number}",
                "QT_SCALE_FACTOR": scale,
            },
            capture_output=True,
            text=True,
            timeout=120,
        )
    finally:
        server.terminate()
        server.wait()
        server.stdout.close()
    assert found.returncode == 0, found.stderr
    told = json.loads(found.stdout.splitlines()[-1])
    assert told["scale"] == pytest.approx(float(scale), abs=0.01)
    assert told["scrolls"] and told["fits"]
    assert told["frame"][0] >= 1180 and told["frame"][1] >= 720
    assert len(told["seen"]) >= 3 and all(told["seen"])
