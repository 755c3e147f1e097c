"""What scripts read of a bench: its bottles, recipes, plans, orders, sessions and log, as documents."""

from pydantic import BaseModel, ConfigDict, Field

from diachrom.work.kit.documents import Document

MOST, USUAL = 2_000, 100  # of a list at once


class Asked(BaseModel):
    """Which part of a list is wanted: those with every word of `q`, in the order in which they came."""

    q: str = Field(default="", max_length=200, description="words that all stand somewhere in it")
    limit: int = Field(default=USUAL, ge=1, le=MOST, description="no more than so many at once")
    after: int | None = Field(default=None, ge=-1, le=2**53, description="go on after this number")
    newest: bool = Field(default=False, description="the newest first; `after` goes on towards the oldest")

    def part(self, numbers: list[int]) -> tuple[list[int], int | None]:
        """Of numbers in their order those that are wanted, and the last of them where more follow."""
        own = sorted(numbers, reverse=self.newest)
        if self.after is not None:
            own = [one for one in own if (one < self.after if self.newest else one > self.after)]
        more = len(own) > self.limit
        return own[: self.limit], own[self.limit - 1] if more else None


class Listing(Document):
    after: int | None = Field(default=None, description="ask again with it for those that follow; null at the end")


class LedgerLine(Document):
    """What happened to the paint in a bottle."""

    number: int
    at: str = Field(description="when, as 2026-03-31T10:00:00+00:00")
    kind: str = Field(description="bought, poured, corrected, spilled, thrown away")
    ml: float = Field(description="into the bottle, ml; below nothing what left it")
    note: str


class BottleDocument(Document):
    """A bottle on the shelf."""

    number: int
    paint: str = Field(description="the id of the paint in it")
    name: str = Field(description="its paint's line and name")
    kind: str
    left_ml: float = Field(description="what is left, ml; below nothing where it was poured unseen")
    size_ml: float = Field(description="what it holds, ml")
    drop_ml: float
    state: str = Field(description="sealed, open, settled, thick, nearly gone, empty, unreadable label")
    place: str = Field(description="where it stands")
    batch: str = Field(description="the maker's")
    note: str
    bought_on: str | None = Field(description="a day")
    opened_on: str | None = Field(description="a day")
    shaken_on: str | None = Field(description="a day")
    recipe: int | None = Field(description="the number of the recipe that was poured into it; null for a bought paint")


class BottlesAnswer(Listing):
    bottles: list[BottleDocument]


class BottleAnswer(BottleDocument, Listing):
    ledger: list[LedgerLine] = Field(description="what happened to it")


class RecipePart(Document):
    """Drops of one bottle."""

    bottle: int = Field(description="the bottle's number")
    paint: str = Field(description="the id of the paint in it")
    drops: int
    drop_ml: float


class RecipeDocument(Document):
    """A recipe as it was saved."""

    number: int
    version: int
    at: str = Field(description="when it was saved")
    name: str
    note: str
    parts: list[RecipePart]
    ground: str = Field(description="what it is meant to lie on; recipe:14:3 is a recipe as sprayed")
    film_um: float
    coats: int
    clear_coat: bool
    sealed: bool = Field(description="what bleeds stays where it is")
    satin: bool = Field(description="where it is not cleared")
    problem: str = Field(description="what cannot be read of it, a sentence")


class RecipesAnswer(Listing):
    recipes: list[RecipeDocument]


class RecipeAnswer(RecipeDocument, Listing):
    put_away: bool = Field(description="it stepped back from the lists")
    versions: list[RecipeDocument] = Field(description="every version that was saved")


class PlanSummary(Document):
    """A plan in the list."""

    number: int
    name: str
    note: str
    blank: str = Field(description="shape, length, stuff and coating, in words")
    layers: int = Field(description="how many")
    baits: int
    version: int | None = Field(description="the newest that was saved")
    at: str = Field(description="when it was last opened")


class PlansAnswer(Listing):
    plans: list[PlanSummary]


class PlanDocument(BaseModel):
    """A plan's document: a blank and its layers, as they go out as a file."""

    model_config = ConfigDict(extra="allow")
    format: str = Field(description="diachrom-plan")
    version: int = Field(description="of the form of the document")
    name: str = ""
    note: str = ""
    layers: list[dict[str, object]] = Field(default=[], description="bottom first; what is as usual is left out")
    number: int | None = Field(default=None, description="of the plan; ignored where a plan is sent")
    saved_version: int | None = Field(default=None, description="the newest saved; ignored where a plan is sent")


class PlanKept(Document):
    """A plan that was taken from a document."""

    number: int
    problem: str = Field(description="what of the document could not be read, a sentence")


class OrderLineDocument(Document):
    """So many baits of a saved version of a plan."""

    line: int
    plan: int
    version: int
    ordered: int = Field(description="baits")
    baits: int = Field(description="of these to be painted; the others come from the drawer")


class OrderDocument(Document):
    """An order."""

    number: int
    name: str
    customer: str
    wish: str
    price: float | None
    due: str = Field(description='a day, "" for none')
    state: str = Field(description="open, done, away")
    at: str = Field(description="when it was made")
    lines: list[OrderLineDocument]
    baits: int = Field(description="ordered in all")
    baits_done: int = Field(description="painted in all")
    steps_done: int = Field(description="steps of its schedule, one for each bait")


class OrdersAnswer(Listing):
    orders: list[OrderDocument]


class PourDocument(Document):
    """Drops that a step asks for."""

    bottle: int
    name: str
    drops: int
    fallen: int = Field(description="drops that were counted")


class StepDocument(Document):
    """What a session stands at."""

    key: str
    kind: str = Field(description="make, spray, mask, weigh, clear and others")
    words: str = Field(description="what is to be done")
    pours: list[PourDocument]
    cautions: list[str] = Field(description="keys of what has to be confirmed first, by a press of agree")
    plan: int
    layer: int | None
    first_bait: int = Field(description="from 0")
    last_bait: int = Field(description="after the last")


class TimerDocument(Document):
    """What dries, rests or cures."""

    step: str
    words: str
    left_s: float = Field(description="below nothing once it is over, s")
    closes_s: float | None = Field(description="until its recoat window closes, s")


class EventDocument(Document):
    """Something that happened at the bench."""

    number: int
    at: str
    kind: str
    step: str
    what: str
    value: str
    note: str
    bottle: int
    bait: int = Field(description="from 0; -1 is all that the step is of")
    by: str = Field(description="the device or the key that it was pressed with")


class SessionSummary(Document):
    """A session in the list."""

    number: int
    order: int | None
    name: str
    at: str = Field(description="when it began")
    ended: str = Field(description='when it ended, "" while it is under way')


class SessionsAnswer(Listing):
    sessions: list[SessionSummary]


class SessionAnswer(SessionSummary, Listing):
    position: int = Field(description="steps that lie behind")
    steps: int = Field(description="steps in all")
    step: StepDocument | None = Field(description="that it stands at, null after the last")
    timers: list[TimerDocument]
    events: list[EventDocument] = Field(description="what happened")


class FaultDocument(Document):
    """A fault that was told of later."""

    at: str
    fault: str
    note: str


class LogEntry(Document):
    """A batch that was finished."""

    number: int
    at: str = Field(description="when it was finished")
    name: str
    baits: int
    customer: str
    wish: str
    price: float | None
    clear: str = Field(description="its clear coat")
    weight_g: float | None = Field(description="a bait weighs, g")
    minutes: float = Field(description="at the bench, min")
    note: str
    plan: int | None
    version: int | None = Field(description="of the plan")
    session: int | None
    faults: list[FaultDocument]


class LogAnswer(Listing):
    log: list[LogEntry]
