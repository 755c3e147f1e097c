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
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.devices import DevicePanel
from diachrom.web.kit.formatting import coats_words, count, day
from diachrom.web.kit.swatches import BeadString, Swatch, bead_string, swatch
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
    directions: Sequence[str]
    degrees: Sequence[str]
    grounds: Sequence[Group]
    device: DevicePanel
    said: str


def how_words(card: KeptCard) -> str:
    """How a card was sprayed, in one line."""
    draft, how = card.draft, card.how
    told = [
        f"recipe {card.recipe}, version {card.version}" if card.recipe else "a cup",
        coats_words(draft.coats, draft.film_um).lower(),
        "cleared" if draft.clear_coat else SURFACES[draft.surface],
        f"{how.nozzle_mm:g} mm nozzle" if how.nozzle_mm else "",
        f"{how.pressure_bar:.2g} bar" if how.pressure_bar else "",
        f"thinned further by {100 * how.reduction:.0f} %" if how.reduction else "",
    ]
    return ", ".join(one for one in told if one)


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
                "As predicted" if "the same" in one.words else f"{one.words[0].upper()}{one.words[1:]} than predicted"
            )
            figures = f"dE {far:.1f}"
            if one.spread is not None:
                figures += f", {'within' if far <= one.spread else 'beyond'} the usual {one.spread:.1f}"
        if one.eye:
            told = "; ".join(filter(None, [told, f"the eye: {one.eye}"]))
        if one.contradicts:
            told += f"{'. ' if told else ''}The readings contradict each other: set the wrong one aside"
        measured = None if one.measured is None else swatch(prediction.colour_of(one.measured.tolist()))
        readings = [
            PatchReadingView(reading.id, f"{reading.words or _figures(reading.lab)}, {reading.source}", reading.counts)
            for reading in one.patch.readings
        ]
        key = one.patch
        short = count(key.coats, "coat") if key.coats else "bare"
        patch_view = TestPatchView(
            ground=key.ground,
            coats=key.coats,
            words=f"{one.over.words}, {count(one.patch.coats, 'coat')}"
            if one.patch.coats
            else f"{one.over.words}, bare",
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
            "For flakes and glow Diachrom cannot say what one cause would explain."
            if any(one.told for one in seen.patches)
            else ""
        )
    else:
        close = words.closeness(seen.beside.delta_e)
        over = count(len(seen.beside.patches), "patch")
        sentence = f"{close[0].upper()}{close[1:]}: dE {seen.beside.delta_e:.1f} over {over}."
    return TestCardPage(
        number=card.id,
        name=called(card, seen.contents),
        detail=f"Card {card.id} · {day(card.at)} · {how_words(card)}",
        beads=bead_string(card.draft.parts, seen.contents.shelf),
        columns=[PatchColumn(words, sorted(patches, key=lambda one: one.coats)) for words, patches in columns.items()],
        next=next(unread, None),
        sentence=" ".join(filter(None, [card.problem, sentence])),
        causes=[_cause(cause, seen.beside, seen.card.draft.coats) for cause in seen.beside.causes]
        if seen.beside
        else [],
        counts=card.counts,
        unread=not any(patch.readings for patch in card.patches),
        how=_how(card),
        photo=card.photo,
        shots=shots,
        directions=DIRECTIONS,
        degrees=DEGREES,
        grounds=grounds,
        device=device,
        said=said,
    )


def _how(card: KeptCard) -> TestCardHow:
    thicknesses = [(um, key) for key, um in COATS_UM.items()]
    if card.draft.film_um not in COATS_UM.values():
        thicknesses.append((card.draft.film_um, "its own"))
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
    share = f"{100 * cause.explains:.0f} % of it"
    match cause.key:
        case "film":
            really = f"{coats * whole.film:.1f} coats in place of {coats}"
            return f"Film thickness would explain {share}: as if it were {really}."
        case "strength":
            return f"Strength would explain {share}: as if the paints were {cause.value:.2f} times as strong."
        case "hiding":
            return f"Hiding would explain {share}: as if they scattered {cause.value:.2f} times as much."
    lean = "yellower and redder" if cause.value < 0 else "bluer and greener"
    return f"Hue would explain {share}: as if they were {lean} by themselves."
