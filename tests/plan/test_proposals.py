"""Plans that a master would accept: properties of every proposal, not its text."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jartide.errors import PlanError
from jartide.families import families
from jartide.plan.binder import is_over_thinned
from jartide.plan.facts import read_facts
from jartide.plan.layup import propose_layers
from jartide.plan.layup_table import layup_table
from jartide.plan.propose import begins_pattern, for_piece, propose
from jartide.plan.rules import check
from jartide.plan.school import schools
from jartide.plan.site import Site, Wear, Where, ground_of, substrates
from jartide.plan.step import chains
from jartide.plan.technique import Kind, Product, techniques
from jartide.reading.result import LINE_ROLES, Edge, LayerEdge, Role
from jartide.reading.zones import ZoneKind
from jartide.wording import say

from .conftest import MATERIALS, piece, reading_of

FAMILIES = sorted(set(families()) - {"auto"})
COLOUR = (Kind.BASE, Kind.TEXTURE, Kind.PATTERN, Kind.VEIL)


@st.composite
def sites(draw):
    made, conditions, _ = substrates()
    return Site(
        substrate=draw(st.sampled_from(sorted(made))),
        conditions=tuple(draw(st.sets(st.sampled_from(sorted(conditions)), max_size=3))),
        place=draw(st.sampled_from(list(Where))),
        wear=draw(st.sampled_from(list(Wear))),
        overhead=draw(st.booleans()),
        behind_glass=draw(st.booleans()),
    )


@st.composite
def jobs(draw):
    """A family, how many of its layers, a sheen, one or two pieces, and some choices."""
    family = draw(st.sampled_from(FAMILIES))
    kept = draw(st.integers(1, len(reading_of(family).layers)))
    sheen = draw(st.sampled_from([None, "dead matt", "satin", "gloss"]))
    many = draw(st.integers(1, 2))
    pieces = tuple(
        piece(
            width=draw(st.floats(200, 4000)),
            height=draw(st.floats(200, 3500)),
            count=draw(st.integers(1, 7)),
            name=f"P{number}",
            site=draw(sites()),
        )
        for number in range(many)
    )
    wanted = {}
    for group in layup_table(family).schools:
        if draw(st.booleans()):
            choices = [choice.id for choice in schools()[group].choices]
            wanted[group] = draw(st.sampled_from(choices))
    return family, kept, sheen, pieces, wanted


@given(jobs())
@settings(
    max_examples=150,
    deadline=None,
    derandomize=True,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large],
)
def test_every_proposal_keeps_the_rules_of_the_craft(job):
    family, kept, sheen, pieces, wanted = job
    reading = reading_of(family)
    reading = replace(reading, layers=reading.layers[:kept], sheen=sheen)
    steps = propose(reading, pieces, wanted)
    dark = read_facts(reading).dark
    findings = check(steps, pieces, reading.family, dark=dark)
    assert [f.rule for f in findings if f.grade == "stop"] == []
    known = techniques()
    for one in pieces:
        own = for_piece(steps, one)
        names = [step.technique for step in own]
        kinds = [step.kind for step in own]
        first_coat = next(n for n, step in enumerate(own) if step.lays and step.kind in COLOUR)
        ground = ground_of(one.site)
        # The substrate's own primer, or a stronger one, before the first coat.
        if ground.primer:
            assert ground.primer in names[:first_coat]
        # What the piece asks for as preparation comes before its primer, in the table's order.
        asked = [step.technique for step in ground.steps if step.technique != "dust_off"]
        assert [n for n in names[:first_coat] if n in asked][: len(asked)] == asked
        # Protection by wear and place.
        last = [name for name, kind in zip(names, kinds, strict=True) if kind is Kind.PROTECT]
        if ground.breathes:
            # No film over limewash or damp masonry.
            assert last[-1] == "clear_open" and not {"clear_floor", "clear_outside"} & {*last}
        elif one.site.place is Where.OUTSIDE:
            assert "clear_outside" in last
        elif one.site.wear in (Wear.FLOOR, Wear.WORKTOP, Wear.WET):
            assert "clear_floor" in last
        # A barrier before a wet glaze over what water takes up again.
        soluble = False
        for step in own:
            if soluble and step.product is Product.GLAZE and step.binder == "water":
                pytest.fail(f"{step.technique} drags what lies below")
            soluble = (soluble or known[step.technique].rewets) and step.kind is not Kind.PROTECT
            assert not (one.site.needs_protection and is_over_thinned(step))
        # Several panels are set out before the pattern begins.
        if one.count > 1 and Kind.PATTERN in kinds:
            pattern = next(n for n, s in enumerate(own) if begins_pattern(s))
            assert "set_out" in names[:pattern]
    assert sum(step.technique == "keep_base" for step in steps) == 1
    assert len({step.id for step in steps}) == len(steps)
    # Nothing is laid wet into what lays nothing.
    for chain in chains(steps):
        assert len(chain) == 1 or any(steps[n].lays for n in chain[:-1])


@pytest.mark.parametrize("material", MATERIALS)
def test_each_material_has_a_plan_with_nothing_missing(material):
    reading = reading_of(MATERIALS[material])
    wall = piece(count=3, site=Site(substrate="wood_panel", wear=Wear.TOUCHED))
    steps = propose(reading, (wall,))
    laid = {step.layer for step in steps if step.layer}
    assert {layer.id for layer in reading.layers} <= laid
    places = {id: n for n, id in enumerate(layer.id for layer in reading.layers)}
    order = [places[s.layer] for s in steps if s.kind in (Kind.BASE, Kind.PATTERN) and s.cover_left]
    # In paint order, base first; touches at the end may come back to an earlier colour.
    firsts = [order.index(n) for n in range(len(places)) if n in order]
    assert firsts == sorted(firsts)
    kinds = [step.kind for step in steps]
    ends = [n for n, kind in enumerate(kinds) if kind in COLOUR]
    assert max(n for n, kind in enumerate(kinds) if kind is Kind.PRIME) < min(ends)
    assert min(n for n, kind in enumerate(kinds) if kind is Kind.PROTECT) > max(ends)
    found = check(steps, (wall,), reading.family, dark=read_facts(reading).dark)
    assert [f for f in found if f.grade != "school"] == []
    for step in steps:
        assert "{" not in say(step.name)
        assert all("{" not in say(one) and "None" not in say(one) for one in step.how)


def test_marble_gets_a_veil_after_its_last_veins():
    reading = reading_of("marble")
    names = [step.technique for step in propose(reading, (piece(),))]
    assert names.index("veil") > max(n for n, name in enumerate(names) if "vein" in name)


def test_a_reading_without_a_second_vein_gets_no_second_vein_step():
    reading = reading_of("marble")
    lines = [layer for layer in reading.layers if layer.role in LINE_ROLES]
    assert lines
    none = replace(reading, layers=tuple(x for x in reading.layers if x.role not in LINE_ROLES))
    one = replace(none, layers=(*none.layers, lines[0]))
    for read, count in ((none, 0), (one, 1)):
        names = [step.technique for step in propose(read, (piece(),))]
        assert names.count("vein_feather") == count
        assert ("veil" in names) == (count > 0)


def test_the_measured_direction_and_sizes_are_in_the_steps():
    reading = reading_of("marble")
    facts = read_facts(reading)
    vein = next(s for s in propose(reading, (piece(),)) if s.technique == "vein_feather")
    lines = dict(reading.pattern.lines_by_layer)[vein.layer]
    assert vein.direction_deg == facts.of(vein.layer)["degrees"].value
    assert vein.direction_deg == pytest.approx(facts.direction_deg, abs=12)
    # A feather is about three times as wide as the line it makes.
    assert vein.tool_mm == pytest.approx(3 * lines.width_mm.median.value, abs=0.05)
    assert f"{round(vein.direction_deg) % 180}°" in say(vein.how[0])


def test_schools_decide_between_ways():
    reading = reading_of("verdigris")
    painted = [s.technique for s in propose(reading, (piece(),), {"bloom": "painted"})]
    grown = [s.technique for s in propose(reading, (piece(),), {"bloom": "reaction"})]
    assert "bloom_painted" in painted and "oxidiser" not in painted
    assert grown.index("oxidiser") < grown.index("stop_rinse")


def test_oil_glazes_end_under_an_oil_clear_coat():
    reading = reading_of("marble")
    steps = propose(reading, (piece(),), {"glaze_binder": "oil"})
    after = [s for s in steps if s.kind in (Kind.PATTERN, Kind.VEIL, Kind.PROTECT) and s.lays]
    assert {step.binder for step in after} == {"oil"}


def test_pieces_of_two_substrates_each_get_their_own_primer():
    wood = piece(name="Wood", site=Site(substrate="bare_wood"))
    tile = piece(name="Tile", site=Site(substrate="tile"))
    steps = propose(reading_of("stone"), (wood, tile))
    assert "primer_acrylic" in [s.technique for s in for_piece(steps, wood)]
    assert "primer_bonding" in [s.technique for s in for_piece(steps, tile)]
    assert "primer_bonding" not in [s.technique for s in for_piece(steps, wood)]
    # The finish itself is the same on both.
    shared = [s.id for s in steps if not s.only]
    assert shared == [s.id for s in for_piece(steps, tile) if not s.only]


def test_a_test_board_needs_no_preparation_of_the_building():
    wall = piece(site=Site(substrate="painted", conditions=("flaking", "greasy")))
    board = piece(name="Board", board=True)
    steps = propose(reading_of("leather"), (wall, board))
    kinds = {step.kind for step in for_piece(steps, board)}
    assert not kinds & {Kind.PRIME, Kind.TEST, Kind.PREPARE, Kind.SET_OUT, Kind.CLEAN}
    assert kinds & set(COLOUR)


def test_behind_glass_is_reversed_and_mirrored():
    reading = reading_of("marble")
    front = propose(reading, (piece(site=Site(substrate="glass")),))
    back = propose(reading, (piece(site=Site(substrate="glass", behind_glass=True)),))
    seen = [s.technique for s in front if s.kind in COLOUR and s.lays]
    turned = [s.technique for s in back if s.kind in COLOUR and s.lays]
    assert turned[-1] == "base_roller" and seen[0] == "base_roller"
    assert turned[0] == "veil"
    assert [s.kind for s in back].index(Kind.PRIME) < [s.technique for s in back].index("veil")
    a = next(s for s in front if s.technique == "vein_feather")
    b = next(s for s in reversed(back) if s.technique == "vein_feather")
    assert b.direction_deg == pytest.approx((180 - a.direction_deg) % 180)
    assert "Mirrored" in say(b.how[-1])


def test_a_zone_of_another_family_gets_its_own_lay_up_and_a_zone_its_share():
    from jartide.reading.result import ZoneReading
    from jartide.reading.trust.measured import Measured

    marble, wood = reading_of("marble"), reading_of("wood")
    covers = tuple(Measured(value=min((x.coverage.value or 0) + 0.4, 1)) for x in marble.layers)
    frame = ZoneReading(
        name="Frame", kind=ZoneKind.OTHER, family="wood", share=0.2, coverages=(),
        layers=wood.layers, pattern=wood.pattern,
    )  # fmt: skip
    edges = ZoneReading(
        name="Edge", kind=ZoneKind.EDGES, family="marble", share=0.1, coverages=covers,
        layers=(), pattern=marble.pattern,
    )  # fmt: skip
    steps = propose(replace(marble, zones=(frame, edges)), (piece(),))
    own = [s for s in steps if s.zone == "Frame"]
    assert own[0].technique == "mask"
    assert {"toning", "base_roller"} <= {s.technique for s in own}
    # Amounts follow the zone's part of the surface.
    assert next(s for s in own if s.technique == "base_roller").laid_share == pytest.approx(0.2)
    ground = next(s for s in steps if s.technique == "base_roller" and not s.zone)
    assert any("On Edge" in say(one) for one in ground.how)


def test_crackle_is_drawn_where_the_ground_gives_way():
    steps = propose(reading_of("crackle"), (piece(site=Site(substrate="cloth")),))
    assert not any(step.product is Product.CRACKLE for step in steps)


def test_without_a_surface_there_is_nothing_to_plan():
    with pytest.raises(PlanError, match="no surface to plan for"):
        propose(reading_of("stone"), ())


def met(reading, edge, width_mm=9.0):
    """The reading as if each layer met the ground in one way."""
    edges = tuple(
        LayerEdge(
            upper=layer.id, lower=reading.layers[0].id, edge=edge, share=0.5, width_mm=width_mm
        )
        for layer in reading.layers[1:]
    )
    return replace(reading, edges=edges)


def test_blended_layers_are_laid_wet_into_what_lies_below(any_reading):
    if any_reading.family == "auto":
        pytest.skip("said of a named family")
    areas = [layer for layer in any_reading.layers[1:] if layer.role in (Role.CLOUD, Role.PATCH)]
    painted = {"rust": "painted", "bloom": "painted"}
    clear = propose_layers(met(any_reading, Edge.CLEAR), painted)
    blended = propose_layers(met(any_reading, Edge.BLENDED), painted)
    assert not [step for step in clear if step.technique == "blend_wet"]
    found = [step for step in blended if step.technique == "blend_wet"]
    assert len(found) == len(areas)
    for step in found:
        before = blended[blended.index(step) - 1]
        assert step.wet and before.layer == step.layer
        assert "9.0 mm" in " ".join(say(words) for words in step.how)


def test_a_film_is_glazed_on_and_nothing_else_is_laid_for_it(any_reading):
    steps = propose_layers(met(any_reading, Edge.FILM))
    for layer in any_reading.layers[1:]:
        own = [step.technique for step in steps if step.layer == layer.id and step.lays]
        assert own.count("thin_over") == 1
        assert not {"tones_dab", "veins_brush", "sponge_on"} & set(own)


@pytest.mark.parametrize("cover", [0.2, 0.8])
def test_the_painters_way_with_mottle_goes_before_how_much_it_covers(cover):
    reading = reading_of("stone")
    ground, *others = reading.layers
    clouds = [replace(one, role=Role.CLOUD, coverage=replace(one.coverage, value=cover))
              for one in others[:1]]  # fmt: skip
    reading = replace(reading, layers=(ground, *clouds))
    laid = {
        way: [step.technique for step in propose_layers(reading, {"mottle": way})]
        for way in ("on", "off")
    }
    assert laid["on"] != laid["off"]
    usual = [step.technique for step in propose_layers(reading)]
    assert usual == laid["off" if cover > 0.5 else "on"]


def test_lighter_is_lighter_whatever_the_hue():
    reading = reading_of("wood")
    ground, other = reading.layers[0], replace(reading.layers[1], role=Role.CLOUD)
    for hue in (-40.0, 0.0, 60.0):
        for lightness, way in ((80.0, "lime_wipe"), (20.0, "cloud_lift")):
            layers = (
                replace(ground, shown_lab=(50.0, 0.0, 10.0)),
                replace(other, shown_lab=(lightness, hue, 10.0)),
            )
            steps = propose_layers(replace(reading, layers=layers, edges=()))
            assert way in [step.technique for step in steps], (hue, lightness)
