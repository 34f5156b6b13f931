"""What the opened layer's panel says, in painters' words."""

from __future__ import annotations

from jartide.colour.words import Cast, Lab, Undertone, beside, tone, undertone
from jartide.figures import figure
from jartide.job.words.numbers import mm_words
from jartide.reading.layers.position import sits, times_as_much
from jartide.reading.result import LINE_ROLES, Edge, Layer, Reading, Relief
from jartide.wording import say, tr

# Beyond this a colour is a guess.
_UNSURE_DE00 = 6.0


def colour_words(layer: Layer) -> str:
    """Return lightness and undertone of a layer: "Mid. A hint of greenish, cool"."""
    return lab_words(layer.best_lab or layer.shown_lab)


def lab_words(lab: Lab) -> str:
    """Return lightness and undertone of a colour."""
    warmth, leaning, strength = undertone(lab)
    light = tr(f"tone.{tone(lab)}")
    if leaning is Cast.NEUTRAL:
        return tr("undertone.true_grey", tone=light)
    words = tr(f"undertone.{strength}", cast=tr(f"cast.{leaning}").lower())
    if warmth is not Undertone.EVEN:
        words = tr("undertone.with_warmth", words=words, warmth=tr(f"undertone.{warmth}"))
    return tr("undertone.whole", tone=light, words=words)


def beside_words(layer: Layer, reading: Reading) -> str:
    """Return how a layer stands beside the ground, or the ground beside what lies on it."""
    others = [other for other in reading.layers if other.id != layer.id]
    if not others:
        return ""
    other = others[0]
    own, its = layer.best_lab or layer.shown_lab, other.best_lab or other.shown_lab
    gap = round(own[0] - its[0])
    name = say(other.name).lower()
    if gap == 0:
        words = tr("beside.level", name=name)
    else:
        words = tr("beside.lighter" if gap > 0 else "beside.darker", gap=abs(gap), name=name)
    shift = beside(own, its)
    if shift is not None:
        words = tr("beside.and", words=words, shift=tr(f"beside.{shift}"))
    return words + "."


def order_words(layer: Layer) -> str:
    """Return why a layer lies where it does; one sentence for each kind of reason."""
    if not layer.why:
        return ""
    by_kind: dict[str, list[str]] = {}
    for reason in layer.why:
        below = reason.parameters["below"]
        by_kind.setdefault(reason.id, []).append(tr("order.name", name=str(below)).lower())
    parts = []
    for kind, names in by_kind.items():
        parts.append(tr(kind, below=_listed(names)))
    return " ".join(parts)


def position_words(layer: Layer) -> str:
    """Return where on the piece a layer sits; nothing where the piece's edges are not known."""
    if layer.position is None:
        return ""
    where = sits(layer.position)
    times = figure(times_as_much(layer.position, where), 1)
    return tr(f"layer.sits.{where}", times=times)


def edge_words(layer: Layer, reading: Reading) -> str:
    """Return how a layer meets what it lies over, where it is not with a clear edge."""
    names = {other.id: say(other.name) for other in reading.layers}
    parts = []
    for kind in (Edge.BLENDED, Edge.FILM):
        own = [edge for edge in reading.edges if edge.upper == layer.id and edge.edge is kind]
        if not own:
            continue
        below = _listed([tr("order.name", name=names[edge.lower]).lower() for edge in own])
        widths = [edge.width_mm for edge in own if edge.width_mm is not None]
        if kind is Edge.BLENDED and widths:
            width = mm_words(max(widths))
            parts.append(tr("edge.blended_over", below=below, width=width))
        else:
            parts.append(tr(f"edge.{kind}", below=below))
    return " ".join(parts)


def _listed(names: list[str]) -> str:
    if len(names) == 1:
        return names[0]
    return tr("words.and", first=", ".join(names[:-1]), last=names[-1])


def doubt_words(layer: Layer) -> str:
    """Return what to be careful of with a layer's colour; empty when nothing."""
    if layer.reader_lab is not None:
        return ""
    if layer.lab is None:
        if layer.role not in LINE_ROLES:
            return tr("layer.only_blended")
        gap = abs(round(layer.contrast_L or 0))
        return tr("layer.too_fine", gap=gap)
    if layer.gamut_edge:
        return tr("layer.gamut_edge")
    return tr("layer.unsure") if layer.lab_de00 > _UNSURE_DE00 else ""


def relief_words(relief: Relief | None) -> str:
    """Return how strong relief is, and where its light comes from; empty where none is told."""
    if relief is None or relief.strength.value is None:
        return ""
    strength = relief.strength.value
    how = "slight" if strength < 0.04 else "clear" if strength < 0.12 else "strong"
    return tr(f"relief.{how}")
