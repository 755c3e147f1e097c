"""What the Match page shows of a target and of the mixes that come nearest."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.light import words
from diachrom.core.match.alternatives import Alternative
from diachrom.core.mix.draft import Part
from diachrom.core.mix.prediction import colour_of
from diachrom.store.bottles import Bottle
from diachrom.web.kit import strip_view
from diachrom.web.kit.plot import Axes, Curve, Plot
from diachrom.web.kit.plot_paths import dot
from diachrom.web.kit.strip_view import ColumnView
from diachrom.web.kit.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.web.kit.target_view import TargetView, target_patch, target_view
from diachrom.words import capitalized, listed, quantity, say
from diachrom.work.kit.opened import Store
from diachrom.work.match import targets
from diachrom.work.match.searching import MatchTask
from diachrom.work.shelf.on_shelf import seen as seen_on_shelf

OUT_OF_REACH = 3.0  # dE


@dataclass(frozen=True)
class AlternativeView:
    kinds: str
    parts: str  # "22x3-18x6": bottles and drops
    words: str
    beads: BeadString
    columns: Sequence[ColumnView]  # the target first, then the strip
    on: str  # which grounds the columns are, in words
    difference: str
    delta_e: str
    why: str
    bottles: Sequence[tuple[int, str]]
    facts: Sequence[tuple[str, str]]


@dataclass(frozen=True)
class LetDownView:
    """A match by way of first cups."""

    first: str  # "18x8+4x72*7-...": bottles and drops of each, and drops of it
    parts: str  # the other bottles and drops
    why: str
    cups: Sequence[str]
    then: str
    looks: str
    swatch: Swatch


@dataclass(frozen=True)
class FoundPage:
    target: TargetView | None
    going_on: bool
    problem: str
    count_words: str
    limits: str
    start: str  # which bottle to start from, and what it lacks
    alternatives: Sequence[AlternativeView]
    plot: Plot | None
    let_down: LetDownView | None = None
    left_out: Sequence[tuple[int, str]] = ()
    kept_in: Sequence[tuple[int, str]] = ()
    examples: Sequence[tuple[str, str, Swatch]] = ()


def examples() -> list[tuple[str, str, Swatch]]:
    """Targets for trying."""
    return [(name, words, swatch(colour_of(lab))) for name, (words, lab) in targets.EXAMPLES.items()]


NOTHING_FOUND = FoundPage(
    target=None,
    going_on=False,
    problem="",
    count_words="",
    limits="",
    start="",
    alternatives=[],
    plot=None,
    examples=examples(),
)


def found_page(store: Store, task: MatchTask) -> FoundPage:
    """What a search has found: the short list, and its limits."""
    found = list(task.found)
    best = min((alternative.match for alternative in found), key=lambda one: one.delta_e, default=None)
    limits = ""
    if best is not None and task.finished and best.delta_e > OUT_OF_REACH:
        missing = words.turning(best.labs, targets.labs_of(task.target))
        limits = say(
            "No mix of these bottles comes closer: the target is {missing} than they can go. This is "
            "as far as the shelf reaches.",
            missing=missing,
        )
    if task.stopped and not task.evaluated:
        count = say("Stopped before the first answer. Open Match again to go on.")
    else:
        tried = say("{cups} cups tried", cups=f"{task.evaluated:,}".replace(",", " "))
        count = (
            say("{tried}, still looking", tried=tried)
            if task.going_on
            else say("{tried}, then stopped", tried=tried)
            if task.stopped
            else tried
        )
    return FoundPage(
        target=target_view(store, task.target),
        going_on=task.going_on,
        problem=task.problem,
        count_words=count,
        limits=limits,
        start=_start(task),
        alternatives=[_alternative(store, task, one) for one in found],
        let_down=_let_down(task),
        plot=_plot(task) if task.reach is not None and len(task.reach) > 2 else None,
        left_out=targets.bottle_names(store, task.settings.left_out),
        kept_in=targets.bottle_names(store, task.settings.kept_in),
    )


def _alternative(store: Store, task: MatchTask, alternative: Alternative) -> AlternativeView:
    parts = [(task.candidates[index], drops) for index, drops in alternative.match.parts]
    bottles_ = [candidate.bottle for candidate, _ in parts if candidate.bottle is not None]
    rows = {row.bottle.id: row for row in seen_on_shelf(store, bottles_)}
    own = [Part(c.bottle.id, drops, c.drop_ml) for c, drops in parts if c.bottle is not None]
    strip = task.strips[alternative.match.parts]
    kinds = listed(alternative.kinds)
    facts = [
        (say("One drop amiss"), say("dE {worst_drop} at most", worst_drop=quantity(alternative.worst_drop, ".1f"))),
        (
            say("As it is sprayed"),
            say("nine in ten within dE {spread_delta_e}", spread_delta_e=quantity(alternative.spread_delta_e, ".1f")),
        ),
    ]
    if alternative.uncommon:
        facts.append(
            (say("Special paint"), listed((task.candidates[at].paint.name for at in alternative.uncommon), " and "))
        )
    if len(alternative.by_view) > 1:
        far, angle = max(zip(alternative.by_view, task.target.seen.views, strict=True), key=lambda pair: pair[0])
        facts.append(
            (
                say("At its worst"),
                say("dE {far} at {angle}°", far=quantity(far, ".1f"), angle=quantity(angle or 0.0, "g")),
            )
        )
    close = say(
        "{closeness}, dE {worst_delta_e}",
        closeness=words.closeness(alternative.worst_delta_e),
        worst_delta_e=quantity(alternative.worst_delta_e, ".1f"),
    )
    facts.append((say("In other light"), f"{alternative.worst_light}: {close}"))
    if alternative.price is not None:
        facts.append((say("Paint for it"), quantity(alternative.price, ".2f", "money")))
    return AlternativeView(
        kinds=capitalized(kinds),
        parts="-".join(f"{part.bottle}x{part.drops}" for part in own),
        words=listed(f"{drops} {rows[c.bottle.id].bottle.full_name}" for c, drops in parts if c.bottle is not None),
        beads=bead_string(own, rows),
        columns=[strip_view.single(target_patch(task.target), "target", say("The target")), *strip_view.columns(strip)],
        on=say(
            "{what}; coats downwards, {coats} compared",
            what=listed(column.over.words for column in strip.columns),
            coats=_coats(task),
        ),
        difference=words.turning(targets.labs_of(task.target), alternative.match.labs),
        delta_e=f"dE {alternative.match.delta_e:.1f}" + (" on average" if len(alternative.match.labs) > 1 else ""),
        why=alternative.why,
        bottles=[(part.bottle, rows[part.bottle].bottle.full_name) for part in own],
        facts=facts,
    )


def _let_down(task: MatchTask) -> LetDownView | None:
    found = task.let_down
    if found is None:
        return None

    def bottle(at: int) -> Bottle | None:
        return task.candidates[at].bottle

    def numbered(parts: Sequence[tuple[int, int]]) -> str:
        return "+".join(f"{one.id}x{drops}" for at, drops in parts if (one := bottle(at)) is not None)

    def named(at: int) -> str:
        one = bottle(at)
        return "" if one is None else one.full_name

    cups, then = [], []
    for cup in found.first:
        strong, white = cup.drops
        ml = strong * task.candidates[cup.strong].drop_ml + white * task.candidates[cup.white].drop_ml
        cups.append(
            say(
                "{strong} drops of {name} in {white} of {other} ({ml})",
                strong=strong,
                name=named(cup.strong),
                white=white,
                other=named(cup.white),
                ml=quantity(ml, ".1f", "ml"),
            )
        )
        then.append(say("{drops} of the {name} cup", drops=cup.used, name=named(cup.strong)))
    then += [say("{drops} of {name}", drops=drops, name=named(at)) for at, drops in found.parts]
    worst = max((one.worst_drop for one in task.found[:1]), default=0.0)
    return LetDownView(
        first="-".join(
            f"{numbered(((cup.strong, cup.drops[0]), (cup.white, cup.drops[1])))}*{cup.used}" for cup in found.first
        ),
        parts=numbered(found.parts).replace("+", "-"),
        why=say("The mix below hangs on single drops: one amiss is up to dE {worst}.", worst=quantity(worst, ".1f")),
        cups=cups,
        then=say("Then mix {parts}.", parts=listed(then, " + ")),
        looks=say(
            "dE {delta_e}; one drop amiss is dE {amiss} at most, in the first cup too.",
            delta_e=quantity(found.match.delta_e, ".1f"),
            amiss=quantity(found.worst_drop, ".1f"),
        ),
        swatch=swatch(colour_of(found.match.lab.tolist())),
    )


def _start(task: MatchTask) -> str:
    if task.alone is None:
        return ""
    bottle = task.candidates[task.alone.parts[0][0]].bottle
    name = bottle.full_name if bottle is not None else ""
    lacks = words.turning(task.alone.labs, targets.labs_of(task.target))
    if task.alone.delta_e <= task.settings.wish.closeness:
        return say(
            "{name} by itself is near enough: {lacks}, dE {delta_e}.",
            name=name,
            lacks=lacks,
            delta_e=quantity(task.alone.delta_e, ".1f"),
        )
    return say(
        "Start from {name}: the target is {lacks} than it is by itself, dE {delta_e}.",
        name=name,
        lacks=lacks,
        delta_e=quantity(task.alone.delta_e, ".1f"),
    )


def _coats(task: MatchTask) -> str:
    coats = task.settings.coats
    return say("one is") if coats == 1 else say("{coats} are", coats=coats)


def _plot(task: MatchTask) -> Plot:
    """The reach of the shelf in a*b*, the target and what was found."""
    outline = [] if task.reach is None else task.reach.tolist()
    aim_at = targets.point(task.target).tolist()
    labs = [alternative.match.lab.tolist() for alternative in task.found]
    points = [(aim_at[1], aim_at[2]), *((lab[1], lab[2]) for lab in labs)]
    most = max(60.0, *(abs(value) for point in [*outline, *points] for value in point)) * 1.08
    axes = Axes(-most * 1.25, most * 1.25, most, -most)
    path = axes.line([*outline, outline[0]])
    dots = [dot(lab, (axes.x(lab[1]), axes.y(lab[2]))) for lab in labs]
    dots.append(dot(aim_at, (axes.x(aim_at[1]), axes.y(aim_at[2])), chosen=True))
    ticks = [(axes.y(value), text) for value, text in ((most * 0.9, "yellow"), (0.0, "grey"), (-most * 0.9, "blue"))]
    marks = [(axes.x(-most), "green"), (axes.x(most), "red")]
    said = say(
        "The target at a {aim_at}, b {other_aim_at}; the outline is how far the shelf goes",
        aim_at=quantity(aim_at[1], ".0f"),
        other_aim_at=quantity(aim_at[2], ".0f"),
    )
    return Plot(
        key="reach",
        title=say("How far the shelf goes; the ringed dot is the target"),
        words=said,
        curves=[Curve("", 0, path, dots)],
        x_ticks=marks,
        y_ticks=ticks,
    )
