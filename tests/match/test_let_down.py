"""Pale colours by way of a strong paint let down with white: what a drop amiss does, anywhere, is little."""

import statistics
from math import ceil

import numpy as np
import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.match.let_down import by_let_down
from diachrom.core.match.pourable import Ranking, Wish
from diachrom.core.match.search import Search
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.prediction import predict
from diachrom.core.mix.where import Where
from diachrom.errors import InvalidInput
from diachrom.store import bottles, cups, paints
from diachrom.work.mix.candidates import in_stock, last
from diachrom.work.pour import let_downs

AT = "2026-12-01T10:00:00+00:00"
BELLIES = ((85, 2, 16), (86, 4, 22), (88, -2, 14), (78, 22, 6), (90, 4, 10), (84, 10, 14))
WHITE = Where(GROUNDS["white"], 16, CLEARED, light("D65"))
DILUTION = 0.3


def found(shelf, belly):
    wish, profiles = Wish(), [one.paint for one in shelf]
    drop_ml = [one.drop_ml for one in shelf]
    how = {"most_paints": 4, "most_drops": 24, "dilution": DILUTION}
    search = Search(np.array(belly, float), profiles, drop_ml, WHITE, **how, reluctance=wish.reluctance(profiles))
    matches = last(search).matches
    best = Ranking(search.judge, wish, coats=2, most_drops=24).of(matches)[0]
    return best, by_let_down(search, matches, best, wish, coats=2)


def sprayed(shelf, volumes):
    """(3,) Lab of ml by place among the shelf, thinned: by way of no first cup, from the volumes alone."""
    counts = {at: ceil(25 * ml) for at, ml in volumes.items() if ml > 0}  # ten times as much: only the shares count
    pours = [Pour(shelf[at].paint, count, 10 * volumes[at] / count) for at, count in counts.items()]
    film_um = 8 * (1 - DILUTION)
    over = GROUNDS["white"]
    return predict([Layer(Cup(pours), film_um, 2)], over=over, sheen=CLEARED, under=light("D65")).diffuse.lab


def volumes_of(shelf, told, first=None, used=None, parts=None):
    """ml by place, of a first cup's drops and a mix's as they are or with one amiss."""
    first = [cup.drops for cup in told.first] if first is None else first
    used = [cup.used for cup in told.first] if used is None else used
    parts = told.parts if parts is None else parts
    ml = {}
    for cup, (strong, white), drops in zip(told.first, first, used, strict=True):
        own = {cup.strong: strong * shelf[cup.strong].drop_ml, cup.white: white * shelf[cup.white].drop_ml}
        whole, count = sum(own.values()), strong + white
        for at, each in own.items():
            ml[at] = ml.get(at, 0.0) + each / whole * drops * whole / count
    for at, drops in parts:
        ml[at] = ml.get(at, 0.0) + drops * shelf[at].drop_ml
    return ml


def test_pale_bellies_are_near_and_a_drop_amiss_does_little_in_the_first_cup_too(store):
    shelf = [one for one in in_stock(store) if one.paint.flake is None]
    before, worst, far = [], [], []
    for belly in BELLIES:
        best, told = found(shelf, belly)
        before.append(best.worst_drop)
        if told is None:
            worst.append(best.worst_drop)
            continue
        assert 1 <= len(told.first) <= 2
        assert max(sum(cup.drops) for cup in told.first) <= 100
        as_meant = sprayed(shelf, volumes_of(shelf, told))
        far.append(float(delta_e(as_meant, np.array(belly, float))))
        amiss = []
        for at, cup in enumerate(told.first):
            drops = [one.drops for one in told.first]
            drops[at] = (cup.drops[0] + 1, cup.drops[1])
            amiss.append(volumes_of(shelf, told, first=drops))
            used = [one.used for one in told.first]
            used[at] += 1
            amiss.append(volumes_of(shelf, told, used=used))
        worst.append(max(float(delta_e(sprayed(shelf, one), as_meant)) for one in amiss))
        assert worst[-1] <= told.worst_drop + 0.35
    assert statistics.median(before) > 5
    assert statistics.median(worst) <= 1.2
    assert max(far) <= 1.1


def test_what_does_not_hang_on_a_drop_is_not_let_down(store):
    shelf = [one for one in in_stock(store) if one.paint.flake is None]
    assert found(shelf, (50, 40, 40))[1] is None
    dark = [one for one in shelf if one.paint.name != "Torv Kritt" and one.paint.kind == "transparent"]
    assert found(dark, (86, 4, 22))[1] is None  # no white


def test_a_first_cup_becomes_a_bottle_and_its_drops_go_into_the_mix(store):
    strong, white = (next(one.bottle for one in in_stock(store) if one.key == key) for key in ("rav-te", "torv-kritt"))
    left = white.left_ml
    jars = let_downs.make(store, [([(strong.id, 4), (white.id, 36)], 7)], [(white.id, 5)], at=AT)
    jar = bottles.one(store, jars[0])
    assert jar.left_ml == pytest.approx(4 * strong.drop_ml + 36 * white.drop_ml, abs=1e-3)
    assert bottles.one(store, white.id).left_ml == pytest.approx(left - 36 * white.drop_ml, abs=1e-3)
    draft = cups.now(store).draft
    assert {part.bottle: part.drops for part in draft.parts}.items() >= {jars[0]: 7, white.id: 5}.items()
    profile = paints.profile(store, jar.paint_id)
    parts = [paints.profile(store, one.paint_id) for one in (strong, white)]
    share = 4 * strong.drop_ml / jar.left_ml
    assert profile.absorption == pytest.approx(
        share * parts[0].absorption + (1 - share) * parts[1].absorption, rel=1e-3
    )
    for wrong in ([], [([], 3)], [([(strong.id, 1)], 0)]):
        with pytest.raises(InvalidInput):
            let_downs.make(store, wrong, [], at=AT)


def test_the_page_takes_a_let_down_as_it_is_written(client, store):
    numbers = {one.key: one.bottle.id for one in in_stock(store)}
    first = f"{numbers['rav-te']}x4+{numbers['torv-kritt']}x36*7"
    answer = client.post("/match/let-down", data={"first": first, "parts": f"{numbers['torv-kritt']}x5"})
    assert answer.status_code == 200
    assert "1 : 9" in answer.text
    assert client.post("/match/let-down", data={"first": "zork"}).status_code == 422
