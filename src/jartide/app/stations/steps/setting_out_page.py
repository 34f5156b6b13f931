"""Setting out: panels in a row with their axis, and where main veins run over the joints."""

from __future__ import annotations

import math
from dataclasses import replace

from PySide6.QtCore import QLineF, QPointF
from PySide6.QtGui import QPen
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit
from jartide.app.stations.steps.page import Side, StepsPage
from jartide.app.widgets.control_column import fill_list, number, put_text, was_edited
from jartide.app.widgets.painted import Painted
from jartide.errors import JarTideError
from jartide.figures import figure, plain_figure
from jartide.job.open_job import OpenJob
from jartide.plan.facts import read_facts
from jartide.plan.setting_out import Axis, SetOut, motif_spacing, set_out
from jartide.reading.pattern.records import Lines
from jartide.reading.result import Reading
from jartide.wording import tr

_MOST_MARKED = 12


class SettingOutPage(StepsPage):
    """Draws the chosen surface's panels and says what is measured off on the wall."""

    name = "setting_out"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._row = PanelRow(self)
        self.lay_out(self._row)

    def build_side(self, side: Side) -> None:
        side.words(tr("setting.surface"), 14)
        self._surface = side.list(tr("setting.surface"), self.show_now)
        self._joint = side.fields(tr("setting.joint"), edited=self._edited)[0]
        side.words(tr("setting.axis"), 14)
        self._axis = side.list(tr("setting.axis"), lambda: self._edited(True))
        fill_list(self._axis, [(tr(f"setting.axis.{a}"), a) for a in ("same", "mirrored")])
        self._said = side.words()
        side.words(tr("setting.motifs"), 18, 600)
        self._motif, self._gap = side.fields(
            tr("setting.motif"), tr("setting.gap"), edited=self._show_motifs
        )
        self._motif.setText("200")
        self._gap.setText("80")
        self._motifs = side.words()

    def show_now(self) -> None:
        surfaces = self.plan.surfaces()
        fill_list(self._surface, [(s.name, s.id) for s in surfaces], self._surface.currentData())
        work = self.plan.work()
        put_text(self._joint, plain_figure(work.joint_mm))
        self._axis.setCurrentIndex(max(self._axis.findData(work.axis), 0))
        self._row.show_row(self._set_out())
        self._show_words()
        self._show_motifs()
        self.foot_changed.emit()

    def _set_out(self) -> SetOut | None:
        reading = self.job.readings.of_target()
        surface = next(
            (s for s in self.plan.surfaces() if s.id == self._surface.currentData()), None
        )
        if reading is None or surface is None:
            return None
        lines, work = _main_lines(reading), self.plan.work()
        try:
            return set_out(
                surface.count,
                surface.width_mm,
                surface.height_mm,
                joint_mm=work.joint_mm,
                axis_deg=read_facts(reading).direction_deg,
                axis=Axis(work.axis),
                spacing_mm=None if lines is None else lines.spacing_mm.value,
                evenness=None if lines is None else lines.spacing_evenness.value,
            )
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
            return None

    def _show_words(self) -> None:
        found = self._row.row
        if found is None:
            self._said.setText("")
            return
        words = [tr("setting.whole", length=figure(found.whole_mm)), tr("setting.tops")]
        axis = found.panels[0].axis_deg
        if axis is not None:
            words.append(tr("setting.axis_words", degrees=figure(axis)))
        if any(joint.crossings_mm for joint in found.joints):
            words.append(tr("setting.crossings"))
        self._said.setText(" ".join(words))

    def _show_motifs(self) -> None:
        found = self._row.row
        motif, gap = number(self._motif.text()), number(self._gap.text())
        if found is None or motif is None or gap is None:
            self._motifs.setText(tr("setting.motif_how"))
            return
        try:
            spaced = motif_spacing(found.panels[0].width_mm, motif, gap)
        except JarTideError as error:
            self._motifs.setText(str(error))
            return
        self._motifs.setText(
            tr(
                "setting.motif_words",
                number=spaced.number,
                gap=figure(spaced.gap_mm),
                first=figure(spaced.first_mm),
            )
        )

    def _edited(self, always: bool = False) -> None:
        if not (was_edited(self._joint) or always):
            return
        joint = number(self._joint.text())
        if joint is None or not 0 <= joint <= 1000:
            self.job.events.failed.emit(tr("error.plan.joint"))
            self.show_now()
            return
        axis = str(self._axis.currentData())
        self.plan.put(tr("undo.work"), work=replace(self.plan.work(), joint_mm=joint, axis=axis))


def _main_lines(reading: Reading) -> Lines | None:
    """The widest veins: they are what an eye follows over a joint."""
    known = [
        (lines.width_mm.median.value, lines)
        for _, lines in reading.pattern.lines_by_layer
        if lines.width_mm.median.value is not None and lines.spacing_mm.value is not None
    ]
    return max(known, key=lambda pair: pair[0])[1] if known else reading.pattern.lines


class PanelRow(Painted):
    """Draws panels to scale: top mark, axis, and the heights at the joints."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ringed = False
        self._row: SetOut | None = None

    @property
    def row(self) -> SetOut | None:
        """What is shown."""
        return self._row

    def show_row(self, row: SetOut | None) -> None:
        """Show a row of panels."""
        self._row = row
        if row is not None:
            said = "; ".join(
                tr(
                    "setting.joint_words",
                    left=joint.left,
                    right=joint.right,
                    heights=", ".join(str(round(h)) for h in joint.crossings_mm[:_MOST_MARKED]),
                )
                for joint in row.joints
                if joint.crossings_mm
            )
            self.setAccessibleName(f"{tr('page.setting_out')}: {said}")
        self.update()

    def paint(self, kit: Kit) -> None:
        row = self._row
        if row is None:
            kit.text(4, 12, tr("setting.none"), 16, 400, "ink2", self.wide - 8)
            return
        height = row.panels[0].height_mm
        lines = 30 * sum(bool(joint.crossings_mm) for joint in row.joints)
        room = max(self.high - 70 - lines, 160)
        scale = min((self.wide - 20) / row.whole_mm, room / height, 0.5)
        top = 30.0
        foot = top + scale * height
        for panel in row.panels:
            x, w = 8 + scale * panel.left_mm, scale * panel.width_mm
            kit.fill(x, top, w, scale * height, "sheet")
            kit.box(x, top, w, scale * height, "edge", 1.5)
            kit.text(x, 6, str(panel.number), 15, 600, "ink", w, "centre")
            # The top is marked by a short thick line.
            kit.fill(x + w / 2 - 12, top, 24, 4, "ink")
            if panel.axis_deg is not None:
                reach = 0.36 * min(w, scale * height)
                turn = math.radians(panel.axis_deg)
                middle = QPointF(x + w / 2, top + scale * height / 2)
                ahead = QPointF(math.cos(turn) * reach, -math.sin(turn) * reach)
                kit.painter.setPen(QPen(kit.colour("ink"), 2))
                kit.painter.drawLine(QLineF(middle - ahead, middle + ahead))
                label = f"{panel.axis_deg:.0f}°"
                kit.text(x, foot - 26, label, 14, 400, "ink2", w, "centre")
        for joint in row.joints:
            x = 8 + scale * joint.at_mm
            last = foot + 20
            for crossing in joint.crossings_mm:
                y = foot - scale * crossing
                kit.fill(x - 7, y - 1, 14, 3, "ink")
                if last - y >= 17 and scale * row.panels[0].width_mm > 74:
                    kit.text(x + 10, y - 9, f"{crossing:.0f}", 14, 400, "ink")
                    last = y
        y = foot + 20
        for joint in row.joints:
            if joint.crossings_mm and y < self.high - 24:
                heights = ", ".join(f"{h:.0f}" for h in joint.crossings_mm)
                words = tr(
                    "setting.joint_line", left=joint.left, right=joint.right, heights=heights
                )
                kit.text(8, y, words, 15, 400, "ink", self.wide - 20)
                y += 30
