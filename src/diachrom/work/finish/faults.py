"""What was recorded of a clear coat at the bench, for the causes of its fault."""

import sqlite3
from collections.abc import Mapping
from dataclasses import replace

from diachrom.core.finish.evidence import Facts
from diachrom.core.finish.schools import SCHOOLS
from diachrom.core.session.events import FACTS
from diachrom.core.session.script import BenchStep
from diachrom.errors import InvalidInput
from diachrom.store import sessions
from diachrom.store.sessions import Session
from diachrom.words import say
from diachrom.work.plan import two_part

TYPED = ("a_g", "b_g", "temperature_c", "humidity_percent")
HOUR_S = 3600


def facts_of(connection: sqlite3.Connection, number: int | None, form: Mapping[str, str]) -> Facts:
    """What a session recorded of its last clear coat, and what was typed besides. Raises InvalidInput, NotFound."""
    facts = Facts() if number is None else _recorded(connection, sessions.session(connection, number))
    school = form.get("school", "")
    if school:
        if school not in SCHOOLS:
            raise InvalidInput(say("There is no clear called '{school}'.", school=school[:30]), field="school")
        facts = replace(facts, school=school)
    typed = {key: FACTS[key].value(form[key], key) for key in TYPED if form.get(key, "").strip()}
    return _with(connection, facts, typed)


def _with(connection: sqlite3.Connection, facts: Facts, told: Mapping[str, float]) -> Facts:
    """With what was measured: the air, and what was weighed against the ratio that the sheet asks for."""
    found = replace(
        facts,
        temperature_c=told.get("temperature_c", facts.temperature_c),
        humidity_percent=told.get("humidity_percent", facts.humidity_percent),
    )
    if not (told.get("a_g", 0.0) > 0 and told.get("b_g", 0.0) > 0):
        return found
    own = two_part.asked(connection, {})
    off = told["b_g"] / told["a_g"] / own.resin.weight_ratio - 1
    return replace(found, ratio_off=off, smaller_g=min(told["a_g"], told["b_g"]), scale_g=own.scale_g)


def _recorded(connection: sqlite3.Connection, session: Session) -> Facts:
    state = session.state
    run = [*session.script.before, *state.run(session.script)]
    done = [step for step in run if step.key in state.moments]
    coats = [one for one in done if one.kind == "clear" and one.paint in SCHOOLS]
    prepared = [one for one in run if one.kind == "prepare"]
    wiped = all(one.key in state.done or one in session.script.before for one in prepared) if prepared else None
    if not coats:
        return Facts(wiped=wiped)
    last = coats[-1]
    at = state.moments[last.key]
    weigh = next((one for one in done if one.key == f"{last.key}:weigh"), None)
    told = {**(state.facts.get(weigh.key, {}) if weigh else {}), **state.facts.get(last.key, {})}
    facts = Facts(
        school=last.paint,
        wiped=wiped,
        film_um=two_part.asked(connection, {}).film_um if last.paint == "two-part" else None,
    )
    facts = _with(connection, facts, told)
    if weigh is not None and weigh.dries_s:
        facts = replace(facts, pot_life_used=max(0.0, at - state.moments[weigh.key]) / weigh.dries_s)
    return _since(facts, session, done, coats)


def _since(facts: Facts, session: Session, done: list[BenchStep], coats: list[BenchStep]) -> Facts:
    """How long after the coat before, and after the paint beneath the first."""
    moments = session.state.moments
    at = moments[coats[-1].key]
    if len(coats) > 1 and coats[-2].closes_s is not None:
        before = coats[-2]
        window = (before.dries_s / HOUR_S, (before.closes_s or 0) / HOUR_S)
        return replace(facts, since_last_h=(at - moments[before.key]) / HOUR_S, window_h=window)
    laid = [step for step in done if step.dries_s and step.kind not in ("clear", "weigh", "make")]
    if laid and len(coats) == 1:
        return replace(facts, beneath=max(0.0, at - moments[laid[-1].key]) / laid[-1].dries_s)
    return facts
