"""What the bench shows: one step that fills the screen, what comes next, and what dries meanwhile."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from diachrom import clock
from diachrom.core.session import places
from diachrom.core.session.events import COLOURS, DIFFERENT, FACTS, LEFTOVERS, SLIPS, Event, told
from diachrom.core.session.mends import Way
from diachrom.core.session.pouring import cup_step
from diachrom.core.session.script import CAUTIONS, FIRST_GO, LEFT, POT, RIGHT, SIDES, BenchStep
from diachrom.core.session.state import MOST_BACK, Timer
from diachrom.store.sessions import Session
from diachrom.web.kit.choices import Choice
from diachrom.words import listed, quantity, say
from diachrom.work.bench import baits, repairs, sessions
from diachrom.work.bench.baits import BaitNow
from diachrom.work.bench.recounting import Strayed, strayed
from diachrom.work.kit.opened import Store
from diachrom.work.shelf import on_shelf

COMING = 3
TOLD = 8  # things that happened, the latest
BEADS = 60
MOST_PHOTOS = 4
MOST_LAYERS = 8  # to choose from, where one went wrong
MEASURED = {"weigh": ("a_g", "b_g"), "clear": ("temperature_c", "humidity_percent")}  # at a kind of step


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
        """Drops that are still to fall."""
        return max(0, self.drops - self.fallen)


@dataclass(frozen=True)
class FactView:
    key: str
    words: str
    value: str


@dataclass(frozen=True)
class Twin:
    """The other side of the bait."""

    words: str  # "The left side had"
    settings: Sequence[str]


@dataclass(frozen=True)
class PhotoView:
    photo: int
    words: str


@dataclass(frozen=True)
class Slipped:
    """A slip that is not mended yet."""

    words: str
    bait: int
    ways: Sequence[Way]
    where: str = ""  # on the bait, in words
    place: str = ""


@dataclass(frozen=True)
class BenchPage:
    number: int
    seq: int
    began: str  # by which another session of the same number is told
    name: str
    place: int
    count: int
    step: BenchStep | None
    again: bool  # this step was done before
    pours: Sequence[PourView]
    drop: PourView | None  # that falls next
    drops_left: int
    strayed: Strayed | None  # its count has another ratio than its recipe
    by_eye: bool  # a puff of the cup on Mix is judged here
    twin: Twin | None
    facts: Sequence[FactView]
    cautions: Sequence[tuple[str, str]]
    first_go: str
    now: float  # the session's time, s
    coming: Sequence[str]
    timers: Sequence[Timer]
    pot: str  # how a timer says that it is of a pot life
    told: Sequence[tuple[str, int]]  # words, and the jar that came of it, 0 for none
    can_unsay: bool  # the last of it
    changed: bool  # something was not as planned
    changed_here: bool  # at this step, or in the cup that it is sprayed from
    cup: bool  # something was mixed up to here
    cup_astray: bool  # and is not as it was meant, with nothing done about it
    slipped: Slipped | None  # at this step
    unmended: Slipped | None  # before it, with nothing done about it
    layers: Sequence[Choice]  # that something may have gone wrong with, the last first
    left_over: str  # the mix that may be left over
    left_now: bool  # nothing to come uses it
    photos: Sequence[PhotoView]
    both_sides: bool
    baits: Sequence[BaitNow]  # each, where there are several
    paused: bool
    ended: bool
    choices: "Choices"


@dataclass(frozen=True)
class Choices:
    """What can be said at any step."""

    differents: Sequence[Choice]
    colours: Sequence[Choice]
    slips: Sequence[Choice]
    leftovers: Sequence[Choice]
    sides: Sequence[Choice]
    zones: Sequence[tuple[str, str]]
    most_back: int = MOST_BACK


def _choices(words: Mapping[str, str]) -> list[Choice]:
    return [Choice(key, told) for key, told in words.items()]


CHOICES = Choices(
    differents=[
        Choice(key, listed([words, figure.unit]) if figure.unit else words)
        for key, (words, figure) in DIFFERENT.items()
        if figure is not None
    ],
    colours=_choices(COLOURS),
    slips=_choices(SLIPS),
    leftovers=_choices(LEFTOVERS),
    sides=_choices(SIDES),
    zones=[(key, words) for key, (words, _, _) in places.ZONES.items()],
)


def bench_page(store: Store, session: Session) -> BenchPage:
    """A session as it stands, with the step that is to be done now."""
    state = session.state
    run, here = state.run(session.script), state.here(session.script)
    slipped = None if here is None else _slipped(store, session, here)
    pours = [] if here is None else [_pour(session, here, index) for index in range(len(here.pours))]
    left = sessions.left_over(session)
    own = [event for event in session.state.photos if event.value.isdecimal()]
    return BenchPage(
        number=session.number,
        seq=session.seq,
        began=session.at,
        name=session.name,
        place=state.position + 1,
        count=len(run),
        step=here,
        again=here is not None and here.key in state.done,
        pours=pours,
        drop=next((pour for pour in pours if pour.left), None),
        drops_left=0 if here is None else state.left(here),
        strayed=None if session.ended else strayed(store, session, here),
        by_eye=here is not None and here.kind == "try" and any(one.mix.startswith(sessions.CUP) for one in run),
        twin=None if here is None or not here.twin else _twin(session, here),
        facts=[] if here is None else _facts(session, here),
        cautions=[] if here is None else _cautions(session, here),
        first_go=FIRST_GO,
        now=state.now(clock.monotonic_epoch()),
        coming=[step.words for step in run[state.position + 1 :][:COMING]],
        timers=state.timers,
        pot=POT,
        told=[(told(one), one.bottle if one.kind in ("left", "afresh") else 0) for one in state.all_told()][-TOLD:],
        can_unsay=bool(state.different) and state.all_told()[-1] == state.different[-1] and not session.ended,
        changed=_is_changed(session, run),
        changed_here=here is not None and (_is_changed(session, [here]) or _is_cup_astray(session)),
        cup=cup_step(session.script, state) is not None,
        cup_astray=_is_cup_astray(session),
        slipped=slipped,
        unmended=None if here is None or slipped is not None else _unmended(store, session),
        layers=[Choice(str(number), words) for number, words in repairs.layers_so_far(session)[:MOST_LAYERS]],
        left_over="" if left is None else left.words.partition(" ")[2],
        left_now=left is not None and _is_left_now(session, run, left),
        photos=[PhotoView(int(one.value), SIDES.get(one.what, "")) for one in own[-MOST_PHOTOS:]],
        both_sides={photo.what for photo in state.photos} >= {LEFT, RIGHT},
        baits=[] if session.ended else baits.every(session),
        paused=state.paused,
        ended=bool(session.ended),
        choices=CHOICES,
    )


def cups_of(store: Store, session: Session) -> dict[str, Any]:
    """The cups that were mixed up to here, the one in use first, and what may have got into one by mistake."""
    now = cup_step(session.script, session.state)
    run = session.state.run(session.script)[: session.state.position + 1]
    cups = [one for one in run if one.mixes]
    cups.sort(key=lambda one: now is None or one.key != now.key)
    own = {pour.bottle: pour.name for one in cups for pour in one.pours}
    other = [(one.id, one.full_name) for one in on_shelf.at_hand(store) if one.id not in own]
    named = [(one.key, one.words.partition(" ")[2]) for one in cups]
    return {"cups": named, "own": list(own.items()), "other": other}


def _cautions(session: Session, here: BenchStep) -> list[tuple[str, str]]:
    """Those that were not read yet."""
    return [
        (caution, CAUTIONS[caution])
        for caution in here.cautions
        if caution in CAUTIONS and caution not in session.state.agreed
    ]


def _is_left_now(session: Session, run: Sequence[BenchStep], left: BenchStep) -> bool:
    """Whether it was just used for the last time, and nobody said yet what becomes of the rest."""
    index = session.state.position
    last = index > 0 and run[index - 1].mix == left.mix and all(step.mix != left.mix for step in run[index:])
    here = run[index].key if index < len(run) else ""
    return last and all(event.step != here for event in session.state.leftovers)


def _is_changed(session: Session, run: Sequence[BenchStep]) -> bool:
    """Whether the colour may be another than planned: then it is looked at."""
    state = session.state
    too_many = any(
        state.fallen(step.key, pour.bottle) > pour.drops for step in run for pour in step.pours if "+" not in step.key
    )
    keys = {step.key for step in run}
    return too_many or any(event.step in keys for event in state.different)


def _is_cup_astray(session: Session) -> bool:
    """Whether the last that went wrong is in the cup, and nothing was done about it yet."""
    told = [*session.state.slips, *session.state.mends]
    last = max(told, key=lambda one: one.at, default=None)
    return last is not None and last.kind == "astray"


def _pour(session: Session, step: BenchStep, at: int) -> PourView:
    pour = step.pours[at]
    fallen = session.state.fallen(step.key, pour.bottle)
    beads = [place < fallen for place in range(min(max(pour.drops, fallen), BEADS))]
    return PourView(pour.bottle, pour.name, pour.drops, fallen, fill=pour.fill, beads=beads)


def _twin(session: Session, here: BenchStep) -> Twin:
    """What the side before it really had."""
    had = [told(event) for event in session.state.different if event.step == here.twin]
    return Twin(say("The {sides} had", sides=SIDES[LEFT]), had or [say("all as planned")])


def _facts(session: Session, here: BenchStep) -> list[FactView]:
    known = session.state.facts.get(here.key, {})
    return [
        FactView(key, f"{FACTS[key].words}, {FACTS[key].unit}", quantity(known[key], "g") if key in known else "")
        for key in MEASURED.get(here.kind, ())
    ]


def _slipped(store: Store, session: Session, here: BenchStep) -> Slipped | None:
    told_here = [event for event in (*session.state.slips, *session.state.mends) if event.step == here.key]
    own = [event for event in told_here if event.kind in ("slip", "mend")]
    last: Event | None = max(own, key=lambda one: (one.at, one.kind == "mend"), default=None)
    return None if last is None or last.kind != "slip" else _with_ways(store, session, last)


def _unmended(store: Store, session: Session) -> Slipped | None:
    """The last that went wrong, where nobody said since what is done about it: as when nobody answered."""
    slips = [one for one in session.state.slips if one.kind == "slip"]
    if not slips or any(one.kind == "mend" and one.at >= slips[-1].at for one in session.state.mends):
        return None
    return _with_ways(store, session, slips[-1])


def _with_ways(store: Store, session: Session, slip: Event) -> Slipped:
    length_mm = repairs.length_of(store, session)
    spot = places.read(slip.place)
    where = "" if spot is None else spot.words(length_mm)
    return Slipped(told(slip), slip.bait, repairs.mends_here(store, session, slip), where, slip.place)
