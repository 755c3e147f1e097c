"""Presses that waited in a phone: counted in their order, each once, at their own time; or told why not."""

import pytest

from diachrom import clock
from diachrom.core.session.after import replayed
from diachrom.errors import Busy
from diachrom.store import sessions
from diachrom.work.bench import sessions as bench


@pytest.fixture
def at_cup(over_plan):
    hand = over_plan()
    return hand, hand.goes_to(lambda step: step.kind == "make")


def taps(made, count, first=0):
    values = {"kind": "tap", "step": made.key, "bottle": str(made.pours[0].bottle)}
    return [{"tap": f"phone {first + at}", "ago": 60.0 - at, "values": values} for at in range(count)]


def sends(client, hand, presses, began=None):
    body = {"began": hand.session.at if began is None else began, "presses": presses}
    return client.post(f"/bench/{hand.number}/presses", json=body)


def test_each_is_counted_once_in_its_order_and_at_its_time(at_cup, client, on):
    hand, made = at_cup
    seq, now = hand.session.seq, clock.monotonic_epoch()
    for _ in range(3):  # nobody heard the answer
        assert sends(client, hand, taps(made, 5)).json()["refused"] == []
    own = hand.session
    assert own.seq == seq + 5
    assert own.state.fallen(made.key, made.pours[0].bottle) == 5
    happened = on(sessions.events, hand.number)[seq:]
    assert [round(now - one.at) for one in happened] == [60, 59, 58, 57, 56]
    assert replayed(own.script, on(sessions.events, hand.number)) == own.state


def test_of_those_that_cannot_be_counted_each_is_told_and_the_others_are(at_cup, client):
    hand, made = at_cup
    wrong = [
        {"tap": "a", "values": {"kind": "tap", "step": "gone", "bottle": "1"}},
        {"tap": "b", "values": {"kind": "moon"}},
        {"tap": "c", "values": {"kind": "slip", "what": "run", "place": "nowhere"}},
        {"tap": "d", "values": {"kind": "tap", "step": made.key, "bottle": "one"}},
    ]
    answer = sends(client, hand, [wrong[0], *taps(made, 1), *wrong[1:], *taps(made, 1, first=1)])
    assert [one["tap"] for one in answer.json()["refused"]] == ["a", "b", "c", "d"]
    assert hand.session.state.fallen(made.key, made.pours[0].bottle) == 2


def test_a_busy_store_refuses_none_of_them(at_cup, client, monkeypatch):
    hand, made = at_cup
    seq, real = hand.session.seq, bench.record_event

    def busy(connection, number, event, *, at):
        if hand.on(bench.session, number).seq >= seq + 2:
            raise Busy
        return real(connection, number, event, at=at)

    with monkeypatch.context() as patch:
        patch.setattr(bench, "record_event", busy)
        assert sends(client, hand, taps(made, 4)).status_code == 503
    assert sends(client, hand, taps(made, 4)).json()["refused"] == []  # the same, once more
    assert hand.session.state.fallen(made.key, made.pours[0].bottle) == 4


@pytest.mark.parametrize(
    ("ended", "began", "words"),
    [(True, None, "has ended"), (False, "2020-01-01T00:00:00+00:00", "the bench was put back")],
)
def test_of_a_session_that_has_ended_or_is_another_they_are_told(at_cup, client, on, ended, began, words):
    hand, made = at_cup
    if ended:
        on(bench.end, hand.number, at="2026-11-26T20:00:00+00:00")
    refused = sends(client, hand, taps(made, 2), began=began).json()["refused"]
    assert len(refused) == 2
    assert all(words in one["said"] for one in refused)
    assert hand.session.state.fallen(made.key, made.pours[0].bottle) == 0


def test_a_session_that_is_gone_is_told(client):
    body = {"began": "", "presses": [{"tap": "a", "values": {"kind": "tap"}}]}
    assert "no session 9999" in client.post("/bench/9999/presses", json=body).json()["refused"][0]["said"]


@pytest.mark.parametrize("ago", ["-50", "nan", "1e99", "soon"])
def test_a_clock_that_is_wrong_moves_nothing_out_of_its_order(at_cup, client, ago):
    hand, made = at_cup
    values = {"kind": "tap", "step": made.key, "bottle": str(made.pours[0].bottle)}
    answer = client.post(f"/bench/{hand.number}/happen", data=values, headers={"X-Ago": ago, "HX-Request": "true"})
    assert answer.status_code == 200
    hand.goes_on(at=clock.now(), value="all")
    own = hand.session
    assert all(one.began <= clock.monotonic_epoch() + 1 for one in own.state.timers)
    assert list(own.state.moments.values()) == sorted(own.state.moments.values())


@pytest.mark.parametrize(
    "body",
    [[], {"presses": []}, {"began": "", "presses": [{"tap": "", "values": {}}]}, {"began": "", "presses": [{}] * 201}],
)
def test_what_is_no_list_of_presses_is_refused_whole(client, body):
    assert client.post("/bench/1/presses", json=body).status_code == 422


def test_the_steps_to_come_are_as_they_will_be_shown(at_cup, client):
    hand, made = at_cup
    ahead = client.get(f"/bench/{hand.number}/ahead").json()
    here = ahead["steps"][ahead["position"] - ahead["first"]]
    assert here["key"] == made.key
    assert ahead["steps"][-1]["key"] == ""  # the page after the last step
    hand.goes_on(value="all")
    shown = client.get(f"/bench/{hand.number}", headers={"HX-Request": "true"}).text
    coming = ahead["steps"][ahead["position"] - ahead["first"] + 1]
    assert coming["words"] in shown
    assert f'data-step="{coming["key"]}"' in shown
    assert f'data-step="{coming["key"]}"' in coming["html"]
