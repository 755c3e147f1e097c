"""What stands on a card to show, of a plan's page."""

from diachrom.exchange.bait_cards import COLUMNS, MOST_ROWS, BaitCard, CardLayer, Drops
from diachrom.web.kit.swatches import Bead
from diachrom.web.plan.layer_view import LayerView
from diachrom.web.plan.view import PlanPage
from diachrom.words import say, say_count, told


def card_of(page: PlanPage) -> BaitCard:
    """Its name, the blank, and its layers with their drops, in the reader's words."""
    layers = [one for one in page.layers if one.on]
    left = len(layers) - COLUMNS * MOST_ROWS
    more = say_count(left, "and {count} more layer", "and {count} more layers") if left > 0 else ""
    return BaitCard(
        name=told(page.name or say("Plan {number}", number=page.number)),
        words=told(page.blank_words),
        layers=[
            CardLayer(
                name=told(one.name),
                words=" · ".join(told(part) for part in (one.where, one.how) if part),
                drops=_drops(one),
                more=one.beads.more if one.beads else 0,
            )
            for one in layers
        ],
        more=told(more),
    )


def _drops(layer: LayerView) -> list[Drops]:
    if layer.beads is None:
        return [] if layer.bead is None else [Drops(_fill(layer.bead), 1)]
    runs = [Drops(_fill(run.bead), run.count) for run in layer.beads.runs]
    for bead in (one for group in layer.beads.groups for one in group):
        if runs and runs[-1].colour == _fill(bead):
            runs[-1] = Drops(runs[-1].colour, runs[-1].count + 1)
        else:
            runs.append(Drops(_fill(bead), 1))
    return runs


def _fill(bead: Bead) -> str:
    return bead.fill or ""
