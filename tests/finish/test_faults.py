"""Faults of a clear: what was recorded speaks first, and what was ruled out is said."""

import pytest

from diachrom.core.finish.evidence import Facts
from diachrom.core.finish.faults import BY_FAULT, CAUSES, FAULTS, causes
from diachrom.core.finish.schools import SCHOOLS
from diachrom.errors import InvalidInput
from diachrom.store.connection import writing
from diachrom.work.finish import faults


def first(fault, **facts):
    return causes(fault, Facts(**facts))[0].cause.key


def test_every_fault_has_causes_and_every_cause_a_fault():
    assert set(BY_FAULT) == set(FAULTS)
    assert {key for keys in BY_FAULT.values() for key in keys} == set(CAUSES)


@pytest.mark.parametrize(
    ("fault", "facts", "cause"),
    [
        ("tacky", {"ratio_off": 0.16, "temperature_c": 21}, "ratio"),
        ("tacky", {"ratio_off": 0.01, "temperature_c": 12}, "cold"),
        ("tacky", {"ratio_off": 0.0, "temperature_c": 21, "smaller_g": 0.1, "scale_g": 0.1}, "small"),
        ("tacky", {"ratio_off": 0.0, "beneath": 0.1}, "beneath"),
        ("tacky", {"school": "dip", "humidity_percent": 20}, "dry-air"),
        ("fish-eyes", {"wiped": False}, "wiped"),
        ("bubbles", {"pot_life_used": 1.3}, "pot"),
        ("orange-peel", {"pot_life_used": 0.2, "temperature_c": 34}, "warm"),
        ("sag", {"film_um": 300.0}, "thick"),
        ("haze", {"humidity_percent": 88}, "humid"),
        ("brush-hair", {}, "dust"),
        ("delaminated", {"since_last_h": 40.0, "window_h": (1.0, 6.0)}, "late"),
        ("delaminated", {"since_last_h": 4.0, "window_h": (1.0, 6.0), "wiped": False}, "keyed"),
    ],
)
def test_the_likeliest_cause_is_what_was_recorded(fault, facts, cause):
    assert first(fault, **facts) == cause


def test_what_was_right_is_ruled_out_and_told_why():
    found = {one.cause.key: one for one in causes("tacky", Facts(ratio_off=0.002, temperature_c=22))}
    assert found["ratio"].ruled_out
    assert "to the gram" in found["ratio"].seen
    assert found["cold"].ruled_out
    assert not found["stirred"].ruled_out


def test_a_dip_has_no_ratio():
    for fault in FAULTS:
        assert not {"ratio", "small", "pot", "turner"} & {one.cause.key for one in causes(fault, Facts(school="dip"))}


@pytest.mark.parametrize("school", SCHOOLS)
def test_each_school_has_something_to_say_of_each_fault(school):
    assert all(causes(fault, Facts(school=school)) for fault in FAULTS)


def test_what_there_is_not_is_said(client):
    with pytest.raises(InvalidInput, match="no fault called 'moon'"):
        causes("moon", Facts())
    for query in ("fault=moon", "fault=tacky&school=moon", "fault=tacky&a_g=x", "fault=tacky&temperature_c=900"):
        assert client.get(f"/finish/faults?{query}").status_code == 422
    assert client.get("/finish/faults?session=999").status_code == 404


def test_the_page_takes_what_was_typed_for_the_ratio_of_the_sheet(client):
    page = client.get("/finish/faults?fault=tacky&a_g=5&b_g=5").text  # 0.864 g of B go with each of A
    assert "16 % too much of B was weighed" in page
    assert page.index("mixing ratio was off") < page.index("Too cold")


def cleared(hand, at, *, a_g="1.16", b_g="1.0", temperature="20", humidity="50", waited_s=0):
    """On to the weighing, and the clear some time after it."""
    hand.goes_to(lambda step: step.kind == "weigh")
    moment = at
    for what, value in (("a_g", a_g), ("b_g", b_g)):
        hand.does("fact", what=what, value=value, at=moment)
    for caution in hand.here.cautions:
        hand.does("agree", what=caution, at=moment)
    hand.does("next", step=hand.here.key, at=moment)
    later = f"2026-11-27T{18 + waited_s // 3600:02d}:{waited_s % 3600 // 60:02d}:00+00:00"
    for what, value in (("temperature_c", temperature), ("humidity_percent", humidity)):
        hand.does("fact", what=what, value=value, at=later)
    hand.does("next", step=hand.here.key, at=later)


def test_a_session_tells_what_it_recorded(over_plan, on):
    hand = over_plan()
    cleared(hand, "2026-11-27T18:00:00+00:00", b_g="1.5", temperature="13", waited_s=3600)
    facts = on(faults.facts_of, hand.number, {})
    assert facts.school == "two-part"
    assert facts.ratio_off == pytest.approx(1.5 / 1.16 / (0.95 / 1.10) - 1)
    assert facts.temperature_c == 13
    assert facts.humidity_percent == 50
    assert facts.pot_life_used == pytest.approx(3600 / 2970, rel=0.01)
    assert facts.wiped is True
    assert facts.beneath == pytest.approx(25 * 3600 / 85260, rel=0.05)  # a day and an hour after it was signed
    assert causes("tacky", facts)[0].cause.key == "ratio"


def damage(connection):
    with writing(connection):
        connection.execute("UPDATE session SET state = replace(state, '\"a_g\": 1.16', '\"a_g\": 0')")


def test_a_part_that_weighs_nothing_by_a_damaged_row_is_no_ratio(over_plan, on, client):
    hand = over_plan()
    cleared(hand, "2026-11-27T18:00:00+00:00", b_g="1.5", temperature="13", waited_s=3600)
    on(damage)
    assert on(faults.facts_of, hand.number, {}).ratio_off is None
    assert client.get(f"/finish/faults?session={hand.number}&fault=tacky").status_code == 200


def test_of_a_session_without_a_clear_only_the_wiping_is_known(on):
    facts = on(faults.facts_of, 1, {})
    assert (facts.wiped, facts.ratio_off, facts.beneath) == (True, None, None)
