"""On a small screen, at the largest text: header and foot stay, what lies between scrolls."""

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
from PySide6.QtWidgets import QApplication
from jartide.app.measure import choose_text_size, px
from jartide.app.main import make_application, make_window
from jartide.app.widgets.buttons import Button
from jartide.app.window import MainWindow

choose_text_size(int(sys.argv[2]))
application = make_application()
window = make_window()
job = window.job
window.show()
job.open(Path(sys.argv[1]), demo=True)
while job.workspace is None or job.runner.busy:
    application.processEvents()
    time.sleep(0.005)
screen = window.screen().availableSize()
finish = next(f for _, own in job.records.jobs() for f in own)
window.open_finish(finish.id)
told = {"unit": px(100), "fits": [], "seen": [], "wide": []}
for station in ("photos", "reading", "jars", "steps", "boards", "sheet"):
    window.go_to(station)
    while job.runner.busy:
        application.processEvents()
    application.processEvents()
    told["fits"].append(window.width() <= screen.width() and window.height() <= screen.height())
    parts = [window.header, *filter(Button.isVisible, window.foot.findChildren(Button))]
    told["seen"] += [part.visibleRegion().boundingRect().size() == part.size() for part in parts]
    # Nothing has to be scrolled sideways; what has no height is reached by scrolling down.
    page, area = window.page(), window.page().parentWidget()
    told["wide"].append(page.minimumSizeHint().width() <= area.width())
    told["low"] = max(told.get("low", 0), page.height() - area.height())
print(json.dumps(told))
window.close()
"""


@pytest.mark.xvfb
@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="Xvfb is not installed")
@pytest.mark.parametrize(("screen", "percent"), [("1180x720", 130), ("1024x600", 100)])
def test_a_small_screen_scrolls(tmp_path, screen, percent):
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", "1", "-screen", "0", f"{screen}x24"],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
    )
    try:
        number = server.stdout.readline().strip()
        found = subprocess.run(
            [sys.executable, "-c", SCRIPT, str(tmp_path / "workspace"), str(percent)],
            env={
                **os.environ,
                "QT_QPA_PLATFORM": "xcb",
                "DISPLAY": f":{number}",
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
    assert told["unit"] == percent
    assert all(told["fits"])
    assert all(told["wide"])
    assert told["low"] > 0
    assert len(told["seen"]) >= 18 and all(told["seen"])
