"""What mends a board, computed with the painter's own paints: a veil's ratio, a better mix."""

from __future__ import annotations

from typing import TYPE_CHECKING

from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.app.jar_desk import JarDesk
    from jartide.boards.result import Difference
    from jartide.reading.result import Reading


def mend_words(difference: Difference, board: Reading, desk: JarDesk) -> str:
    """Return the recipe of a mend in one sentence; empty where none can be computed."""
    if not difference.significant:
        return ""
    if difference.quantity == "lines.contrast_L" and (difference.delta or 0) > 0:
        return _veil(difference, board, desk)
    if difference.quantity.startswith("layers[") and difference.quantity.endswith(".lab"):
        return _mix(difference, desk)
    return ""


def _veil(difference: Difference, board: Reading, desk: JarDesk) -> str:
    """The ground's mix as a veil that brings the lines' contrast to the target's."""
    from jartide.app import jar_work
    from jartide.app.stations.jars.words import parts_words
    from jartide.errors import JarTideError
    from jartide.paint.veil import find_veil
    from jartide.reading.result import LINE_ROLES

    work = desk.work()
    jars = desk.jars()
    lines = [layer for layer in board.layers if layer.role in LINE_ROLES]
    if work is None or not jars or not lines or not isinstance(difference.target, float):
        return ""
    ground = jars[0][1]
    parts = jar_work.parts_of(work, ground)
    if not parts:
        return ""
    # The lines that stand off most are the ones that are too stark.
    base = board.layers[0].shown_lab
    stark = max(lines, key=lambda layer: abs(layer.shown_lab[0] - base[0]))
    now = abs(stark.shown_lab[0] - base[0])
    assert isinstance(difference.board, float)
    wanted = now * difference.target / difference.board
    try:
        best = find_veil(work.fitted, parts, stark.shown_lab, base, wanted)[0]
    except JarTideError:
        return ""
    return tr(
        "mend.veil",
        parts=parts_words([part.parts for part in ground.parts]),
        recipe=parts_words([1, best.carrier]),
        count=best.coats,
    )


def _mix(difference: Difference, desk: JarDesk) -> str:
    """The jar of the layer, where the board's mix was another: name its parts again."""
    from jartide.app.stations.jars.words import parts_words

    place = int(difference.quantity.split("[")[1].split("]")[0])
    jars = [mix for layer, mix in desk.jars() if layer is not None]
    if place >= len(jars) or not jars[place].parts:
        return ""
    tins = {tin.id: tin.name for tin in desk.tins()}
    names = [tins[part.tin_id] for part in jars[place].parts if part.tin_id in tins]
    if len(names) < len(jars[place].parts) or not names:
        return ""
    listed = names[0]
    if len(names) > 1:
        listed = tr("words.and", first=", ".join(names[:-1]), last=names[-1])
    parts = parts_words([part.parts for part in jars[place].parts])
    return tr("mend.mix", parts=parts, names=listed)
