"""What the open finish gives to other programs: palette, reading, log, annotated picture."""

from __future__ import annotations

import json

import numpy as np

from jartide.colour.spaces import srgb_hex
from jartide.errors import ReadingError
from jartide.job.open_job import OpenJob
from jartide.job.words.number_rows import number_groups
from jartide.job.words.numbers import percent_words
from jartide.reading.result import Reading
from jartide.sheet.annotated import (
    AnnotatedLayer,
    AnnotatedPicture,
    annotate,
    annotated_png,
    annotated_svg,
)
from jartide.sheet.layer_tiles import TracedLayer, layer_tiles_pdf
from jartide.store.exchange import reading_to_json
from jartide.store.layers_out import layers_zip
from jartide.store.palettes import Swatch, write_ase, write_css, write_gpl
from jartide.store.readings_out import log_to_csv, log_to_json, reading_to_csv
from jartide.wording import say, tr

# So many numbers of the pattern have room beside a picture.
_MOST_NUMBERS = 10


class FilesOut:
    """Makes one file of each kind."""

    def __init__(self, job: OpenJob) -> None:
        self._job = job

    def file(self, kind: str) -> bytes:
        """Return a file's bytes: "gpl", "ase", "css", "reading_csv", "log_json", "picture_svg"...

        Raises
        ------
        ReadingError : when the target is not read yet.
        """
        what, _, form = kind.partition("_")
        if what == "log":
            return self._log(form).encode("utf-8")
        reading = self._job.readings.of_target()
        if reading is None:
            raise ReadingError("error.files.not_read")
        if what == "reading":
            return self._reading(reading, form).encode("utf-8")
        if what == "picture":
            return self._picture(reading, form)
        return self._palette(reading, what)

    def _palette(self, reading: Reading, kind: str) -> bytes:
        finish = self._job.finish
        swatches = [
            Swatch(name=say(layer.name), lab=layer.best_lab or layer.shown_lab)
            for layer in reading.layers
        ]
        if kind == "ase":
            return write_ase(swatches)
        if kind == "css":
            return write_css(swatches).encode("utf-8")
        return write_gpl(swatches, "" if finish is None else finish.name).encode("utf-8")

    def _reading(self, reading: Reading, form: str) -> str:
        if form == "csv":
            return reading_to_csv(reading)
        return json.dumps(reading_to_json(reading), ensure_ascii=False, indent=1) + "\n"

    def _log(self, form: str) -> str:
        records = self._job.records
        boards = [board for board, _ in (*records.boards(), *records.panels())]
        entries = [entry for board in boards for entry in records.entries(board)]
        jars = {mix.id: mix.name or mix.layer for mix in records.mixes()}
        jars |= {mix.id: mix.name for _, mix in self._job.jars.all() if mix.name}
        return (log_to_csv if form == "csv" else log_to_json)(boards, entries, jars)

    def _picture(self, reading: Reading, form: str) -> bytes:
        if form in ("zip", "pdf"):
            return self._layers(reading, form)
        drawn = self._drawn(reading)
        return annotated_svg(drawn).encode("utf-8") if form == "svg" else annotated_png(drawn)

    def _layers(self, reading: Reading, form: str) -> bytes:
        """The layers themselves: grey pictures in a .zip, or outlines 1 : 1 to cut or trace."""
        target, finish = self._job.readings.target(), self._job.finish
        flat = None if target is None else self._job.pictures.flat(target)
        analysis = None if target is None else self._job.readings.analysis(target)
        if flat is None or finish is None or analysis is None:
            raise ReadingError("error.files.not_read")
        picture, layers = flat.prepared.picture, analysis.layers
        if form == "zip":
            return layers_zip(picture, layers)
        if picture.mm_per_px is None:
            raise ReadingError("error.files.no_scale")
        # The ground lies under all; what is cut or traced lies over it.
        traced = [
            TracedLayer(name=say(layer.name), cover=layers.covers.of(number) * layers.valid)
            for number, layer in enumerate(layers.layers)
            if number > 0 or len(layers.layers) == 1
        ]
        return layer_tiles_pdf(traced, picture.mm_per_px, finish.name)

    def _drawn(self, reading: Reading) -> AnnotatedPicture:
        target, finish = self._job.readings.target(), self._job.finish
        flat = None if target is None else self._job.pictures.flat(target)
        if target is None or flat is None or finish is None:
            raise ReadingError("error.files.not_read")
        analysis = self._job.readings.analysis(target)
        masks: list[np.ndarray | None] = [None] * len(reading.layers)
        if analysis is not None and len(analysis.reading.layers) == len(reading.layers):
            masks = list(analysis.layers.masks())
        layers = [
            AnnotatedLayer(
                name=say(layer.name),
                srgb=srgb_hex(layer.best_lab or layer.shown_lab),
                note=tr("reading.covers", share=percent_words(layer.coverage.value or 0.0)),
                mask=mask,
            )
            for layer, mask in zip(reading.layers, masks, strict=True)
        ]
        numbers = [
            f"{row.name}: {row.value}"
            for group in number_groups(reading)
            for row in group.rows
            if any(sign.isdigit() for sign in row.value)
        ]
        return annotate(flat.code, flat.mm_per_px, layers, finish.name, numbers[:_MOST_NUMBERS])
