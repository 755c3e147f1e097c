"""What painters know must come out of the picture; each sentence is a test."""

from dataclasses import replace

import numpy as np
import pytest
from bait.painting import AWAY, CLEAR, FACING, GLANCE, SMALL, at, labs, on, paint, painted, polar, through

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.deposit import Skin, film_um
from diachrom.core.bait.picture import picture
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.regions import Box
from diachrom.core.bait.seen_words import by_place
from diachrom.core.bait.surface import RELIEFS
from diachrom.core.bait.tabled import Kept
from diachrom.core.light.difference import delta_e

FLANK, SPINE, BELLY = (0.5, 0.26), (0.5, 0.01), (0.5, 0.49)


def hue(lab):
    return polar(lab)[2]


def test_blue_sprayed_over_a_yellow_line_is_green_where_they_meet():
    line = on("lateral", "side", box=Box(0.2, 0.9, 0.18, 0.3), soft_mm=1.0)
    seen, _ = painted("primed-white", (line, paint(rav_sitron=1)), (on(coats=1), paint(rav_fjord=1, tynn_medium=1)))
    meeting, beside = at(seen, 0.5, 0.24), at(seen, 0.5, 0.4)
    assert 120 < hue(meeting) < 190
    assert 220 < hue(beside) < 290


def test_fluorescent_yellow_over_a_black_back_is_a_deep_green():
    seen, _ = painted(
        "primed-white", (on("back", "above", coats=3), paint(torv_sot=1)), (on(coats=2), paint(glo_gul=1))
    )
    lightness, _, h = polar(at(seen, *SPINE))
    assert 100 < h < 190
    assert lightness < 40


def test_gold_under_green_sprayed_through_a_net_shines_through_as_a_net_of_gold():
    net = on(coats=3, film_um=14.0, mask=through("net", size_mm=6.0, gap_mm=1.2))
    seen, skin = painted("primed-white", (on(coats=3), paint(perlemor_gull=1)), (net, paint(torv_mose=1)))
    film = film_um(replace(net, number=2), skin)[30:90, 8:18]
    glance = labs(seen, GLANCE)[30:90, 8:18]
    under_thread, in_cell = glance[film < 0.05 * film.max()], glance[film > 0.95 * film.max()]
    assert len(under_thread) > 10
    assert len(in_cell) > 10
    assert under_thread[:, 0].mean() > in_cell[:, 0].mean() + 25
    assert 70 < hue(under_thread.mean(axis=0)) < 105


def test_orange_over_the_yellow_that_went_everywhere_fades_better_than_orange_beside_it():
    """The hue runs from one to the other evenly; beside each other they meet over bare white."""

    def steps(yellow):
        orange = on("belly", "around", box=Box(0, 1, 0.3, 0.5), soft_mm=10.0)
        seen, _ = painted("primed-white", (yellow, paint(rav_gull=1)), (orange, paint(rav_multe=1)))
        return labs(seen)[60, 6:24]

    everywhere = steps(on())
    beside = steps(on("back", box=Box(0, 1, 0.0, 0.24), soft_mm=6.0))
    chroma_between = [np.hypot(row[:, 1], row[:, 2]).min() for row in (everywhere, beside)]
    assert chroma_between[0] > chroma_between[1] + 10


def test_white_under_red_oxide_where_blue_lay_keeps_it_from_going_muddy_and_without_it_it_is():
    blue = (on(), paint(rav_fjord=1))
    oxide = (on(), paint(rav_nype=2, rav_te=1))
    muddy, _ = painted("primed-white", blue, oxide)
    blocked, _ = painted("primed-white", blue, (on(coats=4, film_um=14.0), paint(torv_kritt=1)), oxide)
    bare, _ = painted("primed-white", oxide)
    wanted = at(bare, *FLANK)
    assert delta_e(at(blocked, *FLANK), wanted) < 6
    assert delta_e(at(muddy, *FLANK), wanted) > 20


@pytest.mark.parametrize("state", ["foil-silver", "foil-stamped"])
def test_a_candy_over_foil_keeps_the_flash_and_an_opaque_over_it_does_not(state):
    candy, _ = painted(state, (on(), paint(lykt_rod=1, tynn_medium=6)), (on(coats=1), CLEAR))
    opaque, _ = painted(state, (on(coats=3, film_um=14.0), paint(torv_rogn=1)), (on(coats=1), CLEAR))
    flash = [at(seen, *FLANK, GLANCE)[0] - at(seen, *FLANK, AWAY)[0] for seen in (candy, opaque)]
    assert flash[0] > 25
    assert abs(flash[1]) < 4


def test_a_pearl_over_black_is_vivid_and_over_white_pale():
    black, _ = painted("primed-black", (on(coats=3), paint(perlemor_blaa=1)))
    white, _ = painted("primed-white", (on(coats=3), paint(perlemor_blaa=1)))
    vivid, pale = polar(at(black, *FLANK, GLANCE)), polar(at(white, *FLANK, FACING))
    assert 230 < vivid[2] < 300
    assert vivid[1] > 3 * pale[1]


def test_a_violet_line_half_covered_by_pink_reads_as_two():
    line = on("lateral", "side", box=Box(0.2, 0.9, 0.2, 0.3), soft_mm=0.5, coats=3)
    pink = on("lateral", "side", box=Box(0.2, 0.9, 0.25, 0.3), soft_mm=0.5, coats=3, film_um=14.0)
    seen, _ = painted("primed-white", (line, paint(rav_fiol=1)), (pink, paint(torv_kritt=6, rav_lyng=2)))
    upper, lower = at(seen, 0.5, 0.22), at(seen, 0.5, 0.275)
    assert delta_e(upper, lower) > 25
    assert polar(lower)[0] > polar(upper)[0] + 20


def test_black_reduced_one_to_two_on_the_spine_runs_out_into_the_flanks():
    seen, _ = painted("primed-white", (on("all", "above", coats=2), paint(torv_sot=1, tynn_reducer=2)), shape="pencil")
    down = labs(seen)[60, :24, 0]
    assert down[0] < 25
    assert down[14] > 85
    assert (np.diff(down[:14]) > -0.5).all()


def test_a_plan_on_a_bait_half_as_long_with_scaled_elements_looks_the_same():
    plan = Plan(blank=Blank("minnow", 120))
    layers = (
        on("back", "above", coats=3, mask=through("net", size_mm=4.0)),
        on("flank", "side", mask=through("spots", seed=4)),
        on("all", "side", mask=through("mottle", seed=2), soft_mm=4.0),
    )
    for layer in layers:
        plan = plan.with_layer(layer)
    half = plan.on_blank(Blank("minnow", 60), scaled=True)
    for whole, small in zip(plan.layers, half.layers, strict=True):
        one, other = (
            film_um(layer, Skin(blank.surface((120, 48)), blank.form.landmarks, {}))
            for layer, blank in ((whole, plan.blank), (small, half.blank))
        )
        assert np.abs(one - other).max() < 1e-6
    kept = plan.on_blank(Blank("minnow", 60), scaled=False)
    assert kept.layers == plan.layers


def test_the_second_side_is_the_mirror_of_the_first_unless_it_says_otherwise():
    mottled = on("all", "side", mask=through("mottle", seed=7))
    alike, _ = painted("primed-white", (mottled, paint(torv_bark=1)))
    assert (alike.factors == alike.factors[..., ::-1]).all()
    own, _ = painted("primed-white", (replace(mottled, mirrored=False), paint(torv_bark=1)))
    assert (own.factors != own.factors[..., ::-1]).any()
    left, _ = painted("primed-white", (replace(mottled, sides="left"), paint(torv_bark=1)))
    bare, _ = painted("primed-white")
    assert (left.factors[..., 24:] == bare.factors[..., 24:]).all()
    # But for the edges of scales that face the other side.
    assert np.isclose(left.factors[..., :24], alike.factors[..., :24], atol=1e-6).mean() > 0.95


def test_fog_flies_past_free_edges_and_none_beneath_tape_and_can_be_left_out():
    back = on("back", "around", film_um=8.0, coats=2, soft_mm=1.0)
    sprayed, _ = painted("primed-white", (back, paint(torv_sot=1)))
    taped, _ = painted("primed-white", (replace(back, mask=through("tape")), paint(torv_sot=1)))
    flank = (60, 12)
    assert taped.films_um[0][flank] == 0
    just_outside = sprayed.films_um[0][(60, 8)]
    assert 0.005 < just_outside / 16 < 0.03
    assert 0 < sprayed.films_um[0][flank] < just_outside  # it falls off
    near = on("back", "around", film_um=8.0, coats=2, soft_mm=1.0, distance_mm=30.0)
    closer, _ = painted("primed-white", (near, paint(torv_sot=1)))
    assert closer.films_um[0][flank] < sprayed.films_um[0][flank]
    plan = replace(Plan(blank=Blank("minnow", 110.0)).with_layer(back), fog=False)
    skin = Skin(plan.blank.surface(SMALL), plan.blank.form.landmarks, {})
    without = picture(plan, [paint(torv_sot=1)], skin, Kept())
    assert without.films_um[0][flank] == 0


def test_from_both_shoulders_the_spine_gets_the_sum():
    smooth = {"smooth": tuple(RELIEFS)}
    both, _ = painted("primed-white", (on("all", "shoulder", film_um=10.0, coats=1), paint(torv_sot=1)), **smooth)
    spine = both.films_um[0][60, 0]
    assert spine == pytest.approx(14.1, rel=0.05)  # two halves of 45 degrees
    one_side = (on("all", "shoulder", film_um=10.0, coats=1, sides="left"), paint(torv_sot=1))
    left, _ = painted("primed-white", one_side, **smooth)
    assert left.films_um[0][60, 0] == pytest.approx(7.07, rel=0.08)  # it faces that shoulder a little


def test_what_is_seen_is_said_by_place_and_by_its_surface():
    white, _ = painted("primed-white", (on("back", "above", soft_mm=4.0), paint(torv_sot=1)))
    said = by_place(white, sheen=0.02)
    assert said.startswith("back ")
    assert "black" in said.split(",")[0]
    assert said.endswith("; satin")
    bars = through("bars", size_mm=8.0, gap_mm=8.0, lift_mm=0.0)
    striped, _ = painted("primed-white", (on(film_um=30.0, coats=2, mask=bars), paint(torv_sot=1)))
    assert "flanks near black and white" in by_place(striped, sheen=0.04)
    foil, _ = painted("foil-silver")
    assert by_place(foil, sheen=0.0).endswith("it flashes when it is turned")
    plain, _ = painted("primed-black")
    assert by_place(plain, sheen=0.0) == "black all over; under a gloss"
