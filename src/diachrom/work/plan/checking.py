"""The checks of a plan, with what its layers are made of on this bench; mends; what was accepted."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.checks import CHECKS, Finding, findings
from diachrom.core.bait.checks.look import Bottle, Look, Made, Mend, counted, looked
from diachrom.core.bait.plan import BOUNDS, EYES, PREPARATIONS, Plan
from diachrom.core.bait.surface import ROUGH
from diachrom.core.film import seen
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import light
from diachrom.core.mix.draft import LONGEST_NOTE, checked_text
from diachrom.core.mix.hand import Hand
from diachrom.core.mix.layers import spray
from diachrom.core.mix.strip import Over
from diachrom.errors import DiachromError, InvalidInput, NotFound
from diachrom.store import bottles, log, mist, paints, settings
from diachrom.store.connection import writing
from diachrom.store.plans import PlanNow
from diachrom.words import say
from diachrom.work.kit.fields import number_field
from diachrom.work.mix import overspray_history
from diachrom.work.mix.contents import cup_of
from diachrom.work.mix.sprayed_over import over, read_at_once
from diachrom.work.plan import plans, two_part
from diachrom.work.plan.drying import drying_table
from diachrom.work.plan.job import USUAL_DROP_ML, takes
from diachrom.work.plan.painting import LaidLayer, by_this_hand, kept, laid, skin_of

WORK_WORDS = {
    "baits": say("Baits"),
    "temperature_c": say("Temperature, °C"),
    "humidity_percent": say("Humidity, %"),
    "cup_ml": say("Airbrush cup, ml"),
}
WORK_FIELDS = {
    key: number_field(key, words, least=BOUNDS[key][0], most=BOUNDS[key][1]) for key, words in WORK_WORDS.items()
}
SCHOOLS = "schools"  # the setting that holds the checks that this bench does not want


@dataclass(frozen=True, eq=False)
class Checked:
    """What the checks say of a plan."""

    look: Look
    open: Sequence[Finding]
    accepted: Sequence[tuple[str, str, bool]]  # check, note, and whether it would be found still
    schools: Sequence[str]  # checks that this bench does not want


@dataclass(frozen=True)
class Ways:
    """A finding, and which of its mends do mend it: (place among its mends, words)."""

    finding: Finding
    mends: Sequence[tuple[int, str]]


def checked(connection: sqlite3.Connection, plan: Plan, *, of: int | None = None) -> Checked:
    """Look at a plan; with its number, also at what was told later of its baits."""
    look = look_at(connection, plan)
    if of is not None:
        # "Entry 12 of the log: it chipped, told 2026-11-02 (at the tail)."
        look = replace(
            look,
            reported=[
                f"Entry {told.entry} of the log: {log.FAULTS.get(told.fault, told.fault)}, reported {told.at}"
                f"{f' ({told.note})' if told.note else ''}."
                for told in log.reported(connection, of)
            ],
        )
    schools = schools_of(connection)
    every = findings(look, without=frozenset(schools))
    accepted = dict(plan.accepted)
    told = {finding.check.id for finding in every}
    return Checked(
        look,
        [one for one in every if one.check.id not in accepted],
        [(check, note, check in told) for check, note in plan.accepted if check in CHECKS],
        schools,
    )


def with_ways(connection: sqlite3.Connection, plan: Plan, seen: Checked, *, of: int | None = None) -> list[Ways]:
    """What mends each finding: tried on the plan, so that the finding is gone, and nothing else is found that was not
    before."""
    before = _ids(seen.open)

    def ways(one: Finding) -> Ways:
        found, own = [], _ids([one])
        for which, mend in enumerate(one.mends):
            try:
                after = _ids(checked(connection, mend.apply(plan), of=of).open)
            except DiachromError:
                continue
            if not own & after and not after - before:
                found.append((which, mend.words))
        return Ways(one, found)

    every = []
    for finding in seen.open:
        whole = ways(finding)
        alone = [] if whole.mends or len(finding.each) == 1 else [ways(each) for each in finding.apart]
        every += alone if any(each.mends for each in alone) else [whole]
    return every


def _ids(every: Sequence[Finding]) -> set[tuple[str, tuple[int, ...]]]:
    return {(finding.check.id, each.layers) for finding in every for each in finding.each}


def look_at(connection: sqlite3.Connection, plan: Plan, *, picture: bool = True) -> Look:
    """A plan's layers with what they are made of here; without a picture where only amounts are asked for."""
    own, hand = by_this_hand(connection, plan), mist.hand(connection)
    skin = skin_of(connection, own, ROUGH)
    layers = laid(connection, plan.layers)
    recipes = [layer.saved.draft.ground for layer in layers if layer.saved is not None]
    read_at_once(connection, recipes)
    grounds = {key: over(connection, key) for key in recipes}
    shelf = bottles.every(connection)
    prices = {paint.id: paint.price for paint in paints.every_record(connection)}
    waste, clear = (
        overspray_history.learned(connection),
        two_part.asked(connection, {}) if picture else two_part.Asked(),
    )
    made = [
        Made(
            one.painted,
            one.words,
            _bottles(one, shelf, prices),
            _aim(one, grounds, hand),
            takes(layer, own, skin, waste, clear_stays_ml=clear.stays_ml),
        )
        for layer, one in zip(own.layers, layers, strict=True)
    ]
    if not picture:
        return counted(own, made, skin)
    white, black = (plain_paint(connection, word) for word in ("white", "black"))
    scale = (clear.scale_g, two_part.least_to_weigh_ml(connection))
    return looked(own, made, skin, kept, drying=drying_table(connection), white=white, black=black, scale=scale)


Prices = Mapping[str, float | None]  # of a bottle, by paint


def _bottles(one: LaidLayer, shelf: Sequence[bottles.Bottle], prices: Prices) -> tuple[Bottle, ...]:
    if one.held is None or one.saved is None:
        return () if one.record is None else (_of_paint(one.record, shelf, prices),)
    cup = cup_of(one.held)
    shares = [] if cup.empty else cup.fractions.tolist()
    return tuple(
        Bottle(
            row.bottle.full_name,
            row.bottle.kind,
            share,
            condition=row.condition,
            left_ml=row.bottle.left_ml,
            discontinued=row.bottle.discontinued,
            drop_ml=part.drop_ml,
            price_ml=_price_ml(row.bottle, prices),
            paint=row.bottle.paint_id,
            bottle=row.bottle.id,
            drops=part.drops,
        )
        for part, share in zip(one.held.draft.parts, shares, strict=False)
        if (row := one.held.shelf[part.bottle]) and share > 0
    )


def _price_ml(bottle: bottles.Bottle, prices: Prices) -> float | None:
    price = prices.get(bottle.paint_id)
    return None if price is None else price / bottle.size_ml


def _of_paint(record: paints.PaintRecord, shelf: Sequence[bottles.Bottle], prices: Prices) -> Bottle:
    own = [bottle for bottle in shelf if bottle.paint_id == record.id]
    left = sum(max(one.left_ml, 0.0) for one in own)
    states = {one.state for one in own}
    condition = "settled" if states == {"settled"} else "empty" if left <= 0 else ""
    return Bottle(
        record.full_name,
        record.kind,
        1.0,
        condition=condition,
        left_ml=left,
        discontinued=record.discontinued,
        drop_ml=own[0].drop_ml if own else USUAL_DROP_ML,
        price_ml=_price_ml(own[0], prices) if own else None,
        paint=record.id,
        bottle=own[0].id if own else 0,
    )


def _aim(one: LaidLayer, grounds: Mapping[str, Over], hand: Hand) -> Floats | None:
    """The mix as it was meant: a recipe on its own ground in its own coats, a paint in two light coats on white."""
    if one.painted.mix is None or (one.look is None and one.saved is None):
        return None
    day = light("D65")
    try:
        if one.saved is not None and one.held is not None:
            draft = one.saved.draft
            on = grounds[draft.ground]
            layer = replace(hand, times=1.0).layer(cup_of(one.held), draft.film_um, draft.coats)
            seen_there = seen.diffuse(spray([*on.below, layer], streams=4), on.ground, sheen=CLEARED, under=day)
            return lab_of_radiance(seen_there, under=day)
    except DiachromError:
        return None
    return None if one.look is None or one.look.bead is None else np.array(one.look.bead.lab)


def plain_paint(connection: sqlite3.Connection, word: str) -> str:
    """An opaque paint of the shelf that is about white, or about black."""
    best, found = 1e9, ""
    for key, profile in paints.all_profiles(connection).items():
        if profile.kind != "opaque":
            continue
        albedo = profile.scattering / (profile.scattering + profile.absorption + 1e-9)
        middle = float(np.mean(albedo[4:32] ** 4))
        far = 1 - middle if word == "white" else middle
        spread = float(np.ptp(albedo[8:30]))
        if far + spread < min(best, 0.6):
            best, found = far + spread, key
    return found


def set_work(connection: sqlite3.Connection, number: int, form: Mapping[str, str], *, when: str) -> None:
    """What was done to the blank, eyes, conditions, how many baits. Raises InvalidInput."""
    figures = {key: field.value(form[key]) for key, field in WORK_FIELDS.items() if form.get(key, "").strip()}
    fields: dict[str, object] = {key: value for key, value in figures.items() if isinstance(value, float)}
    if "baits" in fields:
        fields["baits"] = round(float(str(fields["baits"])))
    if "of_prepared" in form:
        fields["prepared"] = tuple(key for key in PREPARATIONS if f"prepared-{key}" in form)
    if form.get("eyes") in EYES:
        fields["eyes"] = form["eyes"]

    def worked(plan: Plan) -> Plan:
        return replace(plan, **fields)  # type: ignore[arg-type]

    plans.change(connection, number, worked, did=say("what was done to the blank"), at=when)


def mended(
    connection: sqlite3.Connection, number: int, check: str, layers: str, mend: int, *, when: str
) -> tuple[PlanNow, str]:
    """Mend what a check found on these layers by its `mend`-th way; a step that can be undone. Raises NotFound when
    that is not there any more."""
    way = _way(connection, plans.now(connection, number).plan, check, layers, mend)
    return plans.change(connection, number, way.apply, did=say("“{words}”", words=way.words), at=when), way.words


def previewed(connection: sqlite3.Connection, plan: Plan, check: str, layers: str, mend: int) -> Plan:
    """The plan as it would be. Raises NotFound."""
    return _way(connection, plan, check, layers, mend).apply(plan)


def _way(connection: sqlite3.Connection, plan: Plan, check: str, layers: str, mend: int) -> Mend:
    every = checked(connection, plan).open
    for finding in (*every, *(each for whole in every for each in whole.apart)):
        if finding.check.id == check and layers_of(finding) == layers and mend < len(finding.mends):
            return finding.mends[mend]
    raise NotFound(say("That is fixed already: look at the checks again."), field="check")


def layers_of(finding: Finding) -> str:
    """The layers that a finding is of, by their numbers: what it is known by, wherever it stands in the list."""
    return ",".join(map(str, finding.layers))


def accept(connection: sqlite3.Connection, number: int, check: str, note: str, *, when: str) -> None:
    """Accept a check for this plan, with a note. Raises InvalidInput."""
    if check not in CHECKS:
        raise InvalidInput(say("There is no check called '{check}'.", check=check[:40]), field="check")
    told = checked_text("note", note, LONGEST_NOTE)

    def accepted(plan: Plan) -> Plan:
        return replace(plan, accepted=(*(one for one in plan.accepted if one[0] != check), (check, told)))

    plans.change(connection, number, accepted, did=say("accepting “{words}”", words=CHECKS[check].words), at=when)


def take_back(connection: sqlite3.Connection, number: int, check: str, *, when: str) -> None:
    """Have a check speak again."""
    plans.change(
        connection,
        number,
        lambda plan: replace(plan, accepted=tuple(one for one in plan.accepted if one[0] != check)),
        did=say("hearing a check again"),
        at=when,
    )


def schools_of(connection: sqlite3.Connection) -> list[str]:
    """How this bench's painters differ, by check."""
    return [one for one in settings.every(connection).get(SCHOOLS, "").split() if one in CHECKS]


def set_school(connection: sqlite3.Connection, check: str, *, wanted: bool) -> None:
    """Whether this bench hears a check at all. Raises InvalidInput."""
    if check not in CHECKS:
        raise InvalidInput(say("There is no check called '{check}'.", check=check[:40]), field="check")
    with writing(connection):
        own = [one for one in schools_of(connection) if one != check]
        settings.put(connection, {SCHOOLS: " ".join(own if wanted else [*own, check])})
