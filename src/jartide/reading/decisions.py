"""What the painter decides of the layers, and the changes that can be made to it.

The choices name every layer by the tones it is seen in, in paint order. A tone
that is not locked is settled again on each picture they are applied to, so the
same choices serve several photos of one piece.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from jartide.reading.result import Lab, Layer, Role

MOST_LAYERS = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerChoice:
    """One layer as decided.

    Attributes
    ----------
    tones : the colours it is seen in; more than one after a merge
    name : the painter's own; empty for the one in words
    role : the painter's; None for the one read off its shapes
    shape_role : the one read off its shapes before, kept while it is not read again
    locked : its tones stay where they are while the others are fitted
    left_out : no layer of the finish (a stain, a shadow): counts for nothing
    whole : whether some pixel shows its colour wholly
    reader_lab : a colour reader's value for it
    """

    tones: tuple[Lab, ...]
    name: str = ""
    role: Role | None = None
    shape_role: Role | None = None
    locked: bool = False
    left_out: bool = False
    whole: bool = True
    reader_lab: Lab | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerChoices:
    """All layers as decided, base first. `ordered`: the painter has set their order."""

    layers: tuple[LayerChoice, ...]
    ordered: bool = False

    def only_named(self) -> bool:
        """Whether they may be the layers as read, with nothing but names and readers' colours."""
        as_read = all(
            len(layer.tones) == 1
            and layer.role in (None, layer.shape_role)
            and not (layer.locked or layer.left_out)
            for layer in self.layers
        )
        return as_read and not self.ordered

    @property
    def kept(self) -> tuple[int, ...]:
        """The numbers of the layers that are not left out, in paint order."""
        return tuple(n for n, layer in enumerate(self.layers) if not layer.left_out)


def choices_of(layers: Sequence[Layer]) -> LayerChoices:
    """Return the choices that leave layers as they were read."""
    return LayerChoices(
        layers=tuple(
            LayerChoice(
                tones=(layer.shown_lab,),
                shape_role=layer.role,
                whole=layer.lab is not None,
                locked=layer.locked,
                reader_lab=layer.reader_lab,
            )
            for layer in layers
        )
    )


def merged(choices: LayerChoices, into: int, other: int) -> LayerChoices:
    """Make one layer of two: `into` keeps its name, place and reader's colour."""
    layers = list(choices.layers)
    a, b = layers[into], layers[other]
    layers[into] = replace(a, tones=a.tones + b.tones, whole=a.whole or b.whole)
    del layers[other]
    return replace(choices, layers=tuple(layers))


def parted(choices: LayerChoices, number: int, tones: tuple[Lab, Lab]) -> LayerChoices:
    """Make two layers of one, seen in these two tones; the second lies right over the first."""
    layers = list(choices.layers)
    whole = layers[number]
    layers[number : number + 1] = [
        replace(whole, tones=(tones[0],), locked=False, reader_lab=None),
        replace(whole, tones=(tones[1],), name="", locked=False, reader_lab=None),
    ]
    return replace(choices, layers=tuple(layers))


def picked(choices: LayerChoices, lab: Lab) -> LayerChoices:
    """Add a layer of a colour the painter has picked, on top; it is locked to that colour."""
    return replace(choices, layers=(*choices.layers, LayerChoice(tones=(lab,), locked=True)))


def moved(choices: LayerChoices, number: int, to: int) -> LayerChoices:
    """Move a layer to another place in the order."""
    layers = list(choices.layers)
    layers.insert(to, layers.pop(number))
    return replace(choices, layers=tuple(layers), ordered=True)


def changed(choices: LayerChoices, number: int, **changes: object) -> LayerChoices:
    """Rename a layer, set its role, lock it, leave it out or give it a reader's colour."""
    layers = list(choices.layers)
    layers[number] = replace(layers[number], **changes)  # type: ignore[arg-type]
    return replace(choices, layers=tuple(layers))
