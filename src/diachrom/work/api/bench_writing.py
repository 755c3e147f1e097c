"""What scripts write on a bench, by the same ways as a hand: each is one step, and is undone as one. Whatever is sent
again with the key of before is answered as before, and nothing is done twice."""

import hashlib
import sqlite3
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Literal

from pydantic import BaseModel, Field, model_validator

from diachrom import clock
from diachrom.core.mix.cup import LARGEST_DROP_ML, MOST_DROPS, SMALLEST_DROP_ML
from diachrom.core.mix.draft import LONGEST_NAME, LONGEST_NOTE, MOST_BOTTLES, RECIPE_GROUND, Draft, Part
from diachrom.core.session.events import LONGEST_NOTE as LONGEST_SAID
from diachrom.errors import InvalidInput
from diachrom.store import bottles, recipes, script_answers
from diachrom.store.bottles import Bottle
from diachrom.store.connection import writing
from diachrom.store.script_answers import Answered
from diachrom.words import say
from diachrom.work.api import bench_reading
from diachrom.work.api.bench_documents import (
    Asked,
    BottleAnswer,
    LogEntry,
    PlanDocument,
    PlanKept,
    RecipeAnswer,
    SessionAnswer,
)
from diachrom.work.bench import pressed, sessions
from diachrom.work.kit.documents import Document
from diachrom.work.log import entries
from diachrom.work.plan import plans
from diachrom.work.plan.painting import recipe_numbers
from diachrom.work.shelf import stock

LONGEST_KEY = 200
LEDGER = Literal["bought", "poured", "spilled", "thrown away", "corrected"]


class Sent(Document):
    """A document to be kept. What the answer of before told of it is ignored, so that it can be sent back."""

    TOLD: ClassVar[frozenset[str]] = frozenset()

    @model_validator(mode="before")
    @classmethod
    def _without_told(cls, values: Any) -> Any:
        return {key: one for key, one in values.items() if key not in cls.TOLD} if isinstance(values, dict) else values


class PartSent(Sent):
    """Drops of a bottle by its number, or of the paint's bottle that one would reach for."""

    TOLD: ClassVar[frozenset[str]] = frozenset(("index",))
    bottle: int | None = Field(default=None, ge=0, le=2**53, description="the bottle's number")
    paint: str | None = Field(default=None, max_length=80, description="the id of a paint, where no bottle is said")
    drops: int = Field(ge=1, le=MOST_DROPS)
    drop_ml: float | None = Field(
        default=None, ge=SMALLEST_DROP_ML, le=LARGEST_DROP_ML, description="without it the bottle's own, ml"
    )


class RecipeSent(Sent):
    """A recipe to be saved."""

    TOLD: ClassVar[frozenset[str]] = frozenset(
        ("number", "version", "at", "problem", "put_away", "versions", "after"),
    )
    name: str = Field(min_length=1, max_length=LONGEST_NAME)
    note: str = Field(default="", max_length=LONGEST_NOTE)
    parts: list[PartSent] = Field(min_length=1, max_length=MOST_BOTTLES)
    ground: str = Field(default="white", max_length=80, description="white, black, silver-foil ..., or recipe:14:3")
    film_um: float = 8.0
    coats: int = 2
    clear_coat: bool = True
    sealed: bool = Field(default=False, description="what bleeds stays where it is")
    satin: bool = Field(default=False, description="where it is not cleared")


class LineSent(Sent):
    """Something that happened to the paint in a bottle."""

    TOLD: ClassVar[frozenset[str]] = frozenset(("number", "at"))
    kind: LEDGER = Field(description="bought, poured, spilled, thrown away, corrected")
    ml: float | None = Field(default=None, allow_inf_nan=False, description="how much, ml; above nothing")
    left_ml: float | None = Field(default=None, allow_inf_nan=False, description="corrected: what is really left, ml")
    note: str = Field(default="", max_length=LONGEST_NOTE)


class EntrySent(Sent):
    """A batch that was painted before, or elsewhere."""

    TOLD: ClassVar[frozenset[str]] = frozenset(("number", "version", "session", "faults"))
    name: str = Field(min_length=1, max_length=LONGEST_NAME)
    day: str | None = Field(default=None, max_length=10, description="when it was finished; today without it")
    at: str | None = Field(default=None, max_length=40, description="the same as a time, where no day is said")
    baits: int = Field(default=1, ge=1, le=500)
    customer: str = Field(default="", max_length=80)
    wish: str = Field(default="", max_length=LONGEST_NOTE)
    price: float | None = Field(default=None, ge=0, le=1e6)
    clear: str = Field(default="", max_length=80, description="its clear coat")
    weight_g: float | None = Field(default=None, ge=0.01, le=99_999, description="a bait weighs, g")
    minutes: float = Field(default=0.0, ge=0, le=100_000, description="at the bench, min")
    note: str = Field(default="", max_length=LONGEST_NOTE)
    plan: int | None = Field(default=None, ge=0, le=2**53, description="the number of the plan it was painted by")


class PressSent(Document):
    """Something that happens at the bench."""

    kind: str = Field(max_length=20, description="next, back, drop, agree, pause, slip, different and others")
    step: str = Field(default="", max_length=80, description="the key of the step that it is meant for")
    what: str = Field(default="", max_length=80)
    value: str = Field(default="", max_length=80)
    note: str = Field(default="", max_length=LONGEST_SAID)
    bottle: int | None = Field(default=None, ge=0, le=2**53)
    bait: int = Field(default=-1, ge=-1, le=pressed.MOST_BAIT, description="from 0; -1 is all that the step is of")
    layer: int | None = Field(default=None, ge=0, le=10_000)
    place: str = Field(default="", max_length=60, description="side, u, v and mm, as an event tells it")
    ago_s: float = Field(
        default=0.0, ge=0, le=pressed.LONGEST_WAIT_S, description="how long ago it happened, s", allow_inf_nan=False
    )


@dataclass(frozen=True)
class Request:
    """Who asks, with which key, for what."""

    asker: int
    key: str  # "" where none was given
    asked: bytes

    @property
    def digest(self) -> str:
        """By which another request with the same key is told."""
        return hashlib.sha256(self.asked).hexdigest()


def once(connection: sqlite3.Connection, request: Request, write: Callable[[], BaseModel], *, status: int) -> Answered:
    """Write, and keep what was answered together with it; or the answer of before. Raises InvalidInput for a key that
    stood with another request, and what `write` raises."""
    if len(request.key) > LONGEST_KEY or not request.key.isprintable():
        raise InvalidInput(
            say("An Idempotency-Key has up to {most} plain characters.", most=LONGEST_KEY), field="Idempotency-Key"
        )
    with writing(connection):
        known = script_answers.of(connection, request.asker, request.key) if request.key else None
        if known is not None and known.asked != request.digest:
            raise InvalidInput(
                say("This Idempotency-Key stood with another request before: take a new one for each."),
                field="Idempotency-Key",
            )
        if known is not None:
            return known
        answered = Answered(request.digest, status, write().model_dump_json())
        if request.key:
            script_answers.keep(connection, request.asker, request.key, answered)
        return answered


def recipe(connection: sqlite3.Connection, sent: RecipeSent, number: int | None = None, *, at: str) -> RecipeAnswer:
    """Save a new recipe, or the next version of one; the same as the newest makes no double. Raises BottleNotFound,
    PaintNotFound, RecipeNotFound, InvalidInput."""
    draft = _draft(connection, sent)
    newest = None if number is None else recipes.version(connection, number)
    if newest is None:
        made = recipes.new_recipe(connection)
        newest = recipes.add_version(connection, draft, recipe=made, parent_version=None, at=at)
    elif newest.draft.kept() != draft:
        newest = recipes.add_version(connection, draft, recipe=newest.recipe, parent_version=newest.version, at=at)
    return bench_reading.recipe_of(connection, newest.recipe, Asked(newest=True, limit=1))


def _draft(connection: sqlite3.Connection, sent: RecipeSent) -> Draft:
    counted: dict[int, Part] = {}
    for index, one in enumerate(sent.parts):
        bottle = _bottle(connection, one, f"parts[{index}]")
        before = counted[bottle.id].drops if bottle.id in counted else 0
        counted[bottle.id] = Part(bottle.id, min(before + one.drops, MOST_DROPS), one.drop_ml or bottle.drop_ml)
    draft = Draft(parts=tuple(counted.values())).named(name=sent.name, note=sent.note)
    how = {key: getattr(sent, key) for key in ("film_um", "coats", "clear_coat", "sealed", "satin")}
    if sent.ground.startswith(RECIPE_GROUND):
        numbers = recipe_numbers(sent.ground)
        if numbers is None:
            raise InvalidInput(say("'{ground}' is no recipe.", ground=sent.ground), field="ground")
        recipes.version(connection, *numbers)
    return draft.sprayed(**how).over(sent.ground).to_save()


def _bottle(connection: sqlite3.Connection, part: PartSent, field: str) -> Bottle:
    if part.bottle is not None:
        return bottles.one(connection, part.bottle)
    own = [] if part.paint is None else bottles.of_paint(connection, part.paint)
    standing = [bottle for bottle in own if not bottle.retired]
    if not standing:
        sentence = (
            say("Say which bottle, by its number or its paint.")
            if part.paint is None
            else say("No bottle of '{paint}' is on the shelf.", paint=part.paint)
        )
        raise InvalidInput(sentence, field=field)
    return standing[0]


def ledger_line(connection: sqlite3.Connection, number: int, sent: LineSent, *, at: str) -> BottleAnswer:
    """Enter what happened to a bottle; what is answered has the new line alone, none where nothing changed. Raises
    BottleNotFound, InvalidInput."""
    before = {line.id for line in bottles.ledger(connection, number)}
    given, needed = (sent.left_ml, "left_ml") if sent.kind == "corrected" else (sent.ml, "ml")
    if given is None:
        raise InvalidInput(say("'{kind}' needs {field}.", kind=sent.kind, field=needed), field=needed)
    if sent.kind == "corrected":
        stock.correct(connection, number, given, at=at)
    else:
        stock.happened(connection, number, sent.kind, given, note=sent.note, at=at)
    answer = bench_reading.bottle_of(connection, number, Asked(newest=True, limit=2))
    new = [line for line in answer.ledger if line.number not in before]
    return answer.model_copy(update={"ledger": new, "after": None})


def plan(connection: sqlite3.Connection, sent: PlanDocument, number: int | None = None, *, at: str) -> PlanKept:
    """A new plan out of a document; or one that stands becomes as the document has it, in one step. Raises BadFile,
    NotFound."""
    name, values = say("a document"), sent.model_dump(exclude={"number", "saved_version"})
    if number is None:
        made, problem = plans.from_document(connection, name, values, at=at)
        return PlanKept(number=made, problem=problem)
    own, problem = plans.read_document(name, values)
    plans.change(
        connection,
        number,
        lambda standing: replace(own, reference=standing.reference),
        did=say("a document in its place"),
        at=at,
    )
    return PlanKept(number=number, problem=problem)


def log_entry(connection: sqlite3.Connection, sent: EntrySent, *, at: str) -> LogEntry:
    """A bait that was painted before, or elsewhere. Raises InvalidInput, NotFound."""
    told = sent.model_dump(exclude={"at"}, exclude_none=True)
    if sent.day is None and sent.at is not None:
        told["day"] = sent.at[:10]
    made = entries.new(connection, {key: str(value) for key, value in told.items()}, at=at)
    return bench_reading.log_entries(connection, [made])[0]


def press(connection: sqlite3.Connection, number: int, sent: PressSent, *, by: str) -> SessionAnswer:
    """Something that happens at the bench; what is answered has that event alone. Raises InvalidInput, NotFound."""
    at = pressed.moment_of(sent.ago_s)
    before = sessions.session(connection, number).seq
    values = {key: str(value) for key, value in sent.model_dump(exclude={"ago_s"}, exclude_none=True).items()}
    event = pressed.event_of(connection, number, values, at=at, by=by)
    sessions.record_event(connection, number, event, at=clock.iso(at))
    return bench_reading.session_of(connection, number, Asked(after=before))
