"""A target as the pages draw it."""

from dataclasses import dataclass

from diachrom.core.film.surface import SURFACES, surface_key
from diachrom.core.mix import prediction
from diachrom.core.mix.prediction import ANGLES_DEG
from diachrom.core.mix.strip import Patch
from diachrom.store.targets import Target
from diachrom.web.kit import strip_view
from diachrom.web.kit.strip_view import ColumnView
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.words import listed, quantity, say
from diachrom.work.kit.opened import Store
from diachrom.work.match import targets
from diachrom.work.mix.sprayed_over import over


@dataclass(frozen=True)
class TargetView:
    id: int
    name: str
    detail: str
    swatch: Swatch
    column: ColumnView
    turns: bool


def target_view(store: Store, target: Target) -> TargetView:
    """A target with its patch and where it was seen."""
    # On what, under what, at which angle it was looked at.
    seen = target.seen
    on = "" if seen.ground is None else say("on {words}", words=over(store, seen.ground).words)
    known = seen.clear_coat is not None
    under = SURFACES[surface_key(clear_coat=bool(seen.clear_coat), satin=seen.satin)] if known else ""
    angles = [angle for angle in seen.views if angle is not None]
    at = (
        ""
        if not angles
        else say("at {angles}°", angles=quantity(angles[0], "g"))
        if len(angles) == 1
        else say("at {count} angles", count=len(angles))
    )
    detail = listed(filter(None, [target.source, listed(filter(None, [on, under, at]))]))
    patch = target_patch(target)
    column = strip_view.single(patch, "target", say("The target"))
    return TargetView(
        id=target.id,
        name=target.name,
        detail=detail,
        swatch=swatch(patch.diffuse),
        column=column,
        turns=bool(patch.at_angle),
    )


def target_patch(target: Target) -> Patch:
    """A target as a patch, at every angle at which it was seen."""
    facing = prediction.colour_of(targets.point(target).tolist())
    turning = tuple(prediction.colour_of(lab) for lab in target.labs) if target.seen.views == ANGLES_DEG else ()
    return Patch(facing, turning)
