"""How a cup came to be, as beads, words and a path."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.light.bands import Floats
from diachrom.core.mix import prediction
from diachrom.core.mix.story import VERDICT_WORDS, Told
from diachrom.store.targets import Target
from diachrom.web.kit.plot import Plot
from diachrom.web.kit.plot_paths import HEIGHT, Around
from diachrom.web.kit.swatches import Bead, Swatch, bead, swatch
from diachrom.words import quantity, say
from diachrom.work.kit.opened import Store
from diachrom.work.match import targets
from diachrom.work.shelf.on_shelf import on_shelf


@dataclass(frozen=True)
class ToldView:
    """Drops of a bottle, or what was said."""

    words: str
    bead: Bead | None  # None for a verdict
    source: str
    read: Swatch | None  # what a reader read


@dataclass(frozen=True)
class StoryView:
    told: Sequence[ToldView]
    plot: Plot | None


def story_view(store: Store, told: Sequence[Told], path: Sequence[Floats], target: Target | None) -> StoryView:
    """How a version was poured: drops and verdicts, and the way its colour went."""
    rows = on_shelf(store, [one.bottle for one in told if one.bottle is not None])
    views = []
    for one in told:
        if one.verdict is not None:
            read = None if one.verdict.lab is None else swatch(prediction.colour_of(one.verdict.lab))
            views.append(
                ToldView(
                    VERDICT_WORDS.get(one.verdict.words, one.verdict.words),
                    None,
                    VERDICT_WORDS.get(one.verdict.source, one.verdict.source),
                    read,
                )
            )
        elif one.bottle in rows:
            row = rows[one.bottle]
            some = str(one.drops) if one.drops > 0 else say("{drops}, counted too many,", drops=one.drops)
            views.append(ToldView(f"{some} {row.bottle.full_name}", bead(row), "", None))
    # From the first colour to the last: left a* and b*, right the lightness.
    if len(path) < 2:
        plot = None
    else:
        points = [point.tolist() for point in path]
        aim_at = [] if target is None else [targets.point(target).tolist()]
        around = Around.of(
            [(one[1], one[2]) for one in points + aim_at], [one[0] for one in points + aim_at], len(points) - 1
        )
        curves = around.way(points) + [around.aim(one) for one in aim_at]
        marks = [(around.middle_ab, say("a* and b*")), (around.middle_l, say("L*, one after the other"))]
        words = say(
            "The colour went from L {points} to L {last} in {count} steps",
            points=quantity(points[0][0], ".0f"),
            last=quantity(points[-1][0], ".0f"),
            count=len(points),
        )
        plot = Plot(
            key="story",
            title=say("How its colour changed"),
            words=words,
            curves=curves,
            x_ticks=marks,
            y_ticks=[],
            height=HEIGHT,
        )
    return StoryView(views, plot)
