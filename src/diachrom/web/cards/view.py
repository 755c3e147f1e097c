"""A spray-out card as its page shows it: every patch predicted beside measured, and what would explain the
difference."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from diachrom.core.cards.by_eye import DEGREES, DIRECTIONS
from diachrom.core.cards.residual_causes import Cause, Comparison
from diachrom.core.film.surface import SURFACES
from diachrom.core.light import words
from diachrom.core.mix import prediction
from diachrom.core.mix.advice import NOZZLES_MM
from diachrom.core.mix.layers import COATS_UM
from diachrom.store.spray_out_cards import KeptCard
from diachrom.web.kit import choices
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.devices import DevicePanel
from diachrom.web.kit.formatting import SIZES, coats_words, day
from diachrom.web.kit.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.words import capitalized, listed, quantity, say, say_as, say_count
from diachrom.work.cards.compare_prediction import TestCardSeen, called


@dataclass(frozen=True)
class PatchReadingView:
    id: int
    words: str
    counts: bool


@dataclass(frozen=True)
class TestPatchView:
    ground: str
    coats: int
    words: str
    short: str  # "2 coats"
    predicted: Swatch
    measured: Swatch | None
    verdict: str
    figures: str  # dE, and the dE that was to be expected
    readings: Sequence[PatchReadingView]


@dataclass(frozen=True)
class PatchColumn:
    """All of a card's patches on one ground."""

    words: str
    patches: Sequence[TestPatchView]


@dataclass(frozen=True)
class TestCardHow:
    """How the card was sprayed, as its form shows it."""

    film_um: float
    thicknesses: Sequence[tuple[float, str]]
    surface: str
    surfaces: Mapping[str, str]
    nozzle_mm: float | None
    nozzles: Sequence[float]
    pressure_bar: float | None
    thinned: float  # percent
    note: str


@dataclass(frozen=True)
class TestCardPage:
    number: int
    name: str
    detail: str
    beads: BeadString
    columns: Sequence[PatchColumn]
    next: TestPatchView | None
    sentence: str
    causes: Sequence[str]
    counts: bool
    unread: bool  # nothing was read of it yet
    how: TestCardHow
    photo: int | None
    shots: Sequence[Choice]
    directions: Sequence[Choice]
    degrees: Sequence[Choice]
    grounds: Sequence[Group]
    device: DevicePanel
    said: str


def how_words(card: KeptCard) -> str:
    """How a card was sprayed, in one line."""
    draft, how = card.draft, card.how
    told = [
        say("recipe {recipe}, version {version}", recipe=card.recipe, version=card.version)
        if card.recipe
        else say("a cup"),
        coats_words(draft.coats, draft.film_um),
        say("cleared") if draft.clear_coat else SURFACES[draft.surface],
        say("{nozzle} nozzle", nozzle=quantity(how.nozzle_mm, "g", "mm")) if how.nozzle_mm else "",
        quantity(how.pressure_bar, ".2g", "bar") if how.pressure_bar else "",
        say("thinned further by {reduction} %", reduction=quantity(100 * how.reduction, ".0f"))
        if how.reduction
        else "",
    ]
    return listed(one for one in told if one)


def card_page(
    seen: TestCardSeen, device: DevicePanel, *, shots: Sequence[Choice], grounds: Sequence[Group], said: str
) -> TestCardPage:
    """A card with its patches, columns by ground."""
    card = seen.card
    columns: dict[str, list[TestPatchView]] = {}
    for one in seen.patches:
        told, figures = "", ""
        far = one.delta_e
        if far is not None and one.patch.coats:
            told = (
                say("As predicted")
                if "the same" in one.words
                else say("{difference} than predicted", difference=capitalized(one.words))
            )
            away = quantity(far, ".1f")
            if one.spread is None:
                figures = say("dE {far}", far=away)
            elif far <= one.spread:
                figures = say("dE {far}, within the usual {spread}", far=away, spread=quantity(one.spread, ".1f"))
            else:
                figures = say("dE {far}, beyond the usual {spread}", far=away, spread=quantity(one.spread, ".1f"))
        if one.eye:
            told = listed(map(str, filter(None, [told, say("the eye: {eye}", eye=one.eye)])), "; ")
        if one.contradicts:
            told = ". ".join(
                map(str, filter(None, [told, say("The readings contradict each other: set the wrong one aside")]))
            )
        measured = None if one.measured is None else swatch(prediction.colour_of(one.measured.tolist()))
        readings = [
            PatchReadingView(reading.id, f"{reading.words or _figures(reading.lab)}, {reading.source}", reading.counts)
            for reading in one.patch.readings
        ]
        key = one.patch
        short = say_count(key.coats, "{count} coat", "{count} coats") if key.coats else say_as("ground", "bare")
        patch_view = TestPatchView(
            ground=key.ground,
            coats=key.coats,
            words=f"{one.over.words}, {say_count(one.patch.coats, '{count} coat', '{count} coats')}"
            if one.patch.coats
            else say("{words}, bare", words=one.over.words),
            short=short,
            predicted=swatch(one.predicted),
            measured=measured,
            verdict=told,
            figures=figures,
            readings=readings,
        )
        columns.setdefault(one.over.words, []).append(patch_view)
    unread = (patch for patches in columns.values() for patch in patches if patch.measured is None)
    if seen.beside is None:
        sentence = (
            say("For flakes and glow Diachrom cannot say what one cause would explain.")
            if any(one.told for one in seen.patches)
            else ""
        )
    else:
        close = words.closeness(seen.beside.delta_e)
        over = say_count(len(seen.beside.patches), "{count} patch", "{count} patches")
        sentence = say(
            "{close}: dE {delta_e} over {over}.",
            close=capitalized(close),
            delta_e=quantity(seen.beside.delta_e, ".1f"),
            over=over,
        )
    return TestCardPage(
        number=card.id,
        name=called(card, seen.contents),
        detail=say("Card {id} · {at} · {how_words}", id=card.id, at=day(card.at), how_words=how_words(card)),
        beads=bead_string(card.draft.parts, seen.contents.shelf),
        columns=[PatchColumn(words, sorted(patches, key=lambda one: one.coats)) for words, patches in columns.items()],
        next=next(unread, None),
        sentence=listed(filter(None, [card.problem, sentence]), " "),
        causes=[_cause(cause, seen.beside, seen.card.draft.coats) for cause in seen.beside.causes]
        if seen.beside
        else [],
        counts=card.counts,
        unread=not any(patch.readings for patch in card.patches),
        how=_how(card),
        photo=card.photo,
        shots=shots,
        directions=choices.said(DIRECTIONS),
        degrees=choices.said(DEGREES),
        grounds=grounds,
        device=device,
        said=said,
    )


def _how(card: KeptCard) -> TestCardHow:
    thicknesses = [(um, SIZES[key]) for key, um in COATS_UM.items()]
    if card.draft.film_um not in COATS_UM.values():
        thicknesses.append((card.draft.film_um, say("its own")))
    how = card.how
    return TestCardHow(
        film_um=card.draft.film_um,
        thicknesses=thicknesses,
        surface=card.draft.surface,
        surfaces=SURFACES,
        nozzle_mm=how.nozzle_mm,
        nozzles=sorted({*NOZZLES_MM, *([how.nozzle_mm] if how.nozzle_mm else [])}),
        pressure_bar=how.pressure_bar,
        thinned=round(100 * how.reduction, 1),
        note=card.note,
    )


def _figures(lab: tuple[float, float, float] | None) -> str:
    return "" if lab is None else f"L {lab[0]:.0f}, a {lab[1]:.0f}, b {lab[2]:.0f}"


def _cause(cause: Cause, whole: Comparison, coats: int) -> str:
    share = say("{explains} % of it", explains=quantity(100 * cause.explains, ".0f"))
    match cause.key:
        case "film":
            really = say("{film} coats in place of {coats}", film=quantity(coats * whole.film, ".1f"), coats=coats)
            return say("Film thickness would explain {share}: as if it were {really}.", share=share, really=really)
        case "strength":
            return say(
                "Strength would explain {share}: as if the paints were {value} times as strong.",
                share=share,
                value=quantity(cause.value, ".2f"),
            )
        case "hiding":
            return say(
                "Hiding would explain {share}: as if they scattered {value} times as much.",
                share=share,
                value=quantity(cause.value, ".2f"),
            )
    lean = say("yellower and redder") if cause.value < 0 else say("bluer and greener")
    return say("Hue would explain {share}: as if they were {lean} by themselves.", share=share, lean=lean)
