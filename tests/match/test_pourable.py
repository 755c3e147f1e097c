"""Matches that a painter would pour: near enough, of few bottles, forgiving, of plain paints."""

import json
from functools import lru_cache

import numpy as np
import pytest
from fish_colours import COLOURS

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.match.pourable import CLOSENESS, Ranking, Wish, one_drop
from diachrom.core.match.search import Search
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.mixes import uncommon
from diachrom.core.mix.where import Where
from diachrom.core.pour.next_drop import MOST_UNCOMMON, advise
from diachrom.demo.paints import PAINTS
from diachrom.work.api import command

SHELF = [(one.profile(), one.drop_ml) for one in PAINTS if not one.profile().flake]
ON_WHITE = Where(GROUNDS["white"], 16.0, CLEARED, light("D65"))
MUTED = ("perch olive", "roach back", "trout spot", "tench bronze", "zander grey green")


def found(target, wish, shelf=SHELF, drops=12):
    search, matches = searched(tuple(map(float, target)), wish.special, tuple(shelf), drops)
    return search, matches, Ranking(search.judge, wish, coats=2, most_drops=drops).of(matches)


@lru_cache
def searched(target, special, shelf, drops):
    """Once for all who look for the same."""
    paints, drop_ml = zip(*shelf, strict=True)
    how = {"most_paints": 3, "most_drops": drops, "dilution": 0.3}
    how["reluctance"] = Wish(special=special).reluctance(paints)
    search = Search(np.array(target), paints, drop_ml, ON_WHITE, **how)
    *_, last = search.steps()
    return search, last.matches


@pytest.mark.parametrize("name", MUTED)
def test_a_muted_fish_colour_is_poured_from_few_plain_bottles_within_the_closeness(name):
    search, matches, ranked = found(COLOURS[name], Wish(1.0))
    first, nearest = ranked[0], min(matches, key=lambda one: one.delta_e)
    assert first.match.delta_e <= max(1.0, nearest.delta_e + 2)
    assert not any(uncommon(search.judge.paints[at]) for at, _ in first.match.parts)
    within = [one for one in ranked if one.match.delta_e <= 1.0 and not one.uncommon]
    assert not within or first.score == min(one.score for one in within)


def test_the_wider_the_closeness_the_fewer_bottles_and_the_less_a_drop_amiss_does():
    bottles, amiss = np.zeros(3), np.zeros(3)
    for name in MUTED:
        search, matches, _ = found(COLOURS[name], Wish())
        for at, closeness in enumerate(CLOSENESS.values()):
            first = Ranking(search.judge, Wish(closeness), coats=2, most_drops=12).of(matches)[0]
            bottles[at] += len(first.match.parts)
            amiss[at] = max(amiss[at], first.worst_drop)
    assert bottles[0] >= bottles[1] >= bottles[2]
    assert bottles[2] < bottles[0]
    assert amiss[2] <= amiss[0]


def test_what_shines_is_taken_where_the_target_shines_or_where_it_is_let_in():
    shining = next(paint for paint, _ in SHELF if paint.fluorescence)
    search, _, _ = found(COLOURS["perch olive"], Wish())
    place = next(at for at, (paint, _) in enumerate(SHELF) if paint is shining)
    target = search.judge.exactly([((place, 1),)])[0].lab
    assert found(target, Wish())[2][0].uncommon == (place,)
    plain = [one for one in SHELF if one[0] is not shining]
    assert all(not one.uncommon for one in found(COLOURS["perch olive"], Wish(), plain)[2][:5])
    assert all(not one.uncommon for one in found(COLOURS["perch olive"], Wish())[2])
    let_in = found(COLOURS["perch olive"], Wish(0.5, special=True))[2]
    assert any(one.uncommon for one in let_in)


def test_a_shelf_of_primers_alone_is_matched_with_primers():
    primers = [one for one in SHELF if one[0].kind == "primer"]
    assert found(COLOURS["perch olive"], Wish(), primers)[2][0].uncommon


def test_what_a_drop_amiss_does_is_what_the_transport_solution_says():
    search, matches, _ = found(COLOURS["trout spot"], Wish(), drops=8)
    for one, told in zip(matches[:6], one_drop(search.judge, matches[:6]), strict=True):
        for at, worst in enumerate(told):
            changed = []
            for step in (-1, 1):
                parts = [(paint, drops + step * (row == at)) for row, (paint, drops) in enumerate(one.parts)]
                changed.append(tuple(part for part in parts if part[1]))
            far = [float(delta_e(search.judge.exactly([parts])[0].lab, one.lab)) for parts in changed if parts]
            assert worst == pytest.approx(max(far), abs=0.3)


def test_a_larger_cup_of_the_same_is_more_forgiving_and_is_poured():
    search, matches, _ = found(COLOURS["trout spot"], Wish())
    small = next(one for one in matches if len(one.parts) > 1 and one.drops <= 12)
    times = 24 // small.drops
    first, second = Ranking(search.judge, Wish(2.5), coats=2, most_drops=24).of([small])
    assert first.match.parts == tuple((at, times * drops) for at, drops in small.parts)
    assert (second.match, first.match.delta_e) == (small, small.delta_e)
    assert first.worst_drop < second.worst_drop


def test_the_document_tells_what_a_drop_amiss_does_and_what_is_special(bench):
    def answered(**more):
        given = {"target": {"lab": list(COLOURS["perch olive"])}, "max_paints": 3, "max_drops": 12, **more}
        return json.loads(command.match_text(json.dumps(given).encode(), bench))["recipes"]

    pour, nearest = answered(), answered(order="nearest")
    assert pour[0]["special"] == []
    assert pour[0]["delta_e"] <= 1.0
    assert len(pour[0]["parts"]) <= len(nearest[0]["parts"])
    assert all(one["one_drop_delta_e"] > 0 for one in (*pour, *nearest))
    assert [one["delta_e"] for one in nearest] == sorted(one["delta_e"] for one in nearest)
    assert any(one["special"] for one in nearest)


def test_no_eight_drops_of_what_shines_are_advised_and_what_is_in_the_cup_comes_first():
    by_id = {one.id: (one.profile(), one.drop_ml) for one in PAINTS}
    cup = Cup([Pour(by_id[key][0], drops, by_id[key][1]) for key, drops in (("torv-kritt", 6), ("glo-gul", 1))])
    candidates = [by_id[key] for key in ("glo-gul", "torv-mose", "torv-kritt", "grunn-graa", "rav-te")]
    advice = advise(cup, candidates, np.array(COLOURS["perch olive"], dtype=float), ON_WHITE)
    assert all(one.drops <= MOST_UNCOMMON for one in advice.helps if uncommon(candidates[one.index][0]))
    assert all(candidates[one.index][0].kind != "primer" for one in advice.helps)


def test_a_search_that_found_nothing_ranks_nothing():
    search, _, _ = found(COLOURS["trout spot"], Wish(), drops=4)
    assert Ranking(search.judge, Wish(1.0), coats=2, most_drops=4).of([]) == []
    assert one_drop(search.judge, []) == []
