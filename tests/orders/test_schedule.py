"""Times that painters know, and what no schedule may do."""

import math
import random
from dataclasses import replace

import numpy as np
import pytest

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import MASK, UNMASK, Layer, Plan
from diachrom.core.bait.stroke import drawn
from diachrom.core.mix import drying
from diachrom.core.mix.drying import TABLE, Waited, learned, pace, waits
from diachrom.core.schedule.hours import DoesNotFit, Hours
from diachrom.core.schedule.search import solve
from diachrom.core.schedule.steps import Laid, Pace, Ways, steps
from diachrom.core.schedule.timing import timed
from diachrom.core.schedule.work import Bench, Block, Line, MixWork, Stands, Step, Work
from diachrom.errors import InvalidInput

EVENINGS = Hours([(day * 1440 + 18 * 60, day * 1440 + 22 * 60) for day in range(40)])
AIR = (20.0, 50.0)


def _laid(number, kind, *, what="paint", **more):
    layer = Layer(number, what=what, source=kind, **more)
    return Laid(layer, f"layer {number}", kind, "" if what == "clear" else f"mix {kind}", 10.0)


PLAN = Plan(blank=Blank("minnow", 110), prepared=("sanded", "eyes-taped"), eyes="before")
LAYERS = (
    _laid(1, "opaque", coats=2),
    _laid(2, "pearl", coats=1, mask=MASKS["net"].usual()),
    _laid(3, "two-part", what="clear", coats=2, wait_h=24.0),
)


def _work(baits, hours=EVENINGS, **bench):
    own = steps(PLAN, LAYERS, Ways())
    mixes = {one.mix: MixWork(one.mix, one.mix, 3) for one in own if one.mix}
    return Work([Line("A", "a plan", own, baits)], mixes, Bench(hours, **bench), {})


def test_vapour_is_as_the_steam_tables_have_it():
    for temperature_c, kpa in ((0, 0.6113), (10, 1.2282), (20, 2.3393), (30, 4.2470), (40, 7.3849)):
        assert drying.pressure_kpa(temperature_c) == pytest.approx(kpa, rel=0.004)


def test_water_leaves_warm_dry_air_faster_and_moisture_cures_in_damp_air():
    assert pace("water", *AIR) == pace("moisture", *AIR) == pace("two-part", *AIR) == 1
    assert pace("water", 30, 30) < 0.5 < 1.5 < pace("water", 15, 60)
    assert pace("moisture", 20, 80) < 1 < pace("moisture", 20, 30)
    assert pace("two-part", 10, 50) == 2
    assert math.isfinite(pace("water", 20, 100))


def test_a_thick_coat_waits_longer_but_its_window_does_not_move():
    thin, thick = (waits(TABLE["opaque"], film_um, AIR) for film_um in (10, 30))
    assert thick.touch == 3 * thin.touch
    clear = waits(TABLE["two-part"], 300, AIR)
    assert clear.window == TABLE["two-part"].window
    assert waits(TABLE["two-part"], 300, (30, 50)).window == (30, 180)
    assert clear.through == TABLE["two-part"].through
    assert waits(TABLE["two-part"], 30, AIR).through > TABLE["two-part"].through  # thin, it loses its heat
    usual, twice = TABLE["dip"], waits(TABLE["dip"], 2 * TABLE["dip"].film_um, AIR)
    assert (twice.touch, twice.through) == (2 * usual.touch, 4 * usual.through)
    assert twice.window == usual.window


@pytest.mark.parametrize("true", [0.6, 1.0, 1.7])
def test_what_was_waited_teaches_how_this_bench_dries(true):
    dice = random.Random(5)
    seen = []
    for _ in range(24):
        ratio = math.exp(dice.gauss(math.log(true), 0.35))
        seen.append(Waited("opaque", ratio, ratio > true * math.exp(dice.gauss(0, 0.1))))
    assert learned(seen) == pytest.approx(true, rel=0.12)
    assert learned([]) == pytest.approx(1, rel=0.02)


def test_waits_that_were_long_enough_anyhow_teach_little():
    assert learned([Waited("opaque", 60.0, True)] * 30) == pytest.approx(1, rel=0.05)


@pytest.mark.parametrize(
    "change", [{"touch": -1}, {"flash": 50}, {"law": "magic"}, {"window": (60, 60)}, {"through": 10**6}]
)
def test_a_table_that_cannot_be_is_refused(change):
    with pytest.raises(InvalidInput, match=r"Opaque"):
        drying.checked(replace(TABLE["opaque"], **change))


def test_the_steps_of_a_plan_in_their_order():
    own = steps(PLAN, LAYERS, Ways())
    assert [one.key for one in own] == [
        *("prepare", "layer1.1", "layer1.2", "layer2", "eyes", "sign", "layer3.1", "layer3.2"),
    ]
    by = {one.key: one for one in own}
    assert by["layer2"].kind == "mask"
    # A day from the last paint to the clear, with eyes and name within it.
    between = by["layer2"].dries + by["eyes"].minutes + by["sign"].minutes + by["sign"].dries
    assert between == 24 * 60
    assert (by["layer3.1"].dries, by["layer3.1"].closes) == (60, 360)
    assert by["layer3.2"].closes is None
    assert 1440 < by["layer3.2"].dries < 1.5 * 1440  # thin two-part keeps little of its heat
    assert by["layer3.1"].once == Pace().two_part


def test_a_mask_that_stays_on_is_put_on_and_taken_off_once():
    """Over three layers: its minutes are those of one that is held for a layer alone, and it comes off before the day
    that the paint dries through."""
    mask = Laid(Layer(4, MASK, mask=MASKS["net"].usual()), "put on: net", "sealer", "", 1.0)
    off = Laid(Layer(5, UNMASK, source="4"), "take off: net", "sealer", "", 1.0)
    paint = [_laid(number, "opaque", coats=1) for number in (6, 7, 8)]
    own = steps(PLAN, (mask, *paint, off, LAYERS[-1]), Ways())
    kinds = [one.kind for one in own]
    assert kinds.count("put on") == kinds.count("take off") == 1
    assert "mask" not in kinds
    by = {one.key: one for one in own}
    assert by["layer4"].minutes + by["layer5"].minutes == Pace().mask
    assert by["layer8.1"].dries < 60
    between = sum(by[key].dries + by[key].minutes for key in ("layer5", "eyes", "sign"))
    assert between + by["layer8.1"].dries == pytest.approx(24 * 60, abs=1)


def test_marks_take_the_minutes_of_a_hand_and_no_airbrush():
    dots = replace(_laid(1, "opaque", coats=1).layer, strokes=(drawn([(0.3, 0.2, 1)], "dot"),))
    own = steps(PLAN, (Laid(dots, "dots", "opaque", "mix opaque", 10.0),), Ways())
    step = next(one for one in own if one.layer == 1)
    assert step.by_hand
    assert step.minutes >= Pace().by_hand


def test_air_alone_needs_no_hands():
    warm, still = (steps(PLAN, LAYERS, Ways(warm_air=one)) for one in (True, False))
    assert sum(one.minutes for one in still) < sum(one.minutes for one in warm)
    assert still[1].dries > warm[1].dries


def test_the_second_clear_meets_its_window_though_the_bench_closes_between():
    # After 21:00 the second coat would come a day later: so the first waits for the next evening.
    hours = Hours([(21 * 60, 22 * 60), *((day * 1440 + 18 * 60, day * 1440 + 22 * 60) for day in range(1, 9))])
    own = [Step("c1", "", "clear", 5, dries=60, closes=360), Step("c2", "", "clear", 5, dries=1440)]
    found = solve(Work([Line("A", "a", own, 1)], {}, Bench(hours), {}))
    first, second = found.timed.pieces
    assert first.start >= 1440
    assert 60 <= second.start - first.end <= 360


def test_a_window_that_no_hours_meet_is_said():
    hours = Hours([(day * 1440, day * 1440 + 30) for day in range(30)])
    own = [Step("c1", "", "clear", 5, dries=60, closes=360), Step("c2", "", "clear", 5)]
    with pytest.raises(DoesNotFit, match="window"):
        solve(Work([Line("A", "a", own, 1)], {}, Bench(hours), {}))


def test_work_that_is_longer_than_any_evening_is_said():
    with pytest.raises(DoesNotFit, match="longest time at the bench is 240 min"):
        solve(Work([Line("A", "a", [Step("p", "", "prepare", 300)], 1)], {}, Bench(EVENINGS), {}))


def test_more_work_than_all_hours_hold_is_said():
    hours = Hours([(day * 7 * 1440, day * 7 * 1440 + 30) for day in range(57)])
    with pytest.raises(DoesNotFit, match="add hours"):
        solve(Work([Line("A", "a", [Step("p", "", "prepare", 20)], 200)], {}, Bench(hours), {}))


def test_a_turner_takes_its_load_and_no_more():
    found = solve(_work(9, turner=4), lambda one: False).timed
    cleared = [one for one in found.pieces if one.block.step == 6]
    for one in cleared:
        held = sum(other.start <= one.start < other.end + 60 for other in cleared)
        assert held <= 4


def test_a_clear_is_mixed_anew_for_as_many_as_it_lasts():
    step = Step("c", "", "clear", 2, once=6, a_mixing=3, lasts=40)
    found = timed(Work([Line("A", "a", [step], 7)], {}, Bench(Hours([(0, 600)])), {}), [Block(0, 0, 0, 7)])
    assert [one.end - one.start for one in found.pieces] == [8, 2, 2, 8, 2, 2, 8]


def test_what_is_begun_goes_on_from_where_it_stands():
    work = _work(2)
    begun = {0: Stands(step=3, ready=1100), 1: Stands(step=3, ready=1140)}
    line = replace(work.lines[0], begun=begun)
    mixes = {key: replace(one, ready=0) for key, one in work.mixes.items()}
    found = solve(replace(work, lines=[line], mixes=mixes)).timed
    assert min(one.block.step for one in found.pieces) == 3
    assert not any(one.what == "make" for one in found.pieces)
    assert min(one.start for one in found.pieces) >= 1100


def test_a_window_that_was_left_to_close_is_told_and_the_rest_goes_on():
    own = [Step("c1", "", "clear", 5, dries=60, closes=360), Step("c2", "", "clear", 5, dries=60)]
    line = Line("A", "a", own, 2, begun={0: Stands(1, 0, 100)})
    found = solve(Work([line], {}, Bench(EVENINGS), {})).timed
    assert found.missed == ((0, 0),)
    assert len(found.pieces) == 3


def test_other_work_keeps_its_hours_and_its_places():
    work = _work(2)
    busy = [(18 * 60, 20 * 60)]
    bench = replace(work.bench, hours=work.bench.hours.without(busy))
    found = solve(replace(work, bench=bench)).timed
    assert min(one.start for one in found.pieces) == 20 * 60
    taken = replace(work.bench, rack=1, taken=(("rack", 0, 19 * 60),))
    sprayed = [one.start for one in solve(replace(work, bench=taken)).timed.pieces if one.block.step == 1]
    assert min(sprayed) >= 19 * 60


def test_what_is_dragged_begins_no_earlier():
    work = replace(_work(3), pins={"A:layer2:0": 20 * 60 + 7})
    found = solve(work, lambda one: False).timed
    assert min(one.start for one in found.pieces if one.block.step == 3 and one.what == "work") == 20 * 60 + 7


def test_twelve_baits_of_two_plans_stay_near_what_nothing_can_beat():
    own = steps(PLAN, LAYERS, Ways())
    other = [replace(one, mix=f"{one.mix}'" if one.mix else "") for one in own]
    mixes = {one.mix: MixWork(one.mix, one.mix, 3) for one in (*own, *other) if one.mix}
    lines = [Line("A", "a", own, 6), Line("B", "b", other, 6)]
    rounds = iter(range(120))
    found = solve(Work(lines, mixes, Bench(EVENINGS), {}), lambda one: next(rounds, None) is not None)
    assert found.timed.ends <= 1.1 * found.bound


@pytest.mark.parametrize(("field", "value", "word"), [("rack", 0, "rack of none"), ("turner", -1, "turner of none")])
def test_a_rack_of_none_is_said(field, value, word):
    with pytest.raises(InvalidInput, match=word):
        Bench(EVENINGS, **{field: value})


def test_hours_are_cut_around_other_work():
    hours = Hours([(0, 100), (200, 300)]).without([(40, 60), (90, 210), (290, 400)])
    assert list(hours.windows) == [(0, 40), (60, 90), (210, 290)]
    assert hours.fit(0, 41) == 210
    assert hours.after(30, 50) == 220
    assert hours.latest(90, 30) == 60
    assert np.all(np.diff([start for start, _ in hours.windows]) > 0)
