"""A session at the bench: what is tapped is counted once, timers are moments, ledgers are right to the drop."""

import random
import time
from dataclasses import replace
from datetime import datetime, timedelta

import pytest

from diachrom import clock
from diachrom.core.bait.blank import Blank
from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.mix.batch import lowest_terms
from diachrom.core.schedule.search import solve
from diachrom.core.session import mends
from diachrom.core.session.after import HAPPENS, after, replayed
from diachrom.core.session.events import Event
from diachrom.core.session.script import BenchStep, Pour, Script
from diachrom.core.session.state import State
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import bottles, recipes
from diachrom.store import orders as stored
from diachrom.store import sessions as kept
from diachrom.store.connection import writing
from diachrom.store.orders import DoneStep
from diachrom.work.bench import sessions
from diachrom.work.bench.recounting import strayed
from diachrom.work.files.checking import check_folder, mend_folder
from diachrom.work.kit import schedules
from diachrom.work.orders import orders, scheduling
from diachrom.work.orders.todo import to_do

AT = "2026-11-26T18:00:00+00:00"
MIX = BenchStep("0:make", "make", "Mix", pours=(Pour(1, "Rav", 3, 0.05), Pour(2, "Torv", 1, 0.05)), dries_s=600)
SPRAY = BenchStep("1:work", "spray", "Spray", dries_s=120, closes_s=3600, cautions=("spray",))
EYES = BenchStep("2:work", "eyes", "Eyes")
SCRIPT = Script((MIX, SPRAY, EYES))


@pytest.fixture
def begun(on):
    """Two baits at the bench."""
    order = on(orders.new_with, {"name": "Harbour shop"}, plan=1, baits=2, at=AT)

    def plan_it(store):
        wanted = to_do(store, order, at=AT)
        scheduling.keep(store, wanted, solve(wanted.work, lambda found: False))

    on(plan_it)
    return on(sessions.begin, order, at=AT)


def happen(on, number, kind, at=AT, **more):
    return on(sessions.record_event, number, Event(kind, sessions.seconds(at), **more), at=at)


def go_to(on, number, kind):
    """On to the first step of a kind; every caution is read."""
    while (here := (found := on(sessions.session, number)).script.at(found.state.position)).kind != kind:
        for caution in here.cautions:
            happen(on, number, "agree", what=caution)
        happen(on, number, "next", step=here.key)
    return here


def test_a_session_of_nothing_but_cleaning_is_ended_and_a_done_order_is_told(on, bench, begun):
    rinse = BenchStep("3:clean", "rinse", "Rinse the airbrush")

    def left(store):
        with writing(store):
            order = kept.session(store, begun).order
            kept.end(store, begun, at=AT)
            found = schedules.read(stored.order(store, order).schedule)
            steps = [DoneStep(*each, AT) for visit in found.visits for each in visit.steps]
            stored.put_done(store, order, steps)
            return kept.new(store, order=order, name="Cleaning", script=Script((rinse,)), at=AT)

    number = on(left)
    assert any(one.startswith(f"Session {number}, Cleaning, has nothing to do") for one in check_folder(bench))
    _, done = mend_folder(bench)
    assert any(one.endswith("is all painted and still open: hand it over on its page.") for one in done)
    assert on(sessions.session, number).ended
    assert check_folder(bench) == []


def test_a_timer_is_a_moment():
    state = replayed(SCRIPT, [Event("next", 1000.0, step="0:make")])
    assert [(one.began, one.ends, one.closes) for one in state.timers] == [(1000.0, 1600.0, None)]
    state = after(SCRIPT, state, Event("agree", 1100.0, what="spray"))
    state = after(SCRIPT, state, Event("next", 1200.0, step="1:work"))
    assert [(one.key, one.ends, one.closes) for one in state.timers][1] == ("1:work", 1320.0, 4800.0)
    assert after(SCRIPT, state, Event("timer-off", 1300.0, what="0:make")).timers == state.timers[1:]


def test_a_caution_is_read_once_and_then_out_of_the_way():
    state = after(SCRIPT, State(), Event("next", 1.0))
    with pytest.raises(InvalidInput, match="caution"):
        after(SCRIPT, state, Event("next", 2.0))
    state = after(SCRIPT, state, Event("agree", 3.0, what="spray"))
    assert after(SCRIPT, state, Event("next", 4.0)).position == 2
    assert state.agreed == ("spray",)


def test_time_at_the_bench_is_without_pauses_and_a_clock_set_back_adds_none():
    events = [("tap", 0, 1), ("tap", 30, 1), ("pause", 40, 0), ("resume", 1000, 0), ("tap", 1010, 2), ("tap", -2600, 1)]
    state = replayed(SCRIPT, [Event(kind, float(at), bottle=bottle) for kind, at, bottle in events])
    assert state.worked_s == 50.0
    assert state.fallen("0:make", 1) == 3


def test_a_clock_set_back_an_hour_moves_no_timer_and_set_right_again_neither():
    hour = 3600.0
    state = replayed(SCRIPT, [Event("next", 10 * hour, step="0:make")])  # 10 min
    assert state.now(10 * hour + 60) == 10 * hour + 60
    # The clock is set back: a minute later it says 9 h 2 min.
    state = after(SCRIPT, state, Event("pause", 9 * hour + 120))
    state = after(SCRIPT, state, Event("agree", 9 * hour + 180, what="spray"))
    state = after(SCRIPT, state, Event("next", 9 * hour + 240, step="1:work"))
    make, spray = state.timers
    assert (make.ends, spray.ends - spray.began) == (10 * hour + 600, 120)
    assert spray.began - make.began == 120  # two minutes of those that the clock still told rightly
    assert state.now(9 * hour + 300) - spray.began == 60
    # It is set right: the session's time is the clock's again.
    assert state.now(10 * hour + 900) == 10 * hour + 900


def test_the_server_counts_on_when_somebody_sets_its_clock(monkeypatch):
    before, wall = clock.monotonic_epoch(), clock.time.time()
    monkeypatch.setattr(clock.time, "time", lambda: wall - 3600)
    assert 0 <= clock.monotonic_epoch() - before < 60


@pytest.mark.parametrize("day", ["2026-03-29T00:59:00+00:00", "2026-10-25T00:59:00+00:00", "2026-12-31T22:59:30+00:00"])
def test_summer_time_and_midnight_move_no_timer(day, monkeypatch):
    monkeypatch.setenv("TZ", "Europe/Oslo")
    time.tzset()
    try:
        state = replayed(SCRIPT, [Event("next", sessions.seconds(day), step="0:make")])
        later = (datetime.fromisoformat(day) + timedelta(minutes=10)).isoformat()
        assert state.timers[0].ends == state.now(sessions.seconds(later))
    finally:
        monkeypatch.undo()
        time.tzset()


@pytest.mark.parametrize(
    ("event", "words"),
    [
        (Event("tap", 1.0, bottle=9), "not asked for"),
        (Event("untap", 1.0, bottle=1), "No drop of it is in yet"),
        (Event("tap", 1.0, step="2:work", bottle=1), "has gone on"),
        (Event("moon", 1.0), "Nothing called 'moon'"),
        (Event("back", 1.0, value="9"), "1 to 5 steps back"),
        (Event("slip", 1.0, what="moon"), "no mistake"),
        (Event("different", 1.0, what="moon"), "no way of being different"),
        (Event("tap", 1.0, bottle=1, note="x" * 501), "at most 500"),
    ],
)
def test_what_cannot_happen_is_said(event, words):
    with pytest.raises(InvalidInput, match=words):
        after(SCRIPT, State(), event)


def test_past_the_last_step_nothing_more_is_done():
    state = State(position=3)
    with pytest.raises(InvalidInput, match="Every step"):
        after(SCRIPT, state, Event("next", 1.0))
    assert after(SCRIPT, state, Event("back", 1.0, value="5")).position == 0


# What is said with some of what happens; some of it cannot be.
SAID = {
    "different": (("coats", "pressure", "distance", "bottle", "colour"), ("2", "darker", "0.8")),
    "slip": (("run", "splatter"), ("",)),
    "mend": (("", "swab", "hole", "block"), ("1", "1,2,3", "")),
    "more": (("",), ("1", "2", "x")),
    "fact": (("temperature_c", "a_g"), ("21", "4.5")),
    "left": (("next", "waste"), ("", "2.5")),
    "photo": (("left", "right"), ("1", "x")),
    "agree": (("spray", "dust", "resin"), ("",)),
}


@pytest.mark.parametrize("seed", range(6))
def test_the_snapshot_is_what_all_events_come_to(on, begun, seed):
    dice = random.Random(seed)
    for at in range(60):
        found = on(sessions.session, begun)
        here = found.script.at(found.state.position)
        bottle = dice.choice(here.pours).bottle if here and here.pours else 0
        kind = dice.choice((*HAPPENS, "tap", "tap", "next", "agree"))
        what, values = SAID.get(kind, (("spray", "dust", "splatter"), ("1", "2", "3")))
        event = Event(
            kind,
            1000.0 + 7 * at,
            bottle=bottle,
            what=dice.choice(what),
            value=dice.choice(values),
            bait=dice.choice((-1, 0, 1)),
            place=dice.choice(("", "left 0.400 0.200 8", "right 0.700 0.300 4")),
        )
        try:
            on(sessions.record_event, begun, event, at=AT)
        except DiachromError:
            assert on(sessions.session, begun) == found
    found = on(sessions.session, begun)
    assert found.seq == len(on(kept.events, begun)) > 20
    assert replayed(found.script, on(kept.events, begun)) == found.state


def test_bottles_are_charged_what_fell_and_once(on, begun):
    make = go_to(on, begun, "make")
    first, *rest = make.pours

    def left():
        return {number: one.left_ml for number, one in on(bottles.by_id, [one.bottle for one in make.pours]).items()}

    before = left()
    for _ in range(first.drops + 2):
        happen(on, begun, "tap", step=make.key, bottle=first.bottle)
    happen(on, begun, "untap", step=make.key, bottle=first.bottle)
    for one in rest:
        for _ in range(one.drops):
            happen(on, begun, "tap", step=make.key, bottle=one.bottle)
    assert left() == before
    happen(on, begun, "next", step=make.key)
    wanted = {one.bottle: before[one.bottle] - one.drops * one.drop_ml for one in rest}
    wanted[first.bottle] = before[first.bottle] - (first.drops + 1) * first.drop_ml
    assert left() == pytest.approx(wanted)
    happen(on, begun, "back")
    happen(on, begun, "next", step=make.key)
    assert left() == pytest.approx(wanted)


def test_what_was_not_tapped_was_poured_all_the_same(on, begun):
    make = go_to(on, begun, "make")
    one = make.pours[0]
    before = on(bottles.by_id, [one.bottle])[one.bottle].left_ml
    happen(on, begun, "next", step=make.key)
    assert on(bottles.by_id, [one.bottle])[one.bottle].left_ml == pytest.approx(before - one.drops * one.drop_ml)


def test_what_is_done_at_the_bench_is_done_for_the_order(on, begun):
    order = on(sessions.session, begun).order
    here = go_to(on, begun, "spray")
    done = on(stored.done, [order])[order]
    assert {one.step for one in done if one.line} == {"prepare"}
    assert {one.bait for one in done if one.line} == {0, 1}
    happen(on, begun, "agree", what="spray")
    happen(on, begun, "next", step=here.key)
    assert len(on(stored.done, [order])[order]) == len(done) + here.last - here.first
    # Begun again it is the same session.
    assert on(sessions.begin, order, at=AT) == begun


def test_a_press_that_is_sent_twice_counts_once_and_a_late_one_changes_nothing(client, on, begun):
    make = go_to(on, begun, "make")
    one = make.pours[0]
    press = {"kind": "tap", "step": make.key, "bottle": one.bottle}
    for _ in range(3):
        client.post(f"/bench/{begun}/happen", data=press, headers={"X-Tap": "the-same", "HX-Request": "true"})
    assert on(sessions.session, begun).state.fallen(make.key, one.bottle) == 1
    client.post(f"/bench/{begun}/happen", data={"kind": "next", "step": make.key}, headers={"HX-Request": "true"})
    late = client.post(f"/bench/{begun}/happen", data=press, headers={"X-Tap": "late", "HX-Request": "true"})
    assert late.status_code == 422
    assert "has gone on" in late.text


def test_an_ended_session_takes_nothing_more(client, on, begun):
    client.post(f"/bench/{begun}/end")
    with pytest.raises(InvalidInput, match="has ended"):
        happen(on, begun, "pause")
    assert "ended" in client.get("/bench").text
    assert "This session has ended" in client.get(f"/bench/{begun}").text
    client.post(f"/bench/{begun}/end", data={"again": "true"})
    assert happen(on, begun, "pause").state.paused
    client.post(f"/bench/{begun}/end")
    assert client.get("/bench/999").status_code == 404
    assert client.post("/bench", data={"order": 999}).status_code == 404


def test_the_bench_asks_for_a_schedule_first(client):
    answer = client.post("/bench", data={"order": 1}, headers={"HX-Request": "true"})
    assert answer.status_code == 422
    assert "Schedule this order first" in answer.text


def _plan(*layers, state="primed-white"):
    plan = Plan(blank=Blank("minnow", 110, state=state))
    for layer in layers:
        plan = plan.with_layer(layer)
    return plan


GREEN, RED = Layer(0, "paint", "rav-gran", name="green"), Layer(0, "paint", "rav-nype", name="red")


def test_a_slip_is_mended_by_what_lies_beneath():
    def ways(plan, layer, slip):
        return {one.key: one for one in mends.ways(plan, layer, slip)}

    saved = ways(_plan(GREEN, Layer(0, "varnish"), RED), 3, "splatter")["seal"]
    assert (saved.words, saved.again) == ("Wipe back to varnish, a sealed stage", (3,))
    assert ways(_plan(replace(GREEN, sealed=True), RED, GREEN), 3, "run")["seal"].again == (2, 3)
    assert "bare" in ways(_plan(GREEN, state="foil-silver"), 1, "splatter")
    plain = ways(_plan(GREEN, RED), 1, "run")
    assert "red covers it" in plain["on"].words
    assert "seal" not in plain
    assert "needle" in ways(_plan(GREEN), 1, "tip-dry")


def test_a_session_whose_number_lags_behind_what_happened_stands_where_it_was_and_goes_on(client, on, begun):
    go_to(on, begun, "spray")
    whole = on(sessions.session, begun)

    def lag(store):
        with writing(store):
            store.execute("UPDATE session SET seq = 1, state = '{}' WHERE number = :number", {"number": begun})

    on(lag)
    assert on(sessions.session, begun) == whole
    answer = client.post(f"/bench/{begun}/happen", data={"kind": "pause"})
    assert answer.status_code == 200
    assert on(sessions.session, begun).seq == whole.seq + 1


@pytest.mark.parametrize("recipe", ["abc", "1e3", "-1"])
def test_a_recipe_that_is_no_number_does_not_begin_the_cup_on_mix(client, recipe):
    answer = client.post("/bench", data={"recipe": recipe}, follow_redirects=False)
    assert (answer.status_code, "no recipe" in answer.text) == (422, True)


def test_a_mix_that_was_kept_with_a_strayed_ratio_is_told_and_counted_anew(on):
    recipe = on(lambda store: recipes.version(store, 10))
    parts = [part for part in recipe.draft.parts if part.drops]
    pours = tuple(Pour(part.bottle, str(part.bottle), 1, part.drop_ml) for part in parts)
    make = BenchStep("0:make", "make", "Mix", mix="recipe:10:2|0|0", pours=pours)

    def begin(store):
        with writing(store):
            return kept.new(store, order=None, name="Kept", script=Script((make, EYES)), at=AT)

    number = on(begin)

    def told(store):
        session = sessions.session(store, number)
        return strayed(store, session, session.state.here(session.script))

    found = on(told)
    meant = lowest_terms([part.drops for part in parts])
    assert " : ".join(map(str, meant)) in found.words
    happen(on, number, "tap", step="0:make", bottle=pours[0].bottle)
    with pytest.raises(InvalidInput):
        happen(on, number, "recount", step="0:make", value="1,2")
    with pytest.raises(InvalidInput, match="have fallen"):
        happen(on, number, "recount", step="0:make", value=",".join("0" for _ in pours))
    happen(on, number, "recount", step="0:make", value=found.value)
    session = on(sessions.session, number)
    here = session.state.here(session.script)
    assert lowest_terms([pour.drops for pour in here.pours]) == meant
    assert on(told) is None
    assert replayed(session.script, on(kept.events, number)) == session.state
