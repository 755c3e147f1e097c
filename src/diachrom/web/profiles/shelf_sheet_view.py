"""A sheet of many paints as its page shows it."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.light.words import closeness, difference
from diachrom.core.mix.prediction import Colour
from diachrom.core.profiles.contrast_card import STEPS
from diachrom.store.shelf_sheets import ShelfSheet
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.formatting import day
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.words import capitalized, listed, quantity, say, say_count
from diachrom.work.cards.before_after import Achieved
from diachrom.work.kit.looks import PaintLook, look
from diachrom.work.profiles.read_sheets import SheetTask, phone_moves
from diachrom.work.profiles.shelf_sheets import SheetSeen

SEEN = 0.5  # dE
HIDES = 2.0  # of lightness over black, below which nothing is said of hiding


@dataclass(frozen=True)
class PairView:
    number: int
    paint_id: str
    name: str
    over_white: tuple[Swatch, Swatch] | None  # before and after, in three light coats
    over_black: tuple[Swatch, Swatch] | None
    words: str
    doubts: Sequence[str]
    problem: str
    state: str  # "sure", "doubtful", "taken", "none" or "waiting"


@dataclass(frozen=True)
class ShelfSheetPage:
    number: int
    detail: str
    passes: str  # "1, 4 and 12"
    photo: str
    pairs: Sequence[PairView]
    shots: Sequence[Choice]
    running: bool
    percent: int
    problem: str
    waiting: int
    sure: int
    doubtful: int
    taken: int
    achieved: str
    phone: str
    said: str


def sheet_page(
    seen: SheetSeen, task: SheetTask | None, achieved: Achieved | None, *, shots: Sequence[Choice], said: str
) -> ShelfSheetPage:
    """A sheet of many paints: what was read of it, and what that gives."""
    pairs = []
    for pair in seen.pairs:
        before, after = look(pair.before), None if pair.after is None else look(pair.after)
        if pair.taken:
            state = "taken"
        elif pair.after is None:
            state = "none" if pair.pair.found else "waiting"
        else:
            state = "doubtful" if pair.doubts else "sure"
        # What the eye sees of the change in three light coats, and how sure the strength is.
        within = 0.0 if pair.after is None else pair.after.uncertainty
        if after is None:
            told_words = ""
        else:
            (was, over), (now, over_now) = ((_last(one, 0).lab, _last(one, -1).lab) for one in (before, after))
            told = [difference(was, now)]
            if abs(over_now[0] - over[0]) > HIDES:
                told.append(say("hides more") if over_now[0] > over[0] else say("hides less"))
            words = listed(map(str, told))
            told_words = say(
                "{difference}; sure within {within} %",
                difference=capitalized(words),
                within=quantity(100 * within, ".0f"),
            )
        pairs.append(
            PairView(
                number=pair.pair.number,
                paint_id=pair.record.id,
                name=pair.record.full_name,
                over_white=_both(before, after, 0),
                over_black=_both(before, after, -1),
                words=told_words,
                doubts=pair.doubts,
                problem=pair.problem,
                state=state,
            )
        )
    states = [one.state for one in pairs]
    kept = seen.sheet
    if achieved is None:
        achieved_words = (
            say("No spray-out card of these paints is measured yet: spray one, and this line shows how good they are.")
            if bool(seen.told)
            else ""
        )
    else:
        achieved_words = say(
            "On {cards} of your own with these paints, half of the patches lay within dE "
            "{before} before and lie within dE {after} with this sheet ({closeness}).",
            cards=say_count(achieved.cards, "{count} spray-out card", "{count} spray-out cards"),
            before=quantity(achieved.before, ".1f"),
            after=quantity(achieved.after, ".1f"),
            closeness=closeness(achieved.after),
        )
    return ShelfSheetPage(
        number=kept.id,
        detail=say(
            "{at} · {paints} · passes of {film} · {what}",
            at=day(kept.at),
            paints=say_count(len(pairs), "{count} paint", "{count} paints"),
            film=quantity(kept.film_um, "g", "µm"),
            what="cleared" if kept.clear_coat else say("not cleared"),
        ),
        passes=say("{numbers} and {steps}", numbers=listed(map(str, STEPS[:-1])), steps=STEPS[-1]),
        photo=kept.photo,
        pairs=pairs,
        shots=shots,
        running=task is not None and task.going_on,
        percent=0 if task is None else round(100 * task.done / task.total),
        problem="" if task is None else task.problem,
        waiting=seen.waiting,
        sure=states.count("sure"),
        doubtful=states.count("doubtful"),
        taken=states.count("taken"),
        achieved=achieved_words,
        phone=_phone_words(kept) if kept.photo else "",
        said=said,
    )


def _phone_words(kept: ShelfSheet) -> str:
    """What the printed colours told of the camera."""
    moved = phone_moves(kept)
    if moved is None:
        return say("This print has no coloured squares, so what your phone sees by is not known: a new one has them.")
    if moved < SEEN:
        return say("By its coloured squares your phone's colours are right.")
    by = quantity(moved, ".1f")
    return say("By its coloured squares the photo's colours were set right, by dE {by}.", by=by)


def _both(before: PaintLook, after: PaintLook | None, column: int) -> tuple[Swatch, Swatch] | None:
    """Before and after on one ground; before alone where nothing came of it yet."""
    if before.bead is None:
        return None
    return swatch(_last(before, column)), swatch(_last(after or before, column))


def _last(one: PaintLook, column: int) -> Colour:
    return one.strip.columns[column].patches[-1].diffuse
