"""The picture as a whole: equal to the strip where it must be, the same again, and reckoned only where it changed."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from bait.painting import SMALL, at, on, paint, painted, through

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.coated import Painted
from diachrom.core.bait.deposit import Skin
from diachrom.core.bait.masks import MASKS, opening
from diachrom.core.bait.picture import picture
from diachrom.core.bait.plan import MOST_LAYERS, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.tabled import Kept
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.strip import Over, strip
from diachrom.demo.paints import PAINTS
from diachrom.errors import InvalidInput

REFERENCE = Path(__file__).parents[1] / "reference"
PAINT = {paint.id: paint.profile() for paint in PAINTS}


@pytest.mark.parametrize("key", ["rav-fjord", "torv-rogn", "lykt-gul", "glo-oransje"])
def test_a_plain_blank_with_one_layer_equals_the_strip_of_the_mix(key):
    seen, _ = painted("primed-white", (on(film_um=8.0, coats=2), paint(**{key: 1})))
    shown = strip(
        Cup([Pour(PAINT[key], 10)]),
        film_um=8.0,
        coats=4,
        over=[Over.bare(GROUNDS["white"])],
        sheen=0.0,
        under=light("D65"),
    )
    assert delta_e(at(seen, 0.5, 0.25), shown.columns[0].after(2).diffuse.lab) < 0.3


def test_white_over_an_unsealed_candy_is_pink_and_over_a_sealed_one_white():
    white = (on(coats=3, film_um=14.0), paint(torv_kritt=1))
    open_, _ = painted("primed-white", (on(), paint(lykt_rod=1)), white)
    shut, _ = painted("primed-white", (on(), paint(lykt_rod=1, sealed=True)), white)
    assert at(open_, 0.5, 0.25)[1] > 12
    assert at(shut, 0.5, 0.25)[1] < 6
    # Where no candy lies there is nothing that could rise.
    belly, _ = painted("primed-white", (on("back", "above", soft_mm=1.0), paint(lykt_rod=1)), white)
    assert at(belly, 0.5, 0.45)[1] < 4


def openings():
    """Of every random mask: how open each of 6 x 4 parts of a bait is."""
    skin = Skin(Blank("minnow", 110).surface(SMALL), Blank().form.landmarks, {})
    place, box = skin.surface.fine_places, REGIONS["flank"].box(skin.landmarks)
    found = {}
    for key in sorted(MASKS):
        if MASKS[key].random:
            open_ = opening(through(key, seed=11), place, box)
            found[key] = open_.reshape(6, 60, 4, 36).mean(axis=(1, 3)).round(4).tolist()
    return found


def test_the_same_seed_gives_the_same_picture_on_any_machine():
    drawn = json.loads((REFERENCE / "masks.json").read_text(encoding="utf-8"))
    now = openings()
    assert now.keys() == drawn.keys()
    for key, values in drawn.items():
        assert np.allclose(now[key], values, atol=2e-3), key
    other = opening(through("mottle", seed=12), *_places())
    assert (other != opening(through("mottle", seed=11), *_places())).any()


def _places():
    skin = Skin(Blank("minnow", 110).surface(SMALL), Blank().form.landmarks, {})
    return skin.surface.fine_places, REGIONS["flank"].box(skin.landmarks)


def test_a_layer_under_the_one_that_changed_is_not_reckoned_anew():
    kept = Kept()
    layers = [
        (on("belly", "below"), paint(torv_kritt=1)),
        (on("flank", "side"), paint(rav_gull=1)),
        (on("back", "above", mask=through("net")), paint(rav_gran=1)),
        (on("spine", "above"), paint(torv_sot=1)),
    ]
    first, _ = painted("primed-white", *layers, kept=kept)
    assert kept.reckoned == 4
    again, _ = painted("primed-white", *layers, kept=kept)
    assert kept.reckoned == 4
    assert (again.factors == first.factors).all()
    top = [*layers[:3], (replace(layers[3][0], coats=4), layers[3][1])]
    painted("primed-white", *top, kept=kept)
    assert kept.reckoned == 5
    middle = [layers[0], (replace(layers[1][0], coats=4), layers[1][1]), *layers[2:]]
    painted("primed-white", *middle, kept=kept)
    assert kept.reckoned == 8


def test_what_takes_away_takes_what_it_says():
    red, clear = paint(torv_rogn=1), paint(tynn_medium=1)
    dirty = (on(), red)
    bare, _ = painted("foil-silver")
    rubbed, _ = painted("foil-silver", dirty, (replace(on("all"), what="rub"), red))
    assert np.abs(rubbed.factors - bare.factors).max() < 1e-4
    varnish = (replace(on(coats=1), what="varnish"), clear)
    saved, _ = painted("primed-white", (on(), paint(rav_gull=1)), varnish)
    swabbed, _ = painted("primed-white", (on(), paint(rav_gull=1)), varnish, dirty, (replace(on(), what="swab"), red))
    assert np.abs(swabbed.factors - saved.factors).max() < 1e-4
    wash = (replace(on(coats=1), what="wash", mask=through("wash", amount=0.9)), paint(torv_sot=1))
    washed, skin = painted("primed-white", wash)
    recess = skin.surface.recess
    film = washed.films_um[0]
    assert film[recess > 0.9].mean() > 3 * film[recess < 0.3].mean()


def test_foil_laid_as_a_layer_hides_what_is_beneath_it_and_nothing_else():
    foil = (replace(on("flank"), what="foil", mask=through("tape")), Painted(ground=GROUNDS["silver-foil"]))
    seen, _ = painted("primed-white", (on(), paint(torv_sot=1)), foil)
    assert at(seen, 0.5, 0.25, 0)[0] > 80
    assert at(seen, 0.5, 0.45, 0)[0] < 30


@pytest.mark.parametrize("way", [way for way in MASKS if way != "stencil"])
def test_every_mask_lets_something_through_and_covers_something_unless_it_is_none(way):
    skin = Skin(Blank("minnow", 110).surface(SMALL), Blank().form.landmarks, {})
    place, box = skin.surface.fine_places, REGIONS["all"].box(skin.landmarks)
    open_ = opening(through(way), place, box)
    assert 0 <= open_.min() <= open_.max() <= 1
    assert 0.01 < open_.mean() <= 1
    assert (open_.mean() == 1) == (way in ("free", "tape", "wash"))
    assert np.allclose(open_ + opening(through(way, turned=True), place, box), 1)


def test_a_mask_that_covers_all_or_nothing_and_a_plan_that_is_too_high_are_met_plainly():
    nothing = on(mask=through("spots", size_mm=0.1, gap_mm=60.0))
    seen, _ = painted("primed-white", (nothing, paint(torv_sot=1)))
    bare, _ = painted("primed-white")
    assert np.abs(seen.factors - bare.factors).mean() < 0.01
    plan = Plan()
    for _ in range(MOST_LAYERS):
        plan = plan.with_layer(on())
    with pytest.raises(InvalidInput, match="at most 40 layers"):
        plan.with_layer(on())
    skin = Skin(plan.blank.surface((24, 12)), plan.blank.form.landmarks, {})
    whole = picture(plan, [paint(rav_gull=1)] * MOST_LAYERS, skin, Kept())
    assert np.isfinite(whole.factors).all()
