"""What the checks say of a plan, what mends it, and the paint that it takes."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Form, Query
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.bait.checks import CHECKS, Finding
from diachrom.core.bait.plan import EYES, PREPARATIONS, Plan
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import GivenForm, OpenStore, RowId, Text
from diachrom.web.kit.pages import render
from diachrom.words import capitalized, listed, say, say_count
from diachrom.work.kit.opened import Store
from diachrom.work.mix import overspray_history
from diachrom.work.plan import checking, pictures, plans
from diachrom.work.plan.job import Job, job, put_on_list

router = APIRouter(include_in_schema=False)
Which = Annotated[int, Form(ge=0, le=1000)]
Asked = Annotated[int, Query(ge=0, le=1000)]
CHANGED = {"HX-Trigger": "plan-changed"}  # the plan's own part of the page is asked for anew


@dataclass(frozen=True)
class FindingView:
    check: str
    layers: str  # that it is of
    title: str
    words: Sequence[str]  # a sentence each of those that are alike
    why: str
    schools: str
    place: tuple[float, float] | None
    mends: Sequence[tuple[int, str]] | None  # None until they were tried
    hand: bool  # nothing that was tried mends it


@dataclass(frozen=True)
class AcceptedView:
    check: str
    title: str
    note: str
    still: bool


@dataclass(frozen=True)
class ChecksPage:
    number: int
    headline: str
    findings: Sequence[FindingView]
    accepted: Sequence[AcceptedView]
    schools: Sequence[Choice]
    prepared: Sequence[tuple[str, str, bool]]
    eyes: Sequence[Choice]
    plan: Plan
    job: Job
    baits: str
    said: str
    to_try: bool  # whether mends are still to be tried


def _finding(finding: Finding, mends: Sequence[tuple[int, str]] | None) -> FindingView:
    return FindingView(
        check=finding.check.id,
        layers=checking.layers_of(finding),
        title=finding.check.words,
        words=[capitalized(each.words) for each in finding.each],
        why=finding.check.why,
        schools=finding.check.schools,
        place=next((each.at for each in finding.each if each.at is not None), None),
        mends=mends,
        hand=bool(finding.mends) and mends is not None and not mends,
    )


def _answer(store: Store, number: int, said: str = "", *, changed: bool = True, ways: bool = False) -> Response:
    plan = plans.now(store, number).plan
    seen = checking.checked(store, plan, of=number)
    if ways:
        rows = [_finding(one.finding, one.mends) for one in checking.with_ways(store, plan, seen, of=number)]
    else:
        rows = [_finding(finding, None if finding.mends else []) for finding in seen.open]
    answer = render(
        "plan/checks.html",
        page=ChecksPage(
            number=number,
            headline=f"{say_count(len(seen.open), '{count} warning', '{count} warnings')}"
            if seen.open
            else "The checks find nothing",
            findings=rows,
            accepted=[AcceptedView(check, CHECKS[check].words, note, still) for check, note, still in seen.accepted],
            schools=[Choice(one, CHECKS[one].words) for one in seen.schools],
            prepared=[(key, words, key in plan.prepared) for key, words in PREPARATIONS.items()],
            eyes=[Choice(key, words) for key, words in EYES.items()],
            plan=plan,
            job=job([seen.look], overspray_history.learned(store)),
            baits=say_count(plan.baits, "{count} bait", "{count} baits"),
            said=said,
            to_try=any(row.mends is None for row in rows),
        ),
    )
    if changed:
        answer.headers.update(CHANGED)
    return answer


@router.get("/plan/{number}/checks")
def show(store: OpenStore, number: RowId, ways: bool = False, said: str = "") -> Response:
    """What is found comes at once; what mends it once that was tried."""
    return _answer(store, number, said[:200], changed=False, ways=ways)


@router.post("/plan/{number}/checks/mend")
def mend(store: OpenStore, number: RowId, check: Text, layers: Text = "", mend: Which = 0) -> Response:
    """Mend what a check found, by one of its ways."""
    _, words = checking.mended(store, number, check[:60], layers, mend, when=clock.now())
    return _answer(store, number, say("{words}: done; undo takes it back.", words=words))


@router.get("/plan/{number}/checks/mend.png")
def preview(store: OpenStore, number: RowId, check: str, layers: str = "", mend: Asked = 0) -> Response:
    """The bait before and after a mend."""
    plan = plans.now(store, number).plan
    made = pictures.mended(store, plan, (check[:60], layers, mend), width=420)
    return Response(made, media_type="image/png", headers={"Cache-Control": "no-store"})


@router.post("/plan/{number}/checks/accept")
def accept(store: OpenStore, number: RowId, check: Text, note: Text = "") -> Response:
    """Accept what a check says for this plan, with a note."""
    checking.accept(store, number, check[:60], note, when=clock.now())
    return _answer(store, number, say("Accepted for this plan."))


@router.post("/plan/{number}/checks/hear")
def hear(store: OpenStore, number: RowId, check: Text) -> Response:
    """Hear a check again that was accepted."""
    checking.take_back(store, number, check[:60], when=clock.now())
    return _answer(store, number)


@router.post("/plan/{number}/checks/school")
def school(store: OpenStore, number: RowId, check: Text, wanted: Annotated[bool, Form()] = False) -> Response:
    """Choose how painters differ: the other school is not warned of."""
    checking.set_school(store, check[:60], wanted=wanted)
    said = say("This check is on again.") if wanted else say("This check is off for all plans on this bench.")
    return _answer(store, number, said, changed=False)


@router.post("/plan/{number}/work")
def work(store: OpenStore, number: RowId, form: GivenForm) -> Response:
    """Change what was done to the blank, the room, and how many baits."""
    checking.set_work(store, number, form, when=clock.now())
    return _answer(store, number)


@router.post("/plan/{number}/list")
def put_down(store: OpenStore, number: RowId) -> Response:
    """What the job takes, onto the shopping list."""
    look = checking.look_at(store, plans.now(store, number).plan, picture=False)
    found = job([look], overspray_history.learned(store))
    recipes, bottles = put_on_list(store, found, when=clock.now())
    said = say_count(recipes, "{count} recipe put on the shopping list.", "{count} recipes put on the shopping list.")
    alone = say_count(
        bottles,
        "{count} layer straight from a bottle: the list follows its level.",
        "{count} layers straight from a bottle: the list follows its level.",
    )
    return _answer(
        store,
        number,
        listed([said, alone], " ") if bottles else said,
        changed=False,
    )
