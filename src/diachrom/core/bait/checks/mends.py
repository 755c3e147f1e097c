"""What mends a plan: each a small change to it."""

from collections.abc import Callable
from dataclasses import replace

from diachrom.core.bait.checks.look import Mend, Seen
from diachrom.core.bait.mask import FREE
from diachrom.core.bait.plan import UNMASK, Layer, Plan
from diachrom.words import say

WHITE_FILM, BLACK_FILM, THINNED = 12.0, 10.0, 0.25


def changed(seen: Seen, words: str, **fields: object) -> Mend:
    """A layer with other figures."""
    return altered(seen, words, lambda layer: replace(layer, **fields))  # type: ignore[arg-type]


def altered(seen: Seen, words: str, change: Callable[[Layer], Layer]) -> Mend:
    """A layer changed from what is written of it; what is looked at is as thick as this hand sprays it."""
    number = seen.number
    return Mend(words, lambda plan: plan.changed(number, change))


def of_plan(words: str, **fields: object) -> Mend:
    """The plan with other figures."""
    return Mend(words, lambda plan: replace(plan, **fields))  # type: ignore[arg-type]


def accepted(words: str, check: str, note: str) -> Mend:
    """It is meant so: what a check says is accepted for this plan."""

    def apply(plan: Plan) -> Plan:
        return replace(plan, accepted=(*(one for one in plan.accepted if one[0] != check), (check, note)))

    return Mend(words, apply)


def prepared(words: str, key: str) -> Mend:
    """The blank prepared in one way more."""
    return Mend(words, lambda plan: replace(plan, prepared=(*plan.prepared, key)))


def moved_after(seen: Seen, other: Seen, words: str) -> Mend:
    """A layer laid right after another."""
    number, last = seen.number, other.number

    def apply(plan: Plan) -> Plan:
        place = plan.place(last)
        return plan.moved(number, place if plan.place(number) < place else place + 1)

    return Mend(words, apply)


def moved_last(seen: Seen, words: str) -> Mend:
    """After all paint, yet under the clear."""
    number = seen.number

    def apply(plan: Plan) -> Plan:
        clears = [index for index, layer in enumerate(plan.layers) if layer.what == "clear" and layer.number != number]
        return plan.moved(number, (clears[0] - 1) if clears and clears[0] > plan.place(number) else len(plan.layers))

    return Mend(words, apply)


def moved_first(seen: Seen, words: str) -> Mend:
    """Beneath everything else."""
    number = seen.number
    return Mend(words, lambda plan: plan.moved(number, 0))


def removed(seen: Seen, words: str) -> Mend:
    """Without the layer."""
    number = seen.number
    return Mend(words, lambda plan: plan.without(number))


def under(seen: Seen, words: str, layer: Layer) -> Mend:
    """Another layer under one, where that lies."""
    number, own = seen.number, seen.layer
    new = replace(
        layer, region=own.region, box=own.box, soft_mm=own.soft_mm, sides=own.sides, origin=own.origin, mask=FREE
    )
    return Mend(words, lambda plan: plan.with_layer(new, at=plan.place(number)))


def block_out(seen: Seen, white: str) -> Mend:
    """White beneath it, and nothing where no white is on the shelf."""
    layer = Layer(0, "paint", white, say("White, to block out"), film_um=WHITE_FILM, coats=4, reducer=THINNED)
    return under(seen, say("Block out with white under it"), layer)


def blacken(seen: Seen, black: str) -> Mend:
    """Black beneath it."""
    layer = Layer(0, "paint", black, say("Black, for depth"), film_um=BLACK_FILM, coats=3, reducer=THINNED)
    return under(seen, say("Spray black under it"), layer)


def varnished(seen: Seen, words: str) -> Mend:
    """A save point under a layer."""
    number = seen.number
    layer = Layer(0, "varnish", film_um=12.0, coats=1)
    return Mend(words, lambda plan: plan.with_layer(layer, at=plan.place(number)))


def taken_off(mask: int, before: Seen, words: str) -> Mend:
    """A mask taken off before a layer."""
    number = before.number
    off = Layer(0, UNMASK, source=str(mask))
    return Mend(words, lambda plan: plan.with_layer(off, at=plan.place(number)))


def again(seen: Seen, words: str, **fields: object) -> Mend:
    """The same layer once more, on top, with other figures."""
    number = seen.number
    return Mend(words, lambda plan: plan.with_layer(replace(plan.layer(number), **fields)))  # type: ignore[arg-type]


def on_top(words: str, layer: Layer) -> Mend:
    """One more layer, over everything."""
    return Mend(words, lambda plan: plan.with_layer(layer))
