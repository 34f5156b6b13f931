"""The Jars station: mixes found, taken, mixed, read, corrected; paints seen to."""

from __future__ import annotations

from dataclasses import replace

import pypdfium2
import pytest
from PySide6.QtCore import Qt

from jartide.app.stations.jars.film_view import FilmView
from jartide.app.stations.jars.label_file import write_label
from jartide.app.stations.jars.match_view import MatchView
from jartide.app.stations.jars.recipe_view import RecipeView
from jartide.app.stations.jars.tin_panel import TinPanel
from jartide.devices.source import Source
from jartide.job import standing
from jartide.job.labels import label_of
from jartide.job.shelf_files import add_starter, export_files, import_file
from jartide.job.words.jars import amount_words, parts_words
from jartide.store.jar_records import JarUse
from jartide.wording import say, tr
from tests.app.conftest import settle
from tests.app.hand import field, foot_pressed, items, picked, pressed, the, typed, words_of
from tests.photo.test_spread import jpeg_of


@pytest.fixture
def jars(qtbot, demo):
    finish = next(f for _, fs in demo.job.records.jobs() for f in fs if f.name == "Bar front")
    demo.open_finish(finish.id)
    demo.go_to("jars")
    settle(qtbot, demo)
    qtbot.waitUntil(lambda: demo.job.shelf.work() is not None, timeout=60_000)
    settle(qtbot, demo)
    return demo


def settled(qtbot, window):
    settle(qtbot, window)
    settle(qtbot, window)


def test_each_layer_has_its_jar_and_says_how_near_it_comes(jars):
    station = jars.station("jars")
    assert len(station.job.jars.states()) == len(jars.job.readings.of_target().layers)
    names = [state.mix.name for state in station.job.jars.states()]
    assert names[0].endswith(" ground")
    assert standing.of_jars(jars.job).note == "3 of 4 mixed"
    assert all(state.shown is not None for state in station.job.jars.states()[:3])
    assert station.job.jars.states()[0].shown.de00 < 3
    ground = station.job.jars.states()[0]
    assert ground.needed_ml == pytest.approx(820, abs=40)


def test_a_mix_is_found_taken_mixed_and_undone(qtbot, jars):
    station = jars.station("jars")
    last = station.job.jars.states()[-1]
    station.choose(last.mix.id)
    settled(qtbot, jars)
    assert jars.foot.shown.actions[-1].text == "Take this mix"
    found = station.candidates()
    assert found[-1].de00 <= found[0].de00
    jars.foot.press_primary()
    settled(qtbot, jars)
    taken = station.current()
    assert taken.mix.layer == last.mix.layer
    assert len(taken.mix.parts) == len(found[-1].parts)
    assert taken.shown.de00 == pytest.approx(found[-1].de00, abs=1e-6)
    before = {tin.id: tin.stock.left_ml for tin in station.job.shelf.tins()}
    jars.foot.press_primary()  # it is mixed
    settled(qtbot, jars)
    assert station.current().mix.mixed_ml == station.current().needed_ml
    assert standing.of_jars(jars.job).note == "4 of 4 mixed"
    after = {tin.id: tin.stock.left_ml for tin in station.job.shelf.tins()}
    mix = station.current().mix
    for part in mix.parts:
        if before[part.tin_id] is not None:
            gone = mix.mixed_ml * part.parts / mix.total
            assert after[part.tin_id] == pytest.approx(max(before[part.tin_id] - gone, 0))
    jars.job.history.undo()
    assert {tin.id: tin.stock.left_ml for tin in station.job.shelf.tins()} == before
    jars.job.history.undo()
    settled(qtbot, jars)
    assert standing.of_jars(jars.job).note == "3 of 4 mixed"


def test_other_mixes_are_looked_at_by_keys_and_limits_change_them(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[-1].mix.id)
    settled(qtbot, jars)
    match = the(station, MatchView)
    qtbot.keyClick(match, Qt.Key.Key_Left)
    found = station.candidates()
    assert parts_words([p.parts for p in found[-2].parts]) in match.accessibleName()
    picked(station, tr("jars.most_paints"), 2)
    settled(qtbot, jars)
    assert all(len(recipe.parts) <= 2 for recipe in station.candidates())
    picked(station, tr("jars.which_tins"), "own_black")
    settled(qtbot, jars)
    names = station.job.shelf.work().fitted.shelf.names()
    used = {names[p.paint] for recipe in station.candidates() for p in recipe.parts}
    assert not used & {"Lamp black", "Iron black"}


def test_a_jar_can_be_a_glaze_in_either_school(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[3].mix.id)
    for way, wet in (("glaze", False), ("glaze_water", True)):
        picked(station, tr("jars.how"), way)
        settled(qtbot, jars)
        found = station.candidates()
        assert all(glaze.carrier >= 1 and (glaze.water > 0) is wet for glaze in found)
    the(station, MatchView).picked.emit(len(found) - 1)
    jars.foot.press_primary()
    settled(qtbot, jars)
    mix = station.current().mix
    assert mix.carrier == found[-1].carrier
    assert mix.water == found[-1].water
    assert station.current().shown.ladder


def test_a_read_jar_says_what_to_add_and_teaches(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[2].mix.id)
    settled(qtbot, jars)
    before = station.current().shown.uncertainty_de00
    # The jar is half full: the rest can be mixed, or what is there be read.
    assert [a.text for a in jars.foot.shown.actions[-2:]] == ["Read the jar", "It is mixed"]
    jars.foot.shown.actions[-2].run()
    pressed(station.trial, tr("trial.use"))
    assert "check what was read" in jars.foot.shown.text
    target = station.current().mix.target
    station.trial.panel.show_lab((target[0] + 4, target[1], target[2]), Source.PHOTO)
    pressed(station.trial, tr("trial.use"))
    settled(qtbot, jars)
    assert "\nAdd " in words_of(station.trial)
    assert station.current().shown.uncertainty_de00 <= before
    assert station.current().shown.de00 > 1.5
    typed(station.trial, tr("trial.parts"), "3 : 1")
    pressed(station.trial, tr("trial.use"))
    assert "numbers with colons" in jars.foot.shown.text
    station.escape()
    assert station.trial.isHidden()


def test_the_reader_reads_the_jar_again_the_same_way(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[1].mix.id)
    foot_pressed(jars, tr("jars.read_jar"))
    read = [field(station.trial, tr(f"colour.{axis}")) for axis in "Lab"]
    pressed(station.trial, tr("trial.reader"))
    first = [one.text() for one in read]
    pressed(station.trial, tr("trial.reader"))
    assert [one.text() for one in read] == first
    assert float(first[0]) == pytest.approx(station.current().shown.lab[0], abs=5)


def test_a_veil_is_computed_from_the_grounds_mix(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[3].mix.id)
    pressed(station, tr("veil.open"))
    typed(station, tr("veil.contrast"), "20")
    assert any(f"leave {left}" in words_of(station) for left in (20, 21))
    assert the(station, FilmView).isHidden()
    typed(station, tr("veil.contrast"), "90")
    assert "only lowers contrast" in jars.foot.shown.text
    pressed(station, tr("veil.open"))


def test_amounts_follow_area_and_laid_share(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[2].mix.id)
    before = station.current().needed_ml
    typed(station.passes.panel, tr("batch.laid"), "80")
    settled(qtbot, jars)
    assert station.current().needed_ml > 1.5 * before
    assert station.current().mix.uses[0].laid_share == pytest.approx(0.8)
    jars.job.history.undo()
    settled(qtbot, jars)
    assert station.current().needed_ml == before


def test_a_label_holds_the_recipe(qtbot, jars, tmp_path):
    station = jars.station("jars")
    state = station.job.jars.states()[1]
    write_label(tmp_path / "label.pdf", jars.job, state)
    page = pypdfium2.PdfDocument(tmp_path / "label.pdf")[0]
    text = page.get_textpage().get_text_range()
    names = {tin.id: tin.name for tin in station.job.shelf.tins()}
    assert state.mix.name in text
    assert "Hotel Vessary" in text
    assert all(names[part.tin_id] in text for part in state.mix.parts)
    assert page.get_size() == pytest.approx((90 * 72 / 25.4, 60 * 72 / 25.4), abs=0.5)
    write_label(tmp_path / "no" / "label.pdf", jars.job, state)
    assert "label.pdf" in jars.foot.shown.text


def test_paints_are_added_read_doubted_and_removed(qtbot, jars):
    station = jars.station("jars")
    foot_pressed(jars, tr("jars.my_paints"))
    page = station.paints
    count = len(station.job.shelf.tins())
    foot_pressed(jars, tr("paints.new"))
    settled(qtbot, jars)
    assert page.current().masstone is None
    pressed(page, tr("tin.keep_swatch"))
    assert "L, a and b" in jars.foot.shown.text
    typed(page, tr("tin.hex"), "#8a7f6a")
    pressed(page, tr("tin.keep_swatch"))
    settled(qtbot, jars)
    assert page.current().masstone[0] == pytest.approx(53.4, abs=0.5)
    typed(page, tr("tin.hex"), "")
    picked(page, tr("tin.painted_as"), ("mix", "Titanium white"))
    the(page, TinPanel).show_lab((80.0, 1.0, 8.0), Source.PHOTO)
    pressed(page, tr("tin.keep_swatch"))
    settled(qtbot, jars)
    qtbot.waitUntil(lambda: station.job.shelf.work() is not None, timeout=60_000)
    assert len(page.current().swatches) == 2
    the(page, TinPanel).swatch_doubted.emit(1, True)
    assert page.current().swatches[1].left_out
    typed(page, tr("stock.left_ml"), "lots")
    assert "Left, ml must be a number" in jars.foot.shown.text
    # A sentence is put away first, then the page itself.
    assert page.escape() and not page.escape()
    pressed(page, tr("tin.remove"))
    assert len(station.job.shelf.tins()) == count
    assert page.foot_state().text.endswith("on the shelf.")
    station.escape()


def test_a_tin_in_the_shop_is_judged_and_not_mixed_with(qtbot, jars):
    from jartide.paint.shelf import Swatch, SwatchKind
    from jartide.store.jar_records import Tin

    station = jars.station("jars")
    station.choose(station.job.jars.states()[3].mix.id)
    settled(qtbot, jars)
    shop = Tin(
        name="Shop sample",
        owned=False,
        swatches=(Swatch(kind=SwatchKind.MASSTONE, lab=(60.0, -10.0, 12.0)),),
    )
    station.job.shelf.put_tin(shop)
    foot_pressed(jars, tr("jars.my_paints"))
    station.paints.choose(shop.id)
    pressed(station.paints, tr("tin.judge"))
    settled(qtbot, jars)
    said = "Without it, from your shelf"
    qtbot.waitUntil(lambda: said in words_of(station.paints), timeout=30_000)
    assert shop.id not in station.job.shelf.work().tin_ids
    station.escape()


def test_import_brings_known_tins_up_to_date_and_says_what_is_wrong(qtbot, jars, tmp_path):
    shelf = jars.job.shelf
    out = tmp_path / "shelf.csv"
    export_files(shelf, out)
    count = len(shelf.tins())
    stock = tmp_path / "shelf-stock.csv"
    stock.write_text(
        stock.read_text(encoding="utf-8").replace("Raw sienna,paint", "Raw sienna,stain"),
        encoding="utf-8",
    )
    import_file(shelf, stock)
    settled(qtbot, jars)
    assert len(shelf.tins()) == count
    assert next(t for t in shelf.tins() if t.name == "Raw sienna").stock.kind == "stain"
    out.write_text(out.read_text(encoding="utf-8").replace("opaque", "solid"), encoding="utf-8")
    import_file(shelf, out)
    assert "column opacity" in jars.foot.shown.text
    jars.job.history.undo()
    settled(qtbot, jars)
    assert next(t for t in shelf.tins() if t.name == "Raw sienna").stock.kind == "paint"


def test_an_empty_shelf_offers_the_starter_shelf(qtbot, open_window):
    window = open_window()
    foot_pressed(window, tr("jobs.new_job"))
    window.open_finish(window.station("jobs").chosen_finish().id)
    window.go_to("jars")
    settle(qtbot, window)
    assert window.foot.shown.text == "There are no layers yet."
    station = window.station("jars")
    add_starter(station.job.shelf)
    settle(qtbot, window)
    qtbot.waitUntil(lambda: station.job.shelf.work() is not None, timeout=60_000)
    assert len(station.job.shelf.work().tin_ids) == 26
    assert all(tin.approximate for tin in station.job.shelf.tins())
    tin = station.job.shelf.tins()[0]
    station.job.shelf.put_tin(replace(tin, name="My white"))
    assert station.job.shelf.tins()[0].name == "My white"


@pytest.mark.parametrize(
    ("ml", "units", "words"),
    [
        (84, "ml", "84 ml"),
        (437, "ml", "440 ml"),
        (15, "metric", "1 tablespoon"),
        (38, "metric", "2½ tablespoons"),
        (250, "metric", "1 cup"),
        (100, "grams", "130 g"),
    ],
)
def test_amounts_in_the_painters_measures(ml, units, words):
    assert amount_words(ml, units) == words


def test_paints_of_a_mix_are_kept_or_left_out(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[2].mix.id)
    settled(qtbot, jars)
    names = station.job.shelf.work().fitted.shelf.names()
    called = {tin.id: tin.name for tin in station.job.shelf.tins()}
    own = [called[part.tin_id] for part in station.current().mix.parts]
    words = items(station, tr("jars.which_tins"))
    # Every paint of the recipe can be kept or left out.
    assert own and {f"with {name}" for name in own} <= set(words)
    assert {f"without {name}" for name in own} <= set(words)
    held = own[0]
    picked(station, tr("jars.which_tins"), f"without {held}")
    settled(qtbot, jars)
    assert all(held not in [names[p.paint] for p in r.parts] for r in station.candidates())
    assert station.limits.tins.currentText() == f"without {held}"
    picked(station, tr("jars.which_tins"), f"with {held}")
    settled(qtbot, jars)
    assert all(held in [names[p.paint] for p in r.parts] for r in station.candidates())


def test_what_is_left_of_a_jar_is_noted(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[0].mix.id)
    foot_pressed(jars, tr("jars.read_jar"))
    typed(station.trial, tr("trial.left"), "310")
    assert station.current().mix.left_ml == 310
    jars.job.history.undo()
    assert station.current().mix.left_ml == 830
    station.escape()


def test_a_ladder_is_read_from_one_photo(qtbot, jars, tmp_path):
    from jartide.paint.shelf import PHOTO_NOISE
    from jartide.studio.snapshot import take_snapshot
    from tests.photo.snapshots import camera, shot_of
    from tests.photo.test_swatches import strips

    station = jars.station("jars")
    foot_pressed(jars, tr("jars.my_paints"))
    page = station.paints
    tin = next(t for t in station.job.shelf.tins() if t.name == "Burnt umber")
    page.choose(tin.id)
    pressed(page, tr("tin.lessons"))
    qtbot.waitUntil(lambda: bool(page.to_paint), timeout=60_000)
    wanted = page.to_paint
    shot = shot_of(card_at_mm=(20.0, 10.0), tilt_deg=6.0, falloff=0.04)
    photo = tmp_path / "ladder.jpg"
    photo.write_bytes(take_snapshot(strips([s.lab for s in wanted]), shot, 3, camera()).jpeg)
    page.read_ladder(photo)
    settled(qtbot, jars)
    read = page.current().swatches[len(tin.swatches) :]
    assert [s.kind for s in read] == [s.kind for s in wanted]
    assert all(s.noise == PHOTO_NOISE for s in read)
    assert read[0].lab[0] == pytest.approx(wanted[0].lab[0], abs=6)
    station.escape()


def test_a_mix_serves_several_passes(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[0].mix.id)
    once = station.current().amount.needed.laid_ml
    picked(station, tr("batch.passes"), "one more pass")
    settled(qtbot, jars)
    # The plan's passes become the painter's own, and one is added: area at ten m2 a litre.
    more = 1000 * station.job.plan.area_m2() / 10
    assert station.current().amount.needed.laid_ml == pytest.approx(once + more, rel=0.01)
    assert station.passes.list.currentText() == "pass 3 of 3"
    typed(station.passes.panel, tr("batch.laid"), "50")
    assert station.current().amount.needed.laid_ml == pytest.approx(once + more / 2, rel=0.01)
    picked(station, tr("batch.passes"), "without pass 3")
    assert station.current().amount.needed.laid_ml == pytest.approx(once)


def test_the_reader_reads_the_swatch_that_was_painted(qtbot, jars):
    station = jars.station("jars")
    foot_pressed(jars, tr("jars.my_paints"))
    page = station.paints
    tin = next(t for t in station.job.shelf.tins() if t.name == "Raw umber")
    page.choose(tin.id)
    with_white = next(s for s in tin.swatches if s.other == "Titanium white")
    lightness = field(page, tr("colour.L"))
    panel = the(page, TinPanel)
    panel.reader_wanted.emit(("masstone", "", None, None, None, None))
    assert float(lightness.text()) == pytest.approx(tin.masstone[0], abs=1)
    panel.reader_wanted.emit(("mix", "Titanium white", 1.0, 4.0, None, None))
    assert float(lightness.text()) == pytest.approx(with_white.lab[0], abs=1.5)
    panel.reader_wanted.emit(("mix", "Titanium white", 0.0, 4.0, None, None))
    assert "parts above 0" in jars.foot.shown.text
    station.escape()


def test_a_strong_paint_is_let_down_first_where_a_part_is_too_much(qtbot, jars):
    station = jars.station("jars")
    state = station.job.jars.states()[3]
    # A white with a trace of colour: no mix of a dozen parts comes near.
    wishes = station.limits.wishes(jars.job.shelf.work(), jars.job.records.tins())
    jars.job.shelf.candidates((92.0, 3.0, 9.0), wishes)
    settled(qtbot, jars)
    best, *plain = jars.job.shelf.candidates((92.0, 3.0, 9.0), wishes)
    assert best.let_down is not None and best.de00 < plain[0].de00 - 0.4
    mix = jars.job.shelf.filled(state.mix, best)
    station.job.jars.put(mix, "x")
    station.choose(station.job.jars.states()[3].mix.id)
    settled(qtbot, jars)
    own = station.current()
    rows = the(station, RecipeView).accessibleName()
    assert "let down" in rows and "First a small jar: 1 " in rows
    small = next(part for part in own.mix.parts if part.let_down)
    assert small.parts < 1
    # Whole parts in the jar's face, on its label and on the sheet.
    label = label_of(jars.job.records, own, jars.job.shelf)
    assert all("," not in count and "." not in count for count, _ in label.parts)
    assert any("First a small jar" in line for line in label.lines)
    layers = jars.job.sheet.content().layers
    told = next(one for one in layers if one.name == say(own.layer.name))
    assert "let down" in told.recipe and any("small jar" in words for words in told.told)
    # What is shopped for and taken from the tins is what is really in it.
    station.job.jars.mixed(own.mix, 120.0)
    assert station.job.jars.states()[3].mix.mixed_ml == 120.0
    assert sum(p.parts for p in own.mix.parts) == pytest.approx(own.mix.total)


def test_no_mix_is_smaller_than_its_parts_can_be_measured_but_an_accent(qtbot, jars):
    station = jars.station("jars")
    state = station.job.jars.states()[1]
    tiny = (JarUse(area_m2=0.01, laid_share=0.05),)
    station.job.jars.put(replace(state.mix, uses=tiny), "x")
    station.choose(state.mix.id)
    settled(qtbot, jars)
    own = station.current()
    least = sum(p.parts for p in own.mix.parts) / min(p.parts for p in own.mix.parts)
    assert own.amount.least_ml == pytest.approx(least)
    assert own.needed_ml >= own.amount.least_ml
    assert "can't be measured" in words_of(station.passes.panel)
    by_layer = {a.ware.layer: a for a in jars.job.amounts.wares()}
    assert by_layer[own.mix.layer].mixed_ml == own.needed_ml
    pressed(station.passes.panel, tr("batch.accent"))
    settled(qtbot, jars)
    assert station.current().mix.accent and station.current().needed_ml == 10
    # What is wanted anyway is no least, also where both round up to the same.
    assert not station.current().amount.is_raised
    just_over = (JarUse(area_m2=0.1, laid_share=1.0, spreading_m2_per_l=12.0),)
    station.job.jars.put(replace(station.current().mix, accent=False, uses=just_over), "x")
    settled(qtbot, jars)
    own = station.current()
    assert own.needed_ml == 20 and own.amount.least_ml == 11 and not own.amount.is_raised
    assert "can't be measured" not in words_of(station.passes.panel)


def test_a_paste_is_kept_with_its_batch_and_told_what_it_lacks(qtbot, jars):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[0].mix.id)
    settled(qtbot, jars)
    jars.foot.shown.actions[-1].run()
    paste = station.trial.paste
    pressed(paste, tr("paste.keep"))
    assert jars.foot.shown.text == tr("paste.lacking")
    true = 70.0
    station.trial.paste.show_spread(true)
    pressed(paste, tr("paste.keep"))
    settled(qtbot, jars)
    (look,) = station.current().mix.spreads
    assert look.diameter_mm == pytest.approx(true, abs=0.06) and look.powder_ml == 0
    said = words_of(paste)
    assert "It levels" in said and "of powder" in said and "mm wide" in said
    # Powder went in, it lies narrower: it stands.
    typed(paste, tr("paste.diameter"), "48")
    typed(paste, tr("paste.powder_in"), "80")
    pressed(paste, tr("paste.keep"))
    settled(qtbot, jars)
    assert len(station.current().mix.spreads) == 2
    assert "It stands" in words_of(paste) and tr("paste.right") in words_of(paste)
    layers = jars.job.sheet.content().layers
    assert "A level 15 ml spoonful lies 48 mm wide." in layers[0].told
    jars.job.history.undo()
    assert len(station.job.jars.states()[0].mix.spreads) == 1
    typed(paste, tr("paste.diameter"), "4000")
    pressed(paste, tr("paste.keep"))
    assert "measure both again" in jars.foot.shown.text


def test_a_pat_is_read_from_a_photo_beside_the_card(qtbot, jars, tmp_path):
    station = jars.station("jars")
    station.choose(station.job.jars.states()[0].mix.id)
    settled(qtbot, jars)
    jars.foot.shown.actions[-1].run()
    jpeg, true = jpeg_of(55.0, pat=0.2, seed=55)
    (tmp_path / "pat.jpg").write_bytes(jpeg)
    station.trial.read_paste_photo(tmp_path / "pat.jpg")
    settled(qtbot, jars)
    typed_mm = float(field(station.trial.paste, tr("paste.diameter")).text())
    assert typed_mm == pytest.approx(true, rel=0.03)
