"""The next drop, beside the cup: what helps, what would spoil it, and the way back."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.light import words
from diachrom.core.mix import prediction
from diachrom.core.mix.where import facing
from diachrom.core.pour.next_drop import Advice, Rescue
from diachrom.store.targets import Target
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.pages import render
from diachrom.web.kit.plot import Curve, Plot
from diachrom.web.kit.plot_paths import HEIGHT, Around, dot
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.web.kit.target_view import TargetView, target_view
from diachrom.words import listed, quantity, say
from diachrom.work.kit.opened import Store
from diachrom.work.match import targets
from diachrom.work.pour import aim_at_cup
from diachrom.work.pour.aim_at_cup import NextDrop

router = APIRouter(include_in_schema=False)
LONGEST_NAME = 24
HELPS_SHOWN = 3


@dataclass(frozen=True)
class HelpView:
    bottle: int
    drops: int
    words: str
    detail: str
    swatch: Swatch


@dataclass(frozen=True)
class NextPage:
    target: TargetView
    sentence: str
    helps: Sequence[HelpView] = ()
    spoils: str = ""
    spoiling: str = ""  # numbers of the bottles of which a single drop would lead away
    rescue: str = ""
    order: str = ""
    plot: Plot | None = None


def next_page(store: Store, found: NextDrop, order: str) -> NextPage:
    """What the next drop of each bottle would do, beside a target."""
    target, advice, candidates = found.target, found.advice, found.candidates
    if found.other_colour:
        said = say(
            "These are different colours: the cup is dE {delta_e} from {name}.",
            delta_e=quantity(advice.delta_e, ".0f"),
            name=target.name,
        )
        return NextPage(target_view(store, target), said)

    def name(at: int) -> str:
        bottle = candidates[at].bottle
        return bottle.full_name if bottle is not None else candidates[at].key

    strong = sorted(advice.spoils, key=lambda index: -advice.first_drop[index])[:4]
    close = words.closeness(advice.delta_e)
    delta_e = quantity(advice.delta_e, ".1f")
    sentence = (
        say("Beside {name} {close}, dE {delta_e}.", name=target.name, close=close, delta_e=delta_e)
        if advice.difference.startswith("the same")
        else say(
            "Beside {name} {close}, dE {delta_e}: it is {difference}.",
            name=target.name,
            close=close,
            delta_e=delta_e,
            difference=advice.difference,
        )
    )
    if advice.stop:
        sentence = listed([sentence, say("Stop: no single bottle brings it closer.")], " ")
    front = facing(target.seen.views)
    return NextPage(
        target=target_view(store, target),
        sentence=sentence,
        helps=[
            HelpView(
                helps.id,
                way.drops,
                f"{way.drops} {_short(name(way.index))}",
                say("{words}; then dE {delta_e}", words=way.words, delta_e=quantity(way.delta_e, ".1f")),
                swatch(prediction.colour_of(way.labs[front].tolist())),
            )
            for way in found.advice.helps[:HELPS_SHOWN]
            if (helps := found.candidates[way.index].bottle) is not None
        ],
        spoils=say("One drop too many: {what}.", what=listed(name(at) for at in strong)) if strong else "",
        spoiling=" ".join(str(own.id) for spoil in advice.spoils if (own := candidates[spoil].bottle) is not None),
        rescue="" if advice.rescue is None else _rescue(advice.rescue, name),
        order=order,
        plot=_paths(target, advice, [name(way.index) for way in advice.helps[:HELPS_SHOWN]]),
    )


def _short(name: str) -> str:
    """A name that keeps its button small; the row in the cup has the whole of it."""
    return name if len(name) <= LONGEST_NAME else f"{name[:LONGEST_NAME].rsplit(' ', 1)[0]}…"


def _rescue(rescue: Rescue, name: Callable[[int], str]) -> str:
    parts = listed((f"{drops} {name(index)}" for index, drops in rescue.parts), " and ")
    said = say(
        "Two together come closer: {parts}, to dE {delta_e}; the cup is then {volume}.",
        parts=parts,
        delta_e=quantity(rescue.delta_e, ".1f"),
        volume=quantity(rescue.volume_ml, ".2f", "ml"),
    )
    if rescue.costs_more:
        said += " " + say(
            "That is {added} more than is in the cup: starting again takes less paint.",
            added=quantity(rescue.added_ml, ".2f", "ml"),
        )
    return said


def _paths(target: Target, advice: Advice, names: Sequence[str]) -> Plot | None:
    """Where the drops of each bottle that helps would lead: left a* and b*, right the lightness."""
    if not advice.helps:
        return None
    front = facing(target.seen.views)
    now, aim_at = advice.now[front].tolist(), targets.point(target).tolist()
    ways = [[now, *(point.tolist() for point in way.path)] for way in advice.helps[: len(names)]]
    points = [aim_at, *(point for way in ways for point in way)]
    around = Around.of(
        [(one[1], one[2]) for one in points], [one[0] for one in points], max(len(way) for way in ways) - 1
    )
    curves = [curve for way in ways for curve in around.way(way)]
    curves += [around.aim(aim_at), Curve("", 0, "", [dot(now, around.in_ab(now)), dot(now, around.in_l(now, 0))])]
    told = listed((f"{name}: {way.words}" for name, way in zip(names, advice.helps, strict=False)), "; ")
    marks = [(around.middle_ab, say("a* and b*")), (around.middle_l, say("L*, drop by drop"))]
    title = say("Where the drops lead; ring, dashes: target")
    return Plot(key="next", title=title, words=told, curves=curves, x_ticks=marks, y_ticks=[], height=HEIGHT)


def _order(store: Store) -> str:
    """In which order the cup is best poured, and how far the first drop of the strong ones goes."""
    poured = aim_at_cup.pouring(store)
    if len([one for one, _ in poured if one.first_goes is not None or one.a_drop > 0]) < 2:
        return ""
    said = [
        say(
            "{drops} {name} (its first drop goes {share} % of its way)",
            drops=one.drops,
            name=name,
            share=quantity(100 * one.first_goes, ".0f"),
        )
        if one.first_goes and one.drops > 1
        else f"{one.drops} {name}"
        for one, name in poured
    ]
    return say("Pour in this order, strong ones a drop at a time: {said}.", said=listed(said))


@router.post("/mix/target/away")
def put_away(request: Request, store: OpenStore) -> Response:
    """Put the target away: the cup is mixed without one."""
    targets.put_away(store)
    return go(request, "/mix")


@router.get("/mix/next")
def next_drop(store: OpenStore) -> Response:
    """What the next drop would do."""
    drop = aim_at_cup.next_drop(store)
    return render("mix/next_drop.html", next=next_page(store, drop, _order(store)) if drop else None)
