"""Everything one step knows, as a page of sentences."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit
from jartide.app.widgets.painted import Painted
from jartide.figures import plain_figure
from jartide.job.plan import TimedPlan
from jartide.job.words.steps import tool_words, ware_words
from jartide.plan.lifting import lifting_min
from jartide.plan.quantities import ware_of
from jartide.plan.rules import Finding
from jartide.plan.step import Step
from jartide.plan.technique import Technique
from jartide.wording import Message, say, tr

_USUAL_W = 960


class StepDetail(Painted):
    """Draws a step's sentences under their headings; the wheel scrolls them."""

    def __init__(self, parent: QWidget | None = None, *, edge: bool = False) -> None:
        super().__init__(parent)
        self._ringed = False
        self._edge = edge
        self._title = ""
        self._parts: list[tuple[str, str]] = []
        self._shift = 0.0
        self._ends = 0.0

    @property
    def parts(self) -> list[tuple[str, str]]:
        """Headings with their sentences."""
        return self._parts

    def show_step(self, plan: TimedPlan, step: Step | None, findings: list[Finding]) -> None:
        """Show one step."""
        title = "" if step is None else say(step.name)
        if title != self._title:
            self._shift = 0.0
        self._title = title
        self._parts = [] if step is None else _parts(plan, step, findings)
        said = "; ".join(f"{head}: {text}" for head, text in self._parts)
        self.setAccessibleName(f"{title}. {said}")
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        most = max(self._ends - self.high + 20, 0)
        self._shift = min(max(self._shift - event.angleDelta().y() / 3, 0), most)
        self.update()

    def paint(self, kit: Kit) -> None:
        if self._edge:
            kit.upright(0, 0, self.high)
        # Lines of more than some ninety letters are hard to read: a wide page has larger ones.
        larger = min(max(self.wide / _USUAL_W, 1.0), 1.6)
        w = self.wide / larger
        with kit.saved():
            kit.painter.setClipRect(0, 0, self.wide, self.high)
            kit.painter.scale(larger, larger)
            y = 8.0 - self._shift / larger
            y = kit.paragraph(20, y, w - 24, self._title, 20, 600, "ink") + 6
            for head, text in self._parts:
                kit.text(20, y, head, 14, 600, "ink2", w - 24)
                y = kit.paragraph(20, y + 19, w - 24, text, 15, 400, "ink") + 7
        self._ends = y * larger + self._shift
        if self._ends > self.high:
            kit.across(20, self.high - 2, self.wide - 24, "edge", 2)


def _parts(plan: TimedPlan, step: Step, findings: list[Finding]) -> list[tuple[str, str]]:
    technique = plan.techniques().get(step.technique)
    parts: list[tuple[str, str]] = []

    def add(key: str, text: str) -> None:
        if text:
            parts.append((tr(f"detail.{key}"), text))

    for finding in findings:
        add(f"grade_{finding.grade}", say(finding.reason))
    add("why", "" if step.why is None else say(step.why))
    add("tool", tool_words(step))
    add("how", " ".join(say(one) for one in step.how))
    add("thin", _dilution(step))
    add("mix", _ware(plan, step))
    if technique is not None:
        add("ready", say_text(technique.ready))
        add("back", _back(plan, step, technique))
        add("changes", _listed(_change_words(one) for one in technique.changes))
        add("photo", say_text(technique.photo))
        add("faults", _listed(say(Message(one)) for one in technique.faults))
    if step.latest_h:
        add("latest", tr("detail.latest_words", hours=plain_figure(step.latest_h)))
    add("care", " ".join(say_text(one.text) for one in plan.cautions(step)))
    return parts


def _back(plan: TimedPlan, step: Step, technique: Technique) -> str:
    """What takes it back, and for how many minutes in this air."""
    minutes = lifting_min([step], plan.work().air)
    words = [say_text(technique.back)]
    if minutes > 0:
        words.append(tr("detail.back_min", count=round(minutes)))
    return " ".join(f"{one.rstrip('.')}." for one in words if one)


def _listed(words: Iterable[str]) -> str:
    """Several words as one line, begun with a capital."""
    line = ", ".join(words)
    return line[:1].upper() + line[1:]


def say_text(text: str) -> str:
    """Return a text of a table in the painter's language, begun with a capital."""
    words = say(Message(text)) if text else ""
    return words[:1].upper() + words[1:]


def _ware(plan: TimedPlan, step: Step) -> str:
    """What it is laid with: the jar of its layer, or the product."""
    if not step.lays:
        return ""
    return ware_words(ware_of(step), plan.readings.of_target())


def _dilution(step: Step) -> str:
    if not step.lays:
        return ""
    if not (step.carrier or step.water):
        return tr("detail.neat")
    words = [tr("detail.thinned_carrier", parts=plain_figure(step.carrier))] if step.carrier else []
    words += [tr("detail.thinned_water", parts=plain_figure(step.water))] if step.water else []
    return tr("detail.thinned", words=", ".join(words))


def _change_words(change: str) -> str:
    """What a pass moves: the measure's name, and which way."""
    path, _, way = change.partition(" ")
    name = tr(f"change.{path}")
    return tr(f"change.way.{way}", name=name) if way else name
