"""A name that looks like mark-up is a name."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from jartide.app.widgets.drop_down import DropDown

NAME = "<img src='/etc/hostname'><b>Bar</b>"


def test_every_label_shows_plain_words(demo):
    demo.open_finish(demo.job.records.jobs()[0][1][0].id)
    job = demo.job.records.job()
    demo.job.records.change("x", [job], [replace(job, name=NAME)])
    demo.show_jobs()
    for name in ("photos", "reading", "jars", "boards", "steps", "sheet"):
        demo.go_to(name)
    shown = demo.findChildren(QLabel)
    assert len(shown) > 8
    rich = [x for x in shown if x.textFormat() is not Qt.TextFormat.PlainText]
    assert not rich, [x.text() for x in rich]
    assert any(NAME in label.text() for label in shown)


def test_a_tip_is_no_mark_up_either(qtbot):
    chosen = DropDown()
    qtbot.addWidget(chosen)
    chosen.addItems(["plain", NAME])
    chosen.setCurrentIndex(1)
    assert "<img" not in chosen.toolTip() and "&lt;img" in chosen.toolTip()
    chosen.setCurrentIndex(0)
    assert chosen.toolTip() == "plain"
