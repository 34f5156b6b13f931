"""Stand-ins in the window: hidden in a painter's own workspace, marked where they are used."""

from __future__ import annotations

import pytest
from PySide6.QtWidgets import QAbstractButton, QLineEdit

from jartide.app.stations.jars.told import Told
from jartide.devices.registry import Kind
from jartide.devices.source import Source
from jartide.job.outside_devices import is_demo, offered, source_words, stand_ins, switch_stand_in
from jartide.job.shelf_work import ShelfWork, trials_of
from jartide.paint.fit import fit_shelf
from jartide.paint.shelf import Swatch, SwatchKind
from jartide.store.jar_records import JarPart, JarReading, Mix, Tin, shelf_of
from tests.app.conftest import settle


def test_a_painters_own_workspace_offers_none_until_asked(open_window):
    window = open_window()
    job = window.job
    assert not is_demo(job.workspace)
    assert all(offered(job.records, kind) is None for kind in Kind)
    window.show_settings()
    ticks = window.station("settings").stand_ins
    assert all(tick.isEnabled() and not tick.isChecked() for tick in ticks.values())
    ticks[Kind.COLOUR_READER].click()
    assert stand_ins(job.workspace) == {Kind.COLOUR_READER}
    assert offered(job.records, Kind.COLOUR_READER).source is Source.STAND_IN
    assert offered(job.records, Kind.CAMERA) is None
    ticks[Kind.COLOUR_READER].click()
    assert offered(job.records, Kind.COLOUR_READER) is None


def test_without_a_reader_no_button_asks_for_one(open_window):
    window = open_window()
    for text in ("New job", "Open finish"):
        next(b for b in window.foot.findChildren(QAbstractButton) if b.text() == text).click()
    window.station("photos").open_step("ways")
    assert window.station("photos").panel("ways").stand.isHidden()
    switch_stand_in(window.job.records, Kind.CAMERA, True)
    window.station("photos").refresh()
    window.station("photos").open_step("ways")
    assert not window.station("photos").panel("ways").stand.isHidden()


def test_the_demo_offers_all(demo):
    assert is_demo(demo.job.workspace)
    assert stand_ins(demo.job.workspace) == frozenset(Kind)
    demo.show_settings()
    assert not any(tick.isEnabled() for tick in demo.station("settings").stand_ins.values())


def test_a_colour_is_typed_only_when_nothing_filled_in_is_left(qapp):
    fields = [QLineEdit() for _ in range(3)]
    told = Told(fields)
    assert told.source() is Source.TYPED
    told.show((50.0, 1.0, -2.0), Source.STAND_IN)
    assert told.source() is Source.STAND_IN
    fields[0].setText("51")
    assert told.source() is Source.STAND_IN  # a made-up colour, bent
    fields[1].setText("2")
    fields[2].setText("3")
    assert told.source() is Source.TYPED
    assert source_words(Source.TYPED) == ""
    assert source_words(Source.STAND_IN)
    assert source_words(Source.UNKNOWN)
    assert source_words("Shed meter") == ""


def tin(name, lab, *more, source=Source.TYPED):
    swatches = (Swatch(kind=SwatchKind.MASSTONE, lab=lab, source=source), *more)
    return Tin(name=name, swatches=swatches)


def test_made_up_swatches_are_no_paint_of_the_shelf():
    white, brown = tin("White", (95.0, 0.0, 2.0)), tin("Brown", (30.0, 10.0, 15.0))
    invented = tin("Invented", (50.0, 0.0, 0.0), source=Source.STAND_IN)
    mix = Swatch(
        kind=SwatchKind.MIX, lab=(60.0, 5.0, 9.0), other="White", other_parts=4.0,
        source=Source.STAND_IN,
    )  # fmt: skip
    brown = tin("Brown", (30.0, 10.0, 15.0), mix)
    shelf, ids = shelf_of([white, brown, invented])
    assert ids == (white.id, brown.id)
    assert [len(paint.swatches) for paint in shelf.paints] == [1, 1]
    all_of_it, ids = shelf_of([white, brown, invented], made_up=True)
    assert ids == (white.id, brown.id, invented.id)
    assert [len(paint.swatches) for paint in all_of_it.paints] == [1, 2, 1]
    # What was kept before sources were still counts: it is marked, not taken away.
    old = tin("Old", (40.0, 3.0, 3.0), source=Source.UNKNOWN)
    assert shelf_of([old])[1] == (old.id,)


@pytest.mark.parametrize(("made_up", "source", "taught"), [
    (False, Source.STAND_IN, False),
    (True, Source.STAND_IN, True),
    (False, Source.PHOTO, True),
])  # fmt: skip
def test_a_made_up_reading_of_a_jar_teaches_only_in_the_demo(made_up, source, taught):
    tins = [tin("White", (95.0, 0.0, 2.0)), tin("Brown", (30.0, 10.0, 15.0))]
    shelf, ids = shelf_of(tins)
    work = ShelfWork(fitted=fit_shelf(shelf), tin_ids=ids, index=None, made_up=made_up)
    parts = tuple(JarPart(tin_id=key, parts=1.0) for key in ids)
    reading = JarReading(lab=(58.0, 6.0, 9.0), parts=parts, read_at="2026-01-01", source=source)
    trials = trials_of(work, [Mix(finish_id="f", parts=parts, readings=(reading,))])
    assert (trials is not None) is taught


def test_a_tin_known_by_a_stand_in_alone_is_shown_and_not_mixed_with(qtbot, open_window):
    window = open_window()
    for text in ("New job", "Open finish"):
        next(b for b in window.foot.findChildren(QAbstractButton) if b.text() == text).click()
    switch_stand_in(window.job.records, Kind.COLOUR_READER, True)
    desk = window.job.shelf
    desk.put_tin(tin("White", (95.0, 0.0, 2.0)))
    invented = tin("Invented", (50.0, 0.0, 0.0), source=Source.STAND_IN)
    desk.put_tin(invented)
    window.go_to("jars")
    desk.work()
    settle(qtbot, window)
    assert desk.work().number_of(invented.id) is None
    window.station("jars")._open_paints()
    window.station("jars").paints.choose(invented.id)
    assert "not mixed with" in window.station("jars").paints._panel._how.text()
    assert "made up" in window.station("jars").paints._swatch_rows(invented)[0].source
