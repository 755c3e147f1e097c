"""What the bench shows: one step that fills the screen, what comes next, and what dries meanwhile."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.session.mends import Way
from diachrom.core.session.script import CAUTIONS, FIRST_GO, BenchStep
from diachrom.core.session.state import DIFFERENT, SLIPS, Event
from diachrom.store.sessions import Session
from diachrom.web.kit.choices import Choice
from diachrom.work.bench import sessions
from diachrom.work.kit.opened import Store

COMING = 3
TOLD = 6  # things that happened, the latest


@dataclass(frozen=True)
class PourView:
    bottle: int
    name: str
    drops: int
    fallen: int
    fill: str
    beads: Sequence[bool]  # whether each fell, in the order of falling

    @property
    def left(self) -> int:
        return max(0, self.drops - self.fallen)


@dataclass(frozen=True)
class TimerView:
    key: str
    words: str
    began: float
    ends: float
    closes: float | None


@dataclass(frozen=True)
class BenchPage:
    number: int
    order: int | None
    name: str
    place: int
    count: int
    step: BenchStep | None
    pours: Sequence[PourView]
    drops_left: int
    cautions: Sequence[tuple[str, str]]
    first_go: str
    coming: Sequence[str]
    timers: Sequence[TimerView]
    told: Sequence[str]
    slip: str
    ways: Sequence[Way]
    paused: bool
    ended: bool
    differents: Sequence[Choice]
    slips: Sequence[Choice]
    said: str


def bench_page(store: Store, session: Session, *, slip: str = "", said: str = "") -> BenchPage:
    state, script = session.state, session.script
    here = script.at(state.position)
    asked = [] if here is None else [one for one in here.cautions if one not in state.agreed]
    return BenchPage(
        number=session.number,
        order=session.order,
        name=session.name,
        place=state.position + 1,
        count=len(script.steps),
        step=here,
        pours=[] if here is None else [_pour(session, here, at) for at in range(len(here.pours))],
        drops_left=0 if here is None else state.left(here),
        cautions=[(one, CAUTIONS[one]) for one in asked if one in CAUTIONS],
        first_go=FIRST_GO,
        coming=[one.words for one in script.steps[state.position + 1 : state.position + 1 + COMING]],
        timers=[TimerView(one.key, one.words, one.began, one.ends, one.closes) for one in state.timers],
        told=[_told(one) for one in sorted((*state.different, *state.slips), key=lambda one: one.at)][-TOLD:],
        slip=slip,
        ways=sessions.mends_here(store, session, slip) if slip else [],
        paused=state.paused,
        ended=bool(session.ended),
        differents=[Choice(key, words) for key, words in DIFFERENT.items()],
        slips=[Choice(key, words) for key, words in SLIPS.items()],
        said=said,
    )


def _pour(session: Session, step: BenchStep, at: int) -> PourView:
    one = step.pours[at]
    fallen = session.state.fallen(step.key, one.bottle)
    return PourView(
        bottle=one.bottle,
        name=one.name,
        drops=one.drops,
        fallen=fallen,
        fill=one.fill,
        beads=[place < fallen for place in range(min(max(one.drops, fallen), 60))],
    )


def _told(one: Event) -> str:
    words = SLIPS.get(one.what, "") if one.kind == "slip" else DIFFERENT.get(one.what, "")
    rest = " ".join(part for part in (one.value, one.note) if part)
    return f"{words[:1].upper()}{words[1:]}{': ' + rest if rest else ''}"
