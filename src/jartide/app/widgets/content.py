"""Another content for what scrolls, while something may still be going on in the one before."""

from __future__ import annotations

from PySide6.QtWidgets import QScrollArea, QWidget


def put_content(area: QScrollArea, content: QWidget) -> None:
    """Show `content` in a scrolling area; what was in it is let go of a moment later.

    A press takes the focus from a field first, which keeps what was typed and shows everything
    anew: the button under the pointer is in the content before, and still has to hear the press.
    """
    before = area.takeWidget()
    if before is not None:
        # Without a parent it would go with the last name for it, at the end of this.
        before.setParent(area)
        before.hide()
        before.deleteLater()
    area.setWidget(content)
