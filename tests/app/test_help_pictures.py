"""The help shows the screens it speaks of."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QUrl
from PySide6.QtGui import QTextDocument

from jartide.help_texts import help_sections

from .conftest import settle


@pytest.mark.parametrize("screen", ["photos", "reading", "sheet"])
def test_a_screen_is_shown_in_its_help(qtbot, demo, screen):
    demo.show_help(screen)
    settle(qtbot, demo)
    text = demo.station("help").text
    pictures = next(s.pictures for s in help_sections() if screen in s.keys)
    written = text.toHtml()
    for name in pictures:
        assert f"screen:{name}" in written
        image = text.loadResource(
            QTextDocument.ResourceType.ImageResource.value, QUrl(f"screen:{name}")
        )
        assert 300 < image.width() <= text.width()
    # Nothing else is loaded.
    other = text.loadResource(
        QTextDocument.ResourceType.ImageResource.value, QUrl("file:///etc/hostname")
    )
    assert not other
    demo.page().escape()
