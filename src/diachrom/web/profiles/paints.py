"""One paint: the versions of its profile, what stands in for it, what another profile does to its recipes, doubles."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import GUESSED
from diachrom.core.light.words import closeness
from diachrom.core.mix.draft import Part
from diachrom.core.profiles.contrast_card import on_card
from diachrom.core.profiles.substitutes import THIN_UM
from diachrom.store.paints import ProfileVersion
from diachrom.web.kit import guess_view
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import FormRowId, GivenForm, OpenStore, Text, WholeNumber
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.plot import Plot
from diachrom.web.kit.profile_plots import spectra
from diachrom.web.kit.strip_view import ColumnView, columns
from diachrom.web.kit.swatches import BeadString, bead_string, bottle_detail
from diachrom.words import capitalized, listed, quantity, say, say_count
from diachrom.work.kit.looks import look
from diachrom.work.mix.sprayed_over import called
from diachrom.work.profiles import contrast_cards, paint_seen, substitutes
from diachrom.work.profiles import versions as profile_versions
from diachrom.work.profiles.effects import Effect, effects
from diachrom.work.profiles.substitutes import Substitute
from diachrom.work.shelf import keeping

router = APIRouter(include_in_schema=False)


@dataclass(frozen=True)
class ProfileView:
    version: int
    detail: str
    guess: bool
    columns: Sequence[ColumnView]
    plot: Plot | None


@dataclass(frozen=True)
class PaintPage:
    id: str
    name: str
    detail: str
    can_card: bool
    why_no_card: str
    has_colour: bool
    hides: bool
    profiles: Sequence[ProfileView]
    bottles: Sequence[tuple[int, str]]
    recipes: Sequence[tuple[int, str]]
    others: Sequence[Choice]
    double_of: str
    merged_into: str | None


@router.get("/paints/{paint_id}")
def show(request: Request, store: OpenStore, paint_id: str) -> Response:
    """A paint: its profile, its versions, its bottles."""
    seen = paint_seen.see(store, paint_id)
    record, kind = seen.record, KINDS[seen.record.kind]
    others = [Choice(other.id, other.full_name) for other in seen.others]
    marks = [say("discontinued")] * record.discontinued + [say("retired")] * record.retired
    page = PaintPage(
        id=paint_id,
        name=record.full_name,
        detail=listed([kind.words, *marks], " · "),
        can_card=contrast_cards.can_be_carded(record.kind),
        why_no_card=""
        if contrast_cards.can_be_carded(record.kind)
        else say("A drawdown card cannot measure flakes or glow: this profile is described, not measured."),
        has_colour=kind.colours,
        hides=kind.hides,
        profiles=[_profile(version) for version in seen.versions],
        bottles=[
            (
                bottle.id,
                say(
                    "Bottle {number}, {left} left, retired",
                    number=bottle.id,
                    left=quantity(bottle.left_ml, ".0f", "ml"),
                )
                if bottle.retired
                else say("Bottle {number}, {left} left", number=bottle.id, left=quantity(bottle.left_ml, ".0f", "ml")),
            )
            for bottle in seen.bottles
        ],
        recipes=[(recipe.recipe, called(recipe)) for recipe in seen.recipes],
        others=others,
        double_of=seen.double_of,
        merged_into=record.merged_into,
    )
    hiding = guess_view.hiding()
    return render(
        "profiles/paint.html", page=page, seen=guess_view.SEEN, hiding=hiding, frame=frame(request, store, "shelf")
    )


def _profile(version: ProfileVersion) -> ProfileView:
    guess = version.paint.uncertainty >= GUESSED
    within = quantity(100 * version.paint.uncertainty, ".0f")
    if guess:
        said = say("a guess, strength sure within {within} %", within=within)
    else:
        said = say("strength sure within {within} %", within=within)
    seen = look(version.paint)
    plot = None
    if contrast_cards.can_be_carded(version.paint.kind):
        over = [(say("over {key}", key=key), on_card(version.paint, key), False) for key in ("white", "black")]
        plot = spectra(
            say("{film} under clear, over white and black", film=quantity(24, "g", "µm")), over, version.uncertain_nm
        )
    return ProfileView(
        version.version,
        f"{day(version.at)} · {version.source} · {said}",
        guess,
        columns(seen.strip) if seen.bead else [],
        plot,
    )


@router.post("/paints/{paint_id}/card")
def card(request: Request, store: OpenStore, paint_id: str) -> Response:
    """Begin a drawdown card of it."""
    return go(request, f"/contrast-cards/{contrast_cards.begin(store, paint_id, at=clock.now())}")


@router.post("/paints/{paint_id}/guess")
def guess(request: Request, store: OpenStore, paint_id: str, given: GivenForm) -> Response:
    """Guess it anew from another colour."""
    version = profile_versions.guess_again(store, paint_id, given, at=clock.now())
    return go(request, f"/paints/{paint_id}/effects?before={version - 1}&after={version}")


@router.post("/paints/{paint_id}/again")
def again(request: Request, store: OpenStore, paint_id: str, version: FormRowId) -> Response:
    """Go back to an earlier version of its profile."""
    newest = profile_versions.go_back_to(store, paint_id, version, at=clock.now())
    return go(request, f"/paints/{paint_id}/effects?before={newest - 1}&after={newest}")


@router.post("/paints/{paint_id}/merge")
def merge(request: Request, store: OpenStore, paint_id: str, into: Text) -> Response:
    """Bring two paints together that are one."""
    keeping.merge(store, paint_id, into, at=clock.now())
    return go(request, f"/paints/{into}")


@dataclass(frozen=True)
class EffectView:
    recipe: int
    name: str
    beads: BeadString
    before: ColumnView
    after: ColumnView
    words: str


@dataclass(frozen=True)
class EffectsPage:
    id: str
    name: str
    count_words: str
    before: str
    after: str
    effects: Sequence[EffectView]


@router.get("/paints/{paint_id}/effects")
def show_effects(
    request: Request, store: OpenStore, paint_id: str, before: WholeNumber, after: WholeNumber
) -> Response:
    """Each recipe with the paint, before and after."""
    record = paint_seen.record(store, paint_id)
    found, total = effects(store, paint_id, before, after)
    recipes = say_count(total, "{count} recipe with {name}", "{count} recipes with {name}", name=record.full_name)
    if total > len(found):
        recipes = say("{recipes}; the latest {count} are shown", recipes=recipes, count=len(found))
    page = EffectsPage(
        id=paint_id,
        name=record.full_name,
        count_words=say(
            "{recipes}. Each strip: at the left as version {before} of the "
            "profile had it, at the right as version {after} has it.",
            recipes=recipes,
            before=before,
            after=after,
        ),
        before=say("version {before}", before=before),
        after=say("version {after}", after=after),
        effects=[_effect(one) for one in found],
    )
    return render("profiles/effects.html", page=page, frame=frame(request, store, "shelf"))


def _effect(one: Effect) -> EffectView:
    return EffectView(
        recipe=one.saved.recipe,
        name=called(one.saved),
        beads=bead_string(one.saved.draft.parts, one.contents.shelf),
        before=columns(one.before)[0],
        after=columns(one.after)[0],
        words=say(
            "{difference} (dE {delta_e})",
            difference=capitalized(one.words),
            delta_e=quantity(one.delta_e, ".1f"),
        ),
    )


@dataclass(frozen=True)
class SubstituteView:
    key: str
    words: str
    detail: str
    beads: BeadString
    closeness: str
    differs: Sequence[tuple[str, str]]  # ground, what will differ
    columns: Sequence[ColumnView]


@dataclass(frozen=True)
class WantedPage:
    """The paint that is missing; what stands in comes when it is found."""

    id: str
    name: str
    columns: Sequence[ColumnView]


@dataclass(frozen=True)
class SubstitutesPage:
    id: str
    name: str
    singles: Sequence[SubstituteView]
    mixes: Sequence[SubstituteView]
    recipes: Sequence[Choice]


@router.get("/paints/{paint_id}/substitutes")
def find_substitutes(request: Request, store: OpenStore, paint_id: str) -> Response:
    """Mixes that could stand in for it."""
    substitute = substitutes.wanted(store, paint_id)
    page = WantedPage(paint_id, substitute.record.full_name, columns(substitute.look.strip))
    return render("profiles/substitutes.html", page=page, frame=frame(request, store, "shelf"))


@router.get("/paints/{paint_id}/substitutes/found")
def substitutes_found(store: OpenStore, paint_id: str) -> Response:
    """How far the search for them is."""
    found = substitutes.substitutes_for(store, paint_id)
    page = SubstitutesPage(
        paint_id,
        found.wanted.record.full_name,
        [_substitute(substitute) for substitute in found.singles],
        [_substitute(one) for one in found.mixes],
        [Choice(str(version.recipe), called(version)) for version in found.recipes],
    )
    return render("profiles/substitutes_found.html", page=page)


def _substitute(substitute: Substitute) -> SubstituteView:
    rows = {row.bottle.id: row for row, _ in substitute.parts}
    beads = bead_string([Part(row.bottle.id, drops, row.bottle.drop_ml) for row, drops in substitute.parts], rows)
    return SubstituteView(
        key=substitute.key,
        words=listed(f"{drops} {row.bottle.full_name}" for row, drops in substitute.parts)
        if len(substitute.parts) > 1
        else substitute.parts[0][0].bottle.full_name,
        detail=listed((bottle_detail(row) for row, _ in substitute.parts), "; ")
        if len(substitute.parts) == 1
        else listed(f"{row.bottle.name} is a guess" for row, _ in substitute.parts if row.guess),
        beads=beads,
        closeness=say(
            "{closeness}, dE {delta_e} over all grounds and angles",
            closeness=closeness(substitute.found.delta_e),
            delta_e=quantity(substitute.found.delta_e, ".1f"),
        ),
        differs=[
            (say("{what}on {words}", what="thin " if um == THIN_UM else "", words=GROUNDS[key].words), words)
            for key, um, _, words in substitute.found.by_view
        ],
        columns=columns(substitutes.strip_of(substitute)),
    )


@router.post("/paints/{paint_id}/substitutes")
def take_over(request: Request, store: OpenStore, paint_id: str, recipe: FormRowId, parts: Text) -> Response:
    """Take a substitute over into a recipe."""
    saved = substitutes.take_over(store, recipe, paint_id, parts, at=clock.now())
    return go(request, f"/recipes/{saved.recipe}")
