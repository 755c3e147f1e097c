"""The order of pouring, how far a first drop goes, and the story of a cup."""

import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.draft import Draft, Part
from diachrom.core.mix.story import Told, Verdict, cups_along, story
from diachrom.core.mix.where import Where
from diachrom.core.pour.order import pouring_order
from diachrom.demo.paints import PAINTS
from diachrom.errors import EmptyCup

PROFILES = {paint.id: paint.profile() for paint in PAINTS}
WHITE = Where(GROUNDS["white"], 16.0, CLEARED, light("D65"))


def cup(**drops):
    return Cup([Pour(PROFILES[key.replace("_", "-")], count) for key, count in drops.items()])


def test_the_base_is_poured_first_the_strong_last_and_what_thins_at_the_end():
    own = cup(torv_sot=1, tynn_reducer=3, rav_nype=2, rav_gull=10)
    order = pouring_order(own, WHITE)
    assert [own.pours[one.index].paint.name for one in order] == [
        PROFILES[key].name for key in ("rav-gull", "rav-nype", "torv-sot", "tynn-reducer")
    ]
    assert [one.first_goes is None for one in order] == [True, False, False, True]
    assert order[1].a_drop < order[2].a_drop


def test_the_first_drop_of_a_strong_paint_goes_more_than_its_share_of_the_way():
    order = pouring_order(cup(rav_gull=10, torv_sot=4), WHITE)
    assert 0.3 < order[1].first_goes < 1
    assert pouring_order(cup(rav_gull=10, torv_sot=1), WHITE)[1].first_goes == pytest.approx(1)
    assert pouring_order(cup(rav_gull=10), WHITE)[0].first_goes is None
    with pytest.raises(EmptyCup):
        pouring_order(cup(tynn_reducer=2), WHITE)


def drafts(*counts):
    return [Draft(tuple(Part(bottle, drops, 0.05) for bottle, drops in one.items())) for one in counts]


def test_drops_that_fell_together_are_told_together_and_verdicts_stand_between():
    dark = Verdict("too dark", "the eye")
    one, two, three, four, five = drafts({1: 1}, {1: 2, 2: 0}, {1: 2, 2: 1}, {1: 2, 2: 1}, {1: 5, 2: 1})
    told = story([("", one, None), ("", two, None), ("", three, None), ("", four, dark), ("", five, None)])
    assert told == [Told(1, 2, 0.05), Told(2, 1, 0.05), Told(None, 0, 0.0, dark), Told(1, 3, 0.05)]
    assert cups_along(told) == [{1: 2}, {1: 2, 2: 1}, {1: 2, 2: 1}, {1: 5, 2: 1}]


def test_a_drop_that_was_counted_too_many_and_taken_back_is_not_told():
    assert story([("", one, None) for one in drafts({1: 3}, {1: 3, 2: 1}, {1: 3, 2: 0})]) == [Told(1, 3, 0.05)]
    gone = story([("", one, None) for one in drafts({1: 3, 2: 2}, {1: 3})])
    assert [(one.bottle, one.drops) for one in gone] == [(1, 3)]
