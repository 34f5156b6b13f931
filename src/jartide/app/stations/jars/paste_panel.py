"""How stiff a paste is: how far a level spoonful spreads, typed or read from a photo."""

from __future__ import annotations

from PySide6.QtCore import Signal

from jartide.app.widgets.control_column import ControlColumn, number, put_text
from jartide.figures import plain_figure
from jartide.job.words.pastes import paste_words
from jartide.store.jar_records import Mix
from jartide.wording import tr

_SPOON_ML = 15.0


class PastePanel(ControlColumn):
    """Fields of one look at a batch, and what to stir in next."""

    looked = Signal(object, object, object, object)  # spoon, spread, powder, paint or None
    photo_wanted = Signal()

    def build(self) -> None:
        self.words(tr("paste.title"), 18, 600)
        self.words(tr("paste.how"))
        self._spoon, self._spread = self.fields(tr("paste.spoon"), tr("paste.diameter"))
        self._powder, self._paint = self.fields(tr("paste.powder_in"), tr("paste.paint_in"))
        self.button(tr("paste.photo"), self.photo_wanted.emit)
        self.button(tr("paste.keep"), self._pressed)
        self._said = self.words(size=16, weight=600)
        self._jar = ""

    def show_mix(self, mix: Mix, volume_ml: float) -> None:
        """Show the last look at a batch; of one nobody looked at, what it holds."""
        last = mix.spreads[-1] if mix.spreads else None
        self._said.setText(paste_words(mix))
        if mix.id == self._jar and last is None:
            return  # what was typed stays
        self._jar = mix.id
        put_text(self._spoon, plain_figure(_SPOON_ML if last is None else last.spoon_ml))
        put_text(self._spread, "" if last is None else plain_figure(last.diameter_mm))
        put_text(self._powder, "0" if last is None else plain_figure(last.powder_ml))
        put_text(self._paint, plain_figure(volume_ml if last is None else last.paint_ml))

    def show_spread(self, diameter_mm: float) -> None:
        """Show what a photo said."""
        self._spread.setText(plain_figure(round(diameter_mm, 1)))

    def _pressed(self) -> None:
        fields = (self._spoon, self._spread, self._powder, self._paint)
        self.looked.emit(*(number(field.text()) for field in fields))
