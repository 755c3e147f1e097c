"""How a slip is mended, by what lies beneath: down to a save point with a swab, blocked out and again, or covered."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.bait.plan import WHATS, Layer, Plan
from diachrom.words import say

SAVES = ("varnish", "clear", "sealer")


@dataclass(frozen=True)
class Way:
    """One way out of a slip."""

    words: str
    again: tuple[int, ...] = ()  # layers that are laid again, by their numbers
    loses: str = ""


def ways(plan: Plan, layer: int, slip: str) -> Sequence[Way]:
    """The ways to mend a slip that happened at this layer, the best first. Raises NotFound."""
    place = plan.place(layer)
    below = [one for one in plan.layers[:place] if one.on]
    own = plan.layer(layer)
    found = []
    if slip == "tip-dry":
        found.append(Way(say("Wipe the needle with cleaner on a swab, spray it clear on paper, and go on.")))
    save = next((index for index in range(len(below) - 1, -1, -1) if _is_save_point(below[index])), None)
    if save is not None and slip != "scratch":
        lost = [one for one in below[save + 1 :] if WHATS[one.what].paint]
        words = "Wipe it back to " + (below[save].name or WHATS[below[save].what].words)
        again = tuple(one.number for one in (*lost, own))
        found.append(
            Way(
                say("{words}, then spray again what was there.", words=words),
                again,
                say("{count} layers there", count=len(again)),
            )
        )
    painted = [one for one in below if WHATS[one.what].paint]
    if plan.blank.comes.foil or any(one.what == "foil" for one in below):
        words = say("Rub it off the foil while it is fresh, with a dry swab, and spray it again.")
        found.append(Way(words, (own.number,), say("nothing, if you do it at once")))
    else:
        again = tuple(one.number for one in (*painted, own))
        words = say("Once it is dry block it out with white, then spray again what was there.")
        found.append(Way(words, again, say("a thicker place")))
    if slip in ("run", "scratch"):
        found.append(
            Way(
                say("Let it dry through, sand it flat and wet, and spray this layer again."),
                (own.number,),
                say("an hour"),
            )
        )
    coming = [one for one in plan.layers[place + 1 :] if one.on and WHATS[one.what].paint]
    if coming:
        cover = coming[0].name or WHATS[coming[0].what].words
        found.append(Way(say("Go on: {cover} covers it, if it is in the same place.", cover=cover)))
    found.append(Way(say("Make something of it: a spot, a scar, a wound.")))
    return found


def _is_save_point(layer: Layer) -> bool:
    return layer.what in SAVES or layer.sealed
