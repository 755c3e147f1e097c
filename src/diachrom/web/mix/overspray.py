"""How much a job takes: from the form to the core, and what is learned from those that were sprayed."""

from collections.abc import Mapping

from fastapi import APIRouter
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.mix.amount import Job
from diachrom.units import MM
from diachrom.web.kit.dependencies import GivenForm, OpenStore
from diachrom.words import quantity, say
from diachrom.work.kit.figures import figure
from diachrom.work.mix import overspray_history
from diachrom.work.mix.contents import contents
from diachrom.work.mix.overspray_history import LearnedWaste

router = APIRouter(include_in_schema=False)
BAIT = {"length": "110", "height": "28", "thickness": "16", "area": "", "baits": "1", "covers": "100"}
FIELDS = (
    ("length", say("Length, mm")),
    ("height", say("Height, mm")),
    ("thickness", say("Thickness, mm")),
    ("area", say("or its area, cm²")),
    ("baits", say("Baits")),
    ("covers", say("Covered, %")),
    ("misses", say("Misses it, %")),
    ("stays", say("Stays behind, ml")),
)


def job_form(asked: Mapping[str, str], learned: LearnedWaste) -> dict[str, str]:
    """What the form shows: as it was asked, or as it usually is here."""
    usual = BAIT | {"misses": quantity(100 * learned.misses, ".0f"), "stays": quantity(learned.stays_ml, "g")}
    return {key: asked.get(key, value) for key, value in usual.items()}


def job_of(given: Mapping[str, str], coats: int, film_um: float) -> Job:
    """Lengths may be written in inches: "4.3 in". Raises InvalidInput."""

    def length(key: str, words: str) -> float:
        text = given[key].strip()
        return figure(text, words, key=key, least=0, most=5000, units=MM) if text else 0.0

    return Job(
        length_mm=length("length", say("Length")),
        height_mm=length("height", say("Height")),
        thickness_mm=length("thickness", say("Thickness")),
        baits=round(min(figure(given["baits"], say("Baits")), 1e6)),
        covers=figure(given["covers"], say("Covered")) / 100,
        coats=coats,
        film_um=film_um,
        misses=figure(given["misses"], say("Misses")) / 100,
        stays_ml=figure(given["stays"], say("Stays behind")),
        known_area_mm2=100 * figure(given["area"], say("Area")) if given["area"].strip() else None,
    )


@router.post("/amounts/used")
def used(store: OpenStore, given: GivenForm) -> Response:
    """Enter what a job really took, so that overspray is learned."""
    draft = contents(store).draft
    form = job_form({key: value[:20] for key, value in given.items()}, overspray_history.learned(store))
    used_ml = figure(given.get("used_ml", ""), say("Really used"))
    overspray_history.sprayed(store, job_of(form, draft.coats, draft.film_um), used_ml, at=clock.now())
    return RedirectResponse("/amounts", 303)


@router.post("/amounts/forget")
def forget(store: OpenStore) -> Response:
    """Forget the job that was entered last."""
    overspray_history.forget_last(store)
    return RedirectResponse("/amounts", 303)
