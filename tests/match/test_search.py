"""Matching against trying everything exactly; recipes found again; the next drop and the way back."""

from itertools import combinations

import numpy as np
import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED, MATTE
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.match.search import Search
from diachrom.core.mix import where as where_module
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.fast_predictor import FastPredictor
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.mixes import compositions, exact_labs
from diachrom.core.mix.prediction import predict
from diachrom.core.mix.where import ALL_ANGLES, Where, facing
from diachrom.core.pour.next_drop import advise
from diachrom.demo.paints import PAINTS
from diachrom.errors import EmptyCup, InvalidInput

D65 = light("D65")
PROFILES = {paint.id: paint.profile() for paint in PAINTS}
PLAIN = [key for key, one in PROFILES.items() if not (one.thins or one.flake or one.fluorescence or one.glow)]


def search(target, keys, ground="white", *, paints=3, drops=12, dilution=0.3, kept_in=(), **where):
    over = Where(GROUNDS[ground], 16.0, CLEARED if where.pop("clear", True) else MATTE, D65, **where)
    own, most = [PROFILES[key] for key in keys], {"most_paints": paints, "most_drops": drops}
    return Search(target, own, [0.05] * len(own), over, dilution=dilution, kept_in=kept_in, **most)


def end(one):
    *_, found = one.steps()
    return found


def test_compositions_are_all_the_proportions_of_whole_drops():
    assert compositions(2, 4).tolist() == [[1, 1], [1, 2], [2, 1], [1, 3], [3, 1]]
    every = {
        tuple(np.array(row) / np.gcd.reduce(row)) for row in np.ndindex(12, 12, 12) if min(row) > 0 and sum(row) <= 12
    }
    assert len(compositions(3, 12)) == len(every)
    assert len(compositions(3, 2)) == 0


@pytest.mark.parametrize("ground", ["white", "black", "silver-foil"])
@pytest.mark.parametrize("seed", [1, 2])
def test_what_is_found_is_what_trying_every_cup_exactly_finds(ground, seed):
    chance = np.random.default_rng(seed)
    keys = chance.choice(PLAIN, 6, replace=False).tolist()
    target = np.array([chance.uniform(20, 80), chance.uniform(-50, 60), chance.uniform(-40, 70)])
    one = search(target, keys, ground, drops=7)
    found = end(one)
    cups = [
        tuple(zip(some, row, strict=True))
        for size in (1, 2, 3)
        for some in combinations(range(6), size)
        for row in compositions(size, 7).tolist()
    ]
    least = min(match.delta_e for match in one.judge.exactly(cups))
    assert found.matches[0].delta_e <= least + 0.05
    assert found.finished


@pytest.mark.parametrize(("ground", "views"), [("black", ALL_ANGLES), ("white", (None,)), ("silver-foil", (25.0,))])
def test_with_flakes_and_fluorescence_too_it_finds_what_trying_every_cup_exactly_finds(ground, views):
    third = "malm-solv" if ground == "black" else "glo-oransje"
    keys = ["perlemor-blaa", "nordlys-fiol", third, "rav-gull", "rav-fjord"]
    chance = np.random.default_rng(7)
    for _ in range(2):
        target = chance.uniform([15, -40, -40], [80, 50, 50], (len(views), 3))
        one = search(target, keys, ground, drops=5, views=views)
        cups = [
            tuple(zip(some, row, strict=True))
            for size in (1, 2, 3)
            for some in combinations(range(5), size)
            for row in compositions(size, 5).tolist()
        ]
        least = min(match.delta_e for match in one.judge.exactly(cups))
        assert end(one).matches[0].delta_e <= least + 0.05


@pytest.mark.parametrize("ground", ["white", "black", "silver-foil"])
def test_a_quick_look_is_near_the_transport_solution_also_with_flakes_and_fluorescence(ground):
    keys = ["perlemor-blaa", "malm-solv", "glo-oransje", "morild-gronn", "rav-nype", "torv-kritt"]
    paints = [PROFILES[key] for key in keys]
    chance = np.random.default_rng(5)
    shares = 0.7 * chance.dirichlet(np.ones(len(keys)), 60)
    shares[:20, :2] = 0
    shares[20:35, [0, 2]] = 0
    shares[35:50, [1, 2]] = 0  # the last ten hold two kinds of flakes, of which a mean of the tables is taken
    where = Where(GROUNDS[ground], 16.0, CLEARED, D65, views=(None, *ALL_ANGLES))
    far = delta_e(FastPredictor(where, paints).labs(shares), exact_labs(paints, shares, where))
    assert np.median(far) < 0.2
    assert far[:50].max() < 1.7
    assert np.median(far[50:]) < 2
    assert far[50:].max() < 8
    shading = [PROFILES[key] for key in ("nordlys-fiol", "glo-oransje", "rav-nype")]
    shares = 0.7 * np.array([[5, 1, 1], [2, 4, 1], [1, 6, 1], [5, 1, 0]]) / np.array([[7], [7], [8], [6]])
    far = delta_e(FastPredictor(where, shading).labs(shares), exact_labs(shading, shares, where))
    assert far.max() < 6  # more than 20 if the flakes took no light


@pytest.mark.parametrize(
    ("views", "front"), [((None,), 0), (ALL_ANGLES, 2), ((0.0, 50.0), 1), ((0.0, 110.0), 0), ((15.0, None), 1)]
)
def test_a_colour_that_turns_is_named_by_the_view_that_faces_the_eye(views, front):
    assert facing(views) == front


def test_tables_that_are_kept_stay_within_their_bytes_and_the_newest_stay(monkeypatch):
    one, two = (Where(GROUNDS[key], 16.0, CLEARED, D65) for key in ("bone", "primer-grey"))
    assert one.tables() is one.tables()
    monkeypatch.setattr(where_module, "MOST_BYTES", two.tables().nbytes)
    monkeypatch.setattr(where_module, "_kept_tables", {})
    first = one.tables()
    kept = two.tables()
    assert two.tables() is kept
    assert one.tables() is not first


@pytest.mark.parametrize("keys", [["rav-gull"], ["perlemor-gull", "rav-gull"]])
def test_what_is_kept_in_is_in_every_mix(keys):
    pool = [*keys, "torv-kritt", "rav-nype", "torv-sot", "rav-fjord"]
    kept = range(len(keys))
    found = end(search(hex_to_lab("#3060a0"), pool, paints=3, drops=6, kept_in=kept))
    assert found.matches
    assert all(set(kept) <= {at for at, _ in match.parts} for match in found.matches)
    whole = end(search(hex_to_lab("#3060a0"), [*keys, *PLAIN], paints=4, drops=12, kept_in=kept))
    assert all(set(kept) <= {at for at, _ in match.parts} for match in whole.matches)
    with pytest.raises(InvalidInput, match="kept in"):
        search(hex_to_lab("#3060a0"), pool, paints=2, kept_in=range(3))


@pytest.mark.parametrize("seed", [3, 4])
def test_a_hidden_recipe_of_the_whole_shelf_is_found_again(seed):
    chance = np.random.default_rng(seed)
    some, drops = chance.choice(len(PLAIN), 4, replace=False), chance.integers(1, 7, 4)
    hidden = search(np.zeros(3), PLAIN).judge.exactly([tuple(zip(some.tolist(), drops.tolist(), strict=True))])[0]
    steps = list(search(hidden.lab, PLAIN, paints=4, drops=24).steps())
    assert steps[-1].matches[0].delta_e < 0.3
    bests = [step.matches[0].delta_e for step in steps]
    assert bests[-1] == min(bests)
    assert len({frozenset(at for at, _ in match.parts) for match in steps[-1].matches}) == len(steps[-1].matches)


@pytest.mark.parametrize(("clear", "angle"), [(True, None), (False, None), (True, 25.0)])
@pytest.mark.parametrize("ground", ["white", "silver-foil"])
def test_what_is_said_of_a_match_is_what_predicting_it_says(ground, clear, angle):
    keys = ["rav-gull", "torv-kritt", "rav-nype", "tynn-reducer"]
    one = end(search(hex_to_lab("#c06030"), keys, ground, clear=clear, views=(angle,), dilution=0.25)).matches[0]
    volume = one.drops * 0.05
    pours = [Pour(PROFILES[keys[at]], drops, 0.05) for at, drops in one.parts]
    cup = Cup([*pours, Pour(PROFILES["tynn-reducer"], 1, volume / 3)])
    over = GROUNDS[ground]
    seen = predict(
        [Layer(cup, 8.0, 2)], over=over, sheen=CLEARED if clear else MATTE, under=D65, angles_deg=[angle or 45.0]
    )
    looked = seen.diffuse if angle is None else seen.at_angle[0]
    assert delta_e(looked.lab, one.lab) < 1e-6


def test_a_shelf_of_one_bottle_and_one_of_none_and_limits_are_said():
    one = end(search(hex_to_lab("#c06030"), ["rav-gull"])).matches
    assert [match.parts for match in one] == [((0, 1),)]
    assert end(search(hex_to_lab("#c06030"), ["perlemor-blaa"])).matches[0].parts == ((0, 1),)
    with pytest.raises(InvalidInput, match="no paint with a colour"):
        search(np.zeros(3), ["tynn-medium"])
    for wrong in ({"paints": 6}, {"drops": 0}, {"drops": 61}, {"dilution": 1.0}):
        with pytest.raises(InvalidInput):
            search(np.zeros(3), ["rav-gull"], **wrong)


CANDIDATES = [(PROFILES[key], 0.05) for key in PLAIN]
WHITE = Where(GROUNDS["white"], 16.0, CLEARED, D65)


def orange(nype):
    return Cup([Pour(PROFILES["rav-gull"], 6), Pour(PROFILES["torv-kritt"], 1), Pour(PROFILES["rav-nype"], nype)])


def colour(cup):
    return predict([Layer(cup, 16.0)], over=GROUNDS["white"], sheen=CLEARED, under=D65).diffuse.lab


def test_the_drop_that_is_missing_is_the_one_that_helps():
    advice = advise(orange(1), CANDIDATES, colour(orange(2)), WHITE)
    best = advice.helps[0]
    assert (PLAIN[best.index], best.drops) == ("rav-nype", 1)
    assert best.delta_e < 0.3
    assert advice.delta_e > 2
    assert "torv-sot" in {PLAIN[at] for at in advice.spoils}
    moved = {PLAIN[at]: far for at, far in advice.first_drop.items()}
    assert moved["torv-sot"] > moved["rav-gull"]


def test_at_the_target_it_says_stop():
    advice = advise(orange(2), CANDIDATES, colour(orange(2)), WHITE)
    assert advice.stop
    assert advice.delta_e < 0.2
    assert advice.difference == "the same side by side"


def test_an_overshot_cup_is_brought_back_by_additions_alone():
    advice = advise(orange(5), CANDIDATES, colour(orange(2)), WHITE)
    assert advice.rescue is not None
    assert advice.rescue.delta_e < advice.delta_e / 3
    assert advice.rescue.volume_ml > orange(5).volume_ml
    with pytest.raises(EmptyCup):
        advise(Cup([]), CANDIDATES, colour(orange(2)), WHITE)
