"""The bench: target and board beside each other, what differs between them, the tide below."""

from __future__ import annotations

from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QBoxLayout, QGridLayout, QWidget

from jartide.app.elements.scale_strip import HEIGHT as STRIP
from jartide.app.measure import px
from jartide.app.stations.boards.column_heads import ColumnHeads
from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.differences import Differences
from jartide.app.widgets.distance_rail import DistanceRail
from jartide.app.widgets.ground import Ground, column, row
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.headline import Headline
from jartide.app.widgets.laid_over import LaidOver
from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.surface_pane import SurfacePane
from jartide.app.widgets.tick import Tick
from jartide.app.widgets.tide_view import TideView
from jartide.wording import tr

VIEWS = ("beside", "over", "where")
_COLUMN, _LEAST_PANE, _LEAST_ROWS = 360, 150, 270
_MARGIN, _GAP = 24, 20
# A narrower window has the distance below the advice.
_ROOMY = 1080


class Bench(Ground):
    """What is compared, and how it is looked at; the station fills it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("bench", parent=parent)
        self.left, self.right = SurfacePane(self), LaidOver(self)
        for pane, other in ((self.left, self.right), (self.right, self.left)):
            pane.look_closer()
            pane.looked.connect(lambda p=pane, o=other: o.look_like(p))
        self.left.setAccessibleName(tr("reading.target"))
        self.rows = Differences(self)
        self.rows.setMinimumSize(px(_COLUMN), px(_LEAST_ROWS))
        self.tide = TideView(self)
        self.distance = DistanceRail(self)
        self.view = ChoiceRow([tr(f"view.{view}") for view in VIEWS], tr("boards.view"), self,
                              gap=18)  # fmt: skip
        self.from_afar = Tick(tr("boards.from_afar"), self)
        photo = [("photo", tr("boards.photo")), ("another", tr("boards.another"))]
        self.photos = MenuButton(tr("boards.its_photos"), photo, self)
        self.advice = Headline(self)
        self.judged = Heading(size=15, weight=600)
        self.left_words, self.right_words = Heading(), Heading(one_line=True)
        self.rows_words = ColumnHeads(self)
        self._is_roomy: bool | None = None
        self._lay_out()
        self._stand(True)

    def _lay_out(self) -> None:
        advice = Ground("sheet", "bottom")
        self._top = row(advice, (_MARGIN, 8, _MARGIN, 8), _GAP)
        self._top.addWidget(self.advice, 1)
        judged = column()
        judged.addWidget(self.judged)
        judged.addWidget(self.distance)
        beside = row(gap=24)
        beside.addLayout(judged)
        beside.addStretch(1)
        beside.addWidget(self.photos)
        self._top.addLayout(beside)

        self._compared = QGridLayout()
        self._compared.setContentsMargins(px(_MARGIN), px(4), px(_MARGIN), px(8))
        self._compared.setHorizontalSpacing(px(_GAP))
        self._compared.setVerticalSpacing(0)
        self._compared.setRowStretch(1, 1)
        self._compared.setRowMinimumHeight(0, px(44))
        self._heads = []
        parts = (
            (self.left_words, self.left),
            (self.rows_words, self.rows),
            (self.right_words, self.right),
        )
        for place, (head, shown) in enumerate(parts):
            over = row(gap=12)
            over.addWidget(head, 1)
            self._compared.addLayout(over, 0, place)
            self._compared.addWidget(shown, 1, place)
            self._heads.append(over)
        tide = Ground("sheet", "top")
        column(tide, (_MARGIN, 6, _MARGIN, 8)).addWidget(self.tide)

        self._whole = column(self)
        self._whole.addWidget(advice)
        self._ways = row(margins=(_MARGIN, 0, _MARGIN, 0), gap=_GAP)
        self._whole.addLayout(self._ways)
        self._whole.addLayout(self._compared, 1)
        self._whole.addWidget(tide)

    def _stand(self, roomy: bool) -> None:
        """Put the ways of looking over the panes, or above both where those are slim."""
        if roomy == self._is_roomy:
            return
        self._is_roomy = roomy
        ways = QBoxLayout.Direction
        self._top.setDirection(ways.LeftToRight if roomy else ways.TopToBottom)
        for widget, head in ((self.from_afar, self._heads[0]), (self.view, self._heads[2])):
            for line in (head, self._ways):
                line.removeWidget(widget)
            (head if roomy else self._ways).addWidget(widget)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.fit()

    def fit(self) -> None:
        """Let photos take everything; what a square one leaves over goes to the column."""
        self._stand(self.wide >= _ROOMY)
        self._whole.activate()
        room = self.wide - 2 * _MARGIN - 2 * _GAP
        wanted = round((self.left.high - STRIP) * self.left.aspect())
        pane = max(min(wanted, (room - _COLUMN) // 2), _LEAST_PANE)
        for place, wide in enumerate((pane, max(room - 2 * pane, _COLUMN), pane)):
            self._compared.setColumnStretch(place, wide)
        self._whole.activate()
        if self.isVisible():
            self._same_scale()

    def _same_scale(self) -> None:
        """Show both at as many px per mm as the larger of them allows."""
        scales = [s for s in (self.left.whole_scale(), self.right.whole_scale()) if s]
        common = min(scales) if len(scales) == 2 else None
        self.left.set_scale(common)
        self.right.set_scale(common)
