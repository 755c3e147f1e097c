"""A drawdown card as its page shows it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from diachrom.core.light.lights import light
from diachrom.core.mix.layers import COATS_UM
from diachrom.core.mix.prediction import colours
from diachrom.core.profiles.contrast_card import PASS_UM, on_card
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.devices import DevicePanel
from diachrom.web.kit.formatting import SIZES
from diachrom.web.kit.plot import Plot
from diachrom.web.kit.profile_plots import spectra
from diachrom.web.kit.strip_view import ColumnView, columns
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.words import Quantity, listed, quantity, say, say_count
from diachrom.work.kit.looks import look
from diachrom.work.kit.opened import Store
from diachrom.work.profiles import card_sprayed, contrast_cards
from diachrom.work.profiles.contrast_cards import ContrastCardSeen, Derived, FieldSeen


@dataclass(frozen=True)
class FieldReadingView:
    id: int
    words: str
    swatch: Swatch
    counts: bool


@dataclass(frozen=True)
class CardFieldView:
    key: str
    words: str
    swatch: Swatch | None
    detail: str
    readings: Sequence[FieldReadingView]


@dataclass(frozen=True)
class DerivedView:
    sentence: str
    figures: str
    doubtful: str
    saturated: str
    misfit: str  # what helps where its fields do not fit each other
    unsure: str  # why it is not accepted as it is
    plot: Plot
    before: Sequence[ColumnView]
    after: Sequence[ColumnView]


@dataclass(frozen=True)
class ContrastHow:
    """How it was sprayed, as the form shows it."""

    film_um: float
    thicknesses: Sequence[tuple[float, str]]
    steps: str
    films: str  # "2, 8 and 24 µm"
    clear_coat: bool
    whites: Sequence[Choice]
    white_paint: str
    white_drops: int


@dataclass(frozen=True)
class ContrastCardPage:
    card: int
    paint_id: str
    name: str
    how: ContrastHow
    fields: Sequence[CardFieldView]
    next_field: str  # the first that was not measured yet
    derived: DerivedView | None
    problem: str
    missing: str
    accepted: int | None
    shots: Sequence[Choice]
    device: DevicePanel
    said: str


def card_page(
    store: Store, seen: ContrastCardSeen, device: DevicePanel, *, shots: Sequence[Choice], said: str = ""
) -> ContrastCardPage:
    """A drawdown card: its fields, the profile that they give, what it changes."""
    missing = [one.field.key for one in seen.fields if one.mean is None]
    return ContrastCardPage(
        card=seen.card.id,
        paint_id=seen.card.paint_id,
        name=seen.record.full_name,
        how=_how(store, seen),
        fields=[_field(field) for field in seen.fields],
        next_field=missing[0] if missing else "",
        derived=_derived(seen, seen.derived) if seen.derived else None,
        problem=seen.problem,
        missing=listed(seen.missing),
        accepted=seen.card.version,
        shots=shots,
        device=device,
        said=said,
    )


def _how(store: Store, seen: ContrastCardSeen) -> ContrastHow:
    card = seen.card
    thick = [passes * card.film_um for passes in card.steps]
    usual = [(PASS_UM, say("mist pass")), *((um, say("{size} coat", size=SIZES[key])) for key, um in COATS_UM.items())]
    return ContrastHow(
        film_um=card.film_um,
        thicknesses=usual if card.film_um in dict(usual) else [*usual, (card.film_um, say("as it was"))],
        steps=listed(str(passes) for passes in card.steps),
        films=Quantity(thick, "g", "µm", "and"),
        clear_coat=card.clear_coat,
        whites=[
            Choice("", say("none")),
            *(Choice(paint.id, paint.full_name) for paint in card_sprayed.whites_for(store, card)),
        ],
        white_paint=card.white_paint or "",
        white_drops=card.white_drops,
    )


SOURCES: dict[str, Callable[[str], str]] = {
    "reader": lambda name: say("reader: {name}", name=name),
    "photo": lambda name: say("photo: {name}", name=name),
    "file": lambda name: say("file: {name}", name=name),
}


def _source(kept: str) -> str:
    kind, _, name = kept.partition(":")
    return SOURCES[kind](name.strip()) if kind in SOURCES else kept


def _field(field: FieldSeen) -> CardFieldView:
    day = light("D65")
    readings = [
        FieldReadingView(
            reading.id,
            _source(reading.source),
            swatch(colours(contrast_cards.spectrum_of(reading)[None], under=day)[0]),
            reading.counts,
        )
        for reading in field.readings
    ]
    key, words = field.field.key, field.field.words
    if field.mean is None:
        return CardFieldView(key, words, None, say("not measured yet"), readings)
    mean = swatch(colours(field.mean[None], under=day)[0])
    counted = sum(field_reading.counts for field_reading in readings)
    apart = ", " + say("within dE {apart} of their mean", apart=quantity(field.apart, ".1f")) if counted > 1 else ""
    said = f"{mean.name} · {say_count(counted, '{count} reading', '{count} readings')}{apart}"
    return CardFieldView(key, words, mean, said, readings)


def _derived(seen: ContrastCardSeen, found: Derived) -> DerivedView:
    hides = (
        say("hides almost completely")
        if found.contrast_ratio > 0.95
        else say("hides {contrast_ratio} %", contrast_ratio=quantity(100 * found.contrast_ratio, ".0f"))
    )
    strong = found.stronger
    strength = (
        say("and is as strong as the profile so far")
        if abs(strong - 1) < 0.03
        else f"and is {100 * abs(strong - 1):.0f} % {'stronger' if strong > 1 else 'weaker'} than the profile so far"
    )
    if not found.sure:
        strength = say("but the card does not show how strong it is")
    thickest = max(seen.card.steps)
    lines = [(say("over {key}", key=key), on_card(found.paint, key), False) for key in ("white", "black")]
    means = {field.field.key: field.mean for field in seen.fields}
    shown = (f"over_{key}:{thickest}" for key in ("white", "black"))
    lines += [("", mean, True) for key in shown if (mean := means.get(key)) is not None]
    sheen = (
        ""
        if seen.card.clear_coat
        else " · " + say("its surface has a sheen of {sheen} %", sheen=quantity(100 * found.sheen, ".1f"))
    )
    doubtful, saturated = len(found.uncertain_nm), found.saturated_nm
    return DerivedView(
        sentence=say(
            "It {hides} in {thickest}, {strength}.",
            hides=hides,
            thickest=quantity(found.thickest_um, "g", "µm"),
            strength=strength,
        ),
        figures=say(
            "Contrast ratio {contrast_ratio} · the card is met within dE {fit_delta_e} · strength "
            "sure within {uncertainty} %{sheen}",
            contrast_ratio=quantity(found.contrast_ratio, ".2f"),
            fit_delta_e=quantity(found.fit_delta_e, ".1f"),
            uncertainty=quantity(100 * found.paint.uncertainty, ".0f"),
            sheen=sheen,
        ),
        doubtful=say(
            "{doubtful} of 36 bands are doubtful (hatched): the readings do not show them; they "
            "follow their neighbours.",
            doubtful=doubtful,
        )
        if doubtful
        else say("No band is doubtful."),
        saturated=say(
            "From {saturated} to {last} nm even the thinnest film absorbs all the light: "
            "there it cannot show how strong the paint is.",
            saturated=quantity(saturated[0], ".0f"),
            last=quantity(saturated[-1], ".0f"),
        )
        if saturated
        else "",
        unsure="" if found.sure or seen.card.version is not None else contrast_cards.how_to_be_sure(found),
        misfit=say(
            "Its fields do not fit each other: dE {off} in the worst. Spray them wet, or let your dots be found under"
            " Your mist.",
            off=quantity(found.fit_delta_e, ".1f"),
        )
        if found.doubtful
        else "",
        plot=spectra("Solid: 24 µm by the new profile; dashed: the thickest film as read", lines, found.uncertain_nm),
        before=columns(look(seen.before).strip),
        after=columns(look(found.paint).strip),
    )
