"""The Family page: light, middle and dark of the mix in the cup, one after the other from one cup."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import reduce

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.mix import prediction
from diachrom.core.mix.draft import Part
from diachrom.core.mix.family import NAMES, SMALLEST_STEP
from diachrom.errors import DiachromError
from diachrom.units import ML
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import GivenForm, OpenStore
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.strip_view import ColumnView, columns
from diachrom.web.kit.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.words import capitalized, listed, quantity, say
from diachrom.work.kit.figures import figure
from diachrom.work.mix import families
from diachrom.work.mix.families import USUAL_ML, USUAL_STEP, FamilySeen, MemberSeen, WantedFamily

router = APIRouter(include_in_schema=False)
STEPS = [Choice("4", say("a touch, dE 4")), Choice("8", say("somewhat, dE 8")), Choice("12", say("clearly, dE 12"))]
MEMBERS = {"light": say("light"), "middle": say("middle"), "dark": say("dark")}
EVEN = 1.5  # dE between the steps, up to which they are called even


@dataclass(frozen=True)
class MemberView:
    name: str
    beads: BeadString
    does: str  # what is poured in, and off
    difference: str
    swatch: Swatch
    columns: Sequence[ColumnView]


@dataclass(frozen=True)
class FamilyPage:
    name: str
    given: str
    names: Mapping[str, str]
    step: str
    steps: Sequence[Choice]
    needs: Sequence[tuple[str, str, str]]  # key, name, ml
    members: Sequence[MemberView]
    sentence: str
    detail: str
    problem: str


def _wanted(asked: Mapping[str, str]) -> WantedFamily:
    """Raises InvalidInput for what is no number."""
    light, middle, dark = (
        figure(asked.get(name, quantity(USUAL_ML, "g")), say("{name}, ml", name=capitalized(MEMBERS[name])), units=ML)
        for name in NAMES
    )
    step = figure(asked.get("step", quantity(USUAL_STEP, "g")), say("Step"))
    return WantedFamily(asked.get("given", "middle")[:20], step, (light, middle, dark))


@router.get("/family")
def show(request: Request, store: OpenStore) -> Response:
    """Light, middle and dark from one cup."""
    asked = {key: value[:20] for key, value in request.query_params.items()}
    seen, problem = None, ""
    try:
        seen = families.see(store, _wanted(asked))
    except DiachromError as error:
        problem = str(error)
    given = asked.get("given", "middle")
    page = FamilyPage(
        name=(seen.contents.draft.name if seen else "") or say("The cup"),
        given=given if given in NAMES else "middle",
        names=MEMBERS,
        step=asked.get("step", quantity(USUAL_STEP, "g")),
        steps=STEPS,
        needs=[(name, MEMBERS[name], asked.get(name, quantity(USUAL_ML, "g"))) for name in NAMES],
        members=[_member(member, first=not index) for index, member in enumerate(seen.members)] if seen else [],
        sentence=_sentence(seen) if seen else "",
        detail=_detail(seen, given) if seen else "",
        problem=problem,
    )
    return render("mix/family.html", page=page, frame=frame(request, store, "mix"))


def _member(one: MemberSeen, *, first: bool) -> MemberView:
    some = listed(f"{drops} {row.bottle.full_name}" for row, drops in one.added)
    parts = [Part(row.bottle.id, drops, row.bottle.drop_ml) for row, drops in one.added]
    where = say("into an empty cup") if first else say("into what is left")
    member = one.member
    return MemberView(
        name=MEMBERS[member.name],
        beads=bead_string(parts, {row.bottle.id: row for row, _ in one.added}),
        does=say(
            "{some} {where}: {cup}. Pour off {taken}.",
            some=some,
            where=where,
            cup=quantity(member.cup_ml, ".2f", "ml"),
            taken=quantity(member.taken_ml, ".2f", "ml"),
        ),
        difference=""
        if first
        else say(
            "{difference} than the one before, dE {step}.",
            difference=capitalized(member.words),
            step=quantity(member.step, ".1f"),
        ),
        swatch=swatch(prediction.colour_of(member.lab.tolist())),
        columns=columns(one.strip),
    )


def _sentence(seen: FamilySeen) -> str:
    names = [MEMBERS[member.member.name] for member in seen.members]
    order = reduce(lambda first, last: say("{first}, then {last}", first=first, last=last), names)
    family = seen.family
    return say(
        "Pour {order}: {poured} in all, {left} left over.",
        order=order,
        poured=quantity(family.poured_ml, ".1f", "ml"),
        left=quantity(family.left_ml, ".2f", "ml"),
    )


def _detail(seen: FamilySeen, given: str) -> str:
    family = seen.family
    even = (
        say("The steps are even")
        if family.uneven <= EVEN
        else say("The steps differ by dE {uneven}", uneven=quantity(family.uneven, ".1f"))
    )
    off = family.given_off
    own = (
        say("is the recipe itself")
        if off < 0.5
        else say("comes within dE {off} of the recipe", off=quantity(off, ".1f"))
    )
    told = say("{even}; the {given} one {own}.", even=even, given=MEMBERS[given], own=own)
    close = "" if off < SMALLEST_STEP else say("Whole drops are coarse in so small a cup: make more.")
    return listed([told, close], " ") if close else told


@router.post("/family/save")
def save(request: Request, store: OpenStore, given: GivenForm) -> Response:
    """Save a member of the family as a recipe."""
    numbers = families.save(store, _wanted({key: value[:20] for key, value in given.items()}), at=clock.now())
    return go(request, f"/recipes/{numbers[0]}")
