"""A paint onto the shelf, and one bottle: what is left, what happened to it, what is written about it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.film.kinds import KINDS
from diachrom.core.mix.prediction import Colour
from diachrom.core.shelf.keeping import density
from diachrom.core.shelf.measures import MEASURES
from diachrom.errors import InvalidInput
from diachrom.store.bottles import Bottle, StockEntry
from diachrom.web.kit import guess_view
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import GivenForm, OpenStore, RowId, Text
from diachrom.web.kit.formatting import day, weeks
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.plot import Axes, Curve, Plot
from diachrom.web.kit.strip_view import ColumnView, columns
from diachrom.web.kit.swatches import amount_of, bottle_detail
from diachrom.words import listed, quantity, quantity_range, say
from diachrom.work.kit.fields import BOTTLE_FIELDS, LEFT, PAINT_FIELDS, Field
from diachrom.work.kit.figures import figure
from diachrom.work.shelf import keeping, measures, stock, weighing
from diachrom.work.shelf.shelf_index import STATE_WORDS
from diachrom.work.shelf.stock import BottleSeen

router = APIRouter(include_in_schema=False)
LEDGER_SHOWN = 60


@dataclass(frozen=True)
class LedgerLine:
    day: str
    kind: str
    ml: str
    note: str
    recipe: int | None


@dataclass(frozen=True)
class FormField:
    """A field of a form."""

    key: str
    words: str
    value: str
    choices: Sequence[Choice]
    is_day: bool
    is_yes: bool
    longest: int
    needed: bool


@dataclass(frozen=True)
class MeasureView:
    """A measure of powder, and what it weighs."""

    key: str
    words: str
    grams: str
    counts: bool  # the bottle is counted in it


@dataclass(frozen=True)
class BottlePage:
    bottle: int
    paint_id: str
    name: str
    detail: str
    left_ml: str
    empty_g: str  # what an empty bottle like it weighs
    left_now: str  # the same in a field for millilitres
    size_ml: str
    measures: Sequence[MeasureView]  # of a powder
    drop_ul: str
    drops_left: int
    weeks: str
    reminders: Sequence[str]
    facts: Sequence[tuple[str, str]]
    retired: bool
    below_nothing: bool
    columns: Sequence[ColumnView]
    plot: Plot | None
    ledger: Sequence[LedgerLine]
    whole_ledger: bool


def field_views(fields: Sequence[Field], values: Mapping[str, object]) -> list[FormField]:
    """Fields of the table as a form shows them."""
    return [
        FormField(
            key=field.key,
            words=field.words,
            value=_shown(values.get(field.key)),
            choices=[Choice(key, _choice_words(field.key, key)) for key in field.choices],
            is_day=field.key.endswith("_on"),
            is_yes=field.key == "discontinued",
            longest=field.longest,
            needed=field.needed,
        )
        for field in fields
    ]


def _choice_words(field: str, key: str) -> str:
    return KINDS[key].words if field == "kind" else STATE_WORDS.get(key, key)


def _shown(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else ""
    return quantity(value, "g") if isinstance(value, float) else "" if value is None else str(value)


@router.get("/shelf/new")
def new_paint(request: Request, store: OpenStore) -> Response:
    """A form for one more paint."""
    usual = {"kind": "transparent", "size_ml": 30.0, "drop_ul": 50.0, "state": "sealed"}
    fields = field_views([*PAINT_FIELDS, *BOTTLE_FIELDS], usual)
    first = ("name", "line", "kind", "size_ml", "drop_ul", "place")
    return render(
        "shelf/new_paint.html",
        fields=[field for key in first for field in fields if field.key == key],
        more=[field for field in fields if field.key not in first],
        seen=guess_view.SEEN,
        hiding=guess_view.hiding(),
        frame=frame(request, store, "shelf"),
    )


@router.post("/shelf/new")
def add_paint(request: Request, store: OpenStore, given: GivenForm) -> Response:
    """Put it on the shelf."""
    bottle = keeping.add_paint(store, given, at=clock.now())
    return go(request, f"/bottles/{bottle}")


@router.get("/bottles/{bottle}")
def show(request: Request, store: OpenStore, bottle: RowId, ledger: str = "") -> Response:
    """A bottle: what is left, what happened to it."""
    lines = -1 if ledger == "all" else stock.LEDGER_SEEN
    seen = stock.see_bottle(store, bottle, at=clock.now(), lines=lines)
    empty_g = weighing.empty_g(store, seen.row.bottle)
    page = _bottle_page(seen, measures.weighed(store), empty_g, whole=ledger == "all")
    return render("shelf/bottle.html", page=page, frame=frame(request, store, "shelf"))


def _measures(seen: BottleSeen, grams: Mapping[str, float]) -> list[MeasureView]:
    """The measures of a powder, and which of them it is counted in."""
    bottle = seen.row.bottle
    own = bottle.drop_ml * density(bottle.kind)
    return [
        MeasureView(key, one.words, f"{grams[key]:g}", abs(grams[key] - own) < 1e-4) for key, one in MEASURES.items()
    ]


def _bottle_page(seen: BottleSeen, grams: Mapping[str, float], empty_g: float | None, *, whole: bool) -> BottlePage:
    record = seen.record
    row, bottle = seen.row, seen.row.bottle
    # What is written about a bottle and its paint, in the painter's words.
    facts = [
        (say("Place"), bottle.place),
        (say("Spray with"), _joined([_nozzle(record.nozzle_mm), _unit(record.pressure_bar, "bar")])),
        (say("Wants under it"), record.needs_under),
        (say("Wants in it"), record.needs_in),
        (say("Wants over it"), record.needs_over),
        (say("Thinner"), record.thinner),
        (say("Pigments"), record.pigments),
        (say("Batch"), bottle.batch),
        (say("Bought"), day(bottle.bought_on) if bottle.bought_on else ""),
        (say("Opened"), day(bottle.opened_on) if bottle.opened_on else ""),
        (say("Last shaken"), day(bottle.shaken_on) if bottle.shaken_on else ""),
        (
            say("Price of a bottle"),
            "" if record.price is None else quantity(record.price, ".2f", "money"),
        ),
        (say("Note"), _joined([bottle.note, record.note])),
    ]
    return BottlePage(
        bottle=bottle.id,
        paint_id=bottle.paint_id,
        name=bottle.full_name,
        detail=bottle_detail(row),
        left_ml=quantity(bottle.left_ml * density(bottle.kind), ".1f", "g")
        if bottle.weighed
        else quantity(bottle.left_ml, ".1f", "ml"),
        left_now=f"{bottle.left_ml * density(bottle.kind):.1f} g"
        if bottle.weighed
        else quantity(bottle.left_ml, ".1f"),
        empty_g="" if empty_g is None else quantity(empty_g, "g"),
        size_ml=amount_of(bottle, bottle.size_ml),
        measures=_measures(seen, grams) if bottle.weighed else [],
        drop_ul=quantity(1000 * bottle.drop_ml, ".0f"),
        drops_left=row.drops_left,
        weeks=weeks(seen.weeks_left),
        reminders=seen.reminders,
        facts=[(words, value) for words, value in facts if value],
        retired=bottle.retired,
        below_nothing=bottle.left_ml < -1e-6,
        columns=columns(row.look.strip) if row.look.bead else [],
        plot=_stock_plot(seen.ledger, bottle, row.look.bead) if len(seen.ledger) > 1 else None,
        ledger=[_line(entry, bottle) for entry in (seen.ledger if whole else seen.ledger[:LEDGER_SHOWN])],
        whole_ledger=whole or len(seen.ledger) <= LEDGER_SHOWN,
    )


def _line(entry: StockEntry, bottle: Bottle) -> LedgerLine:
    kind = "made" if entry.kind == "bought" and bottle.recipe is not None else entry.kind
    return LedgerLine(
        day(entry.at), stock.HAPPENED.get(kind, kind), quantity(entry.ml, "+.2f"), entry.note, entry.recipe
    )


def _joined(parts: Sequence[str]) -> str:
    return listed(part for part in parts if part)


def _unit(value: float | None, unit: str) -> str:
    return "" if value is None else quantity(value, "g", unit)


def _nozzle(value: float | None) -> str:
    return "" if value is None else say("{size} nozzle", size=quantity(value, "g", "mm"))


def _stock_plot(ledger: Sequence[StockEntry], bottle: Bottle, colour: Colour | None) -> Plot | None:
    """What was left, day by day: steps down with every pour, up with every bottle bought."""
    left = bottle.left_ml
    points: list[tuple[float, float]] = []
    for entry in ledger:  # the newest first: back in time from what is left now
        when = clock.moment(entry.at)
        if when is None:
            left -= entry.ml
            continue
        moment = when.timestamp() / 86400
        points.append((moment, left))
        left -= entry.ml
        points.append((moment, max(left, 0.0)))
    if not points:
        return None
    points.reverse()
    today = datetime.fromisoformat(clock.now()).timestamp() / 86400
    points.append((max(today, points[-1][0] + 1), points[-1][1]))
    axes = Axes(points[0][0], points[-1][0], max(bottle.size_ml, max(y for _, y in points)))
    dots = [] if colour is None else axes.dots([(points[-1][0], colour)])
    end = [type(dot)(dot.x, axes.y(points[-1][1]), dot.fill, dot.p3, chosen=True) for dot in dots]
    top = axes.y_to
    ticks = [
        (axes.y(0), quantity(0.0, "g", "ml")),
        (axes.y(top / 2), quantity(top / 2, "g")),
        (axes.y(top), quantity(top, "g", "ml")),
    ]
    first, last = (day(datetime.fromtimestamp(86400 * x).isoformat()) for x in (points[0][0], points[-1][0]))
    marks = [(axes.x(points[0][0]) + 30, first), (axes.x(points[-1][0]) - 20, last)]
    words = say(
        "Left in the bottle from {first} to {last}: {range}",
        first=first,
        last=last,
        range=quantity_range(points[0][1], points[-1][1], ".1f", "ml"),
    )
    return Plot(
        key="stock",
        title=say("What was left in it"),
        words=words,
        curves=[Curve("", 0, axes.line(points), end)],
        x_ticks=marks,
        y_ticks=ticks,
    )


@router.get("/bottles/{bottle}/change")
def change_form(request: Request, store: OpenStore, bottle: RowId) -> Response:
    """A form for what is known of it."""
    seen = stock.see_bottle(store, bottle, at=clock.now(), lines=1)
    row, record = seen.row.bottle, seen.record
    own = {**vars(row), "drop_ul": round(1000 * row.drop_ml, 2), "bottle_note": row.note}
    return render(
        "shelf/change_bottle.html",
        bottle=row.id,
        name=row.full_name,
        paint_fields=field_views(PAINT_FIELDS, vars(record)),
        bottle_fields=field_views(BOTTLE_FIELDS, own),
        frame=frame(request, store, "shelf"),
    )


@router.post("/bottles/{bottle}/change")
def change(request: Request, store: OpenStore, bottle: RowId, given: GivenForm) -> Response:
    """Change what is known of it."""
    what = given.pop("what", "bottle")
    if what == "paint":
        row = stock.see_bottle(store, bottle, at=clock.now(), lines=1).row.bottle
        keeping.change_paint(store, row.paint_id, {"discontinued": "", **given}, at=clock.now())
    else:
        keeping.change_bottle(store, bottle, given, at=clock.now())
    return go(request, f"/bottles/{bottle}")


@router.post("/bottles/{bottle}/left")
def correct(request: Request, store: OpenStore, bottle: RowId, left_ml: Text) -> Response:
    """Enter what is really left."""
    stock.correct(store, bottle, _amount(LEFT, _in_ml(store, bottle, left_ml)), at=clock.now())
    return go(request, f"/bottles/{bottle}")


def _in_ml(store: OpenStore, bottle: int, text: str) -> str:
    """A powder's grams, written with their unit, as the millilitres that they take."""
    kind = stock.see_bottle(store, bottle, at=clock.now(), lines=1).row.bottle.kind
    ml = keeping.ml_of_grams(text, kind)
    return text if ml is None else f"{ml:.6g}"


@router.post("/bottles/{bottle}/weighed")
def weighed(request: Request, store: OpenStore, bottle: RowId, grams: Text = "", empty_g: Text = "") -> Response:
    """Enter what is left by the weight of the whole bottle."""
    weighing.left_by_weight(
        store,
        bottle,
        grams=figure(grams, say("The whole bottle, g"), key="grams", least=0, most=10_000),
        empty=figure(empty_g, say("An empty one, g"), key="empty_g", least=0, most=10_000),
        at=clock.now(),
    )
    return go(request, f"/bottles/{bottle}")


@router.post("/bottles/{bottle}/measure")
def use_measure(request: Request, store: OpenStore, bottle: RowId, measure: Text, grams: Text) -> Response:
    """Count a powder in a measure that was weighed."""
    measures.use(
        store, bottle, measure, figure(grams.strip().removesuffix("g"), say("Grams"), key="grams"), at=clock.now()
    )
    return go(request, f"/bottles/{bottle}")


def _amount(field: Field, text: str) -> float:
    value = field.value(text)
    if not isinstance(value, float):
        raise InvalidInput(say("{words}: say how much.", words=field.words), field=field.key)
    return value


@router.post("/bottles/{bottle}/happened")
def happened(
    request: Request,
    store: OpenStore,
    bottle: RowId,
    kind: Annotated[Literal["bought", "spilled", "thrown away"], Form()],
    ml: Text = "",
    note: Text = "",
) -> Response:
    """Enter that some was bought, poured, spilled."""
    given = _amount(LEFT, _in_ml(store, bottle, ml))
    stock.happened(store, bottle, kind, given, note=note[:80], at=clock.now())
    return go(request, f"/bottles/{bottle}")


@router.post("/bottles/{bottle}/shaken")
def shaken(request: Request, store: OpenStore, bottle: RowId) -> Response:
    """Enter that it was shaken."""
    keeping.shaken(store, bottle, at=clock.now())
    return go(request, f"/bottles/{bottle}")


@router.post("/bottles/{bottle}/another")
def another(request: Request, store: OpenStore, bottle: RowId) -> Response:
    """One more bottle of the same paint."""
    return go(request, f"/bottles/{keeping.another_bottle(store, bottle, at=clock.now())}")


@router.post("/bottles/{bottle}/retire")
def retire(request: Request, store: OpenStore, bottle: RowId) -> Response:
    """Take it off the shelf."""
    keeping.retire(store, bottle, at=clock.now())
    return go(request, "/shelf")
