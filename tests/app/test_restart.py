"""Starting again from the settings: a new window in the chosen language, on the same work."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time

# The real start, with a hand that chooses German and presses "start again" once.
SCRIPT = """
import sys
from pathlib import Path
from PySide6.QtCore import QTimer
from jartide.app import main

bind = main.MainWindow.bind

def pressed(window, job):
    bind(window, job)
    job.events.opened.connect(lambda: QTimer.singleShot(200, lambda: press(window)))

def press(window):
    window.show_settings()
    window.station("settings").keep(language="de", text_scale=115)
    window.station("settings").again.click()

main.MainWindow.bind = pressed
main.run_app(Path(sys.argv[1]))
"""


def test_it_starts_again_in_the_chosen_language(tmp_path):
    folder = tmp_path / "workspace"
    said = tmp_path / "said.txt"
    environment = {
        **os.environ,
        "QT_QPA_PLATFORM": "offscreen",
        "XDG_CONFIG_HOME": str(tmp_path / "config"),
        "JARTIDE_CLOSE_AFTER_S": "1",
    }
    with said.open("w", encoding="utf-8") as out:
        first = subprocess.run(
            [sys.executable, "-c", SCRIPT, str(folder)],
            env=environment, stdout=out, stderr=out, timeout=60, check=True,
        )  # fmt: skip
    assert first.returncode == 0
    settings = json.loads((tmp_path / "config" / "jar-tide" / "settings.json").read_text("utf-8"))
    assert (settings["language"], settings["text_scale"]) == ("de", 115)
    # The second window is a process of its own; it says when it stands, in its language.
    for _ in range(300):
        if "Das Fenster ist zu sehen." in said.read_text(encoding="utf-8"):
            break
        time.sleep(0.1)
    words = said.read_text(encoding="utf-8")
    assert "The window is shown." in words and "Das Fenster ist zu sehen." in words
