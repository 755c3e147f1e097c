"""What stands around every page: the rail, the theme, and the cup under way."""

from dataclasses import dataclass

from fastapi import Request

from diachrom.web.swatches import SMALL_ABOVE, SMALL_RUNS, BeadString, bead_string
from diachrom.work.contents import Contents, contents
from diachrom.work.opened import Store

THEMES = {"day": "Day", "booth": "Booth"}
THEME_COOKIE = "theme"


@dataclass(frozen=True)
class RailEntry:
    key: str
    words: str
    href: str
    letter: str  # after "g"


RAIL = (
    RailEntry("shelf", "Shelf", "/shelf", "s"),
    RailEntry("mix", "Mix", "/mix", "m"),
    RailEntry("match", "Match", "/match", "t"),
    RailEntry("recipes", "Recipes", "/recipes", "r"),
)


@dataclass(frozen=True)
class CupUnderWay:
    """The cup as the rail shows it."""

    beads: BeadString
    drops: int


@dataclass(frozen=True)
class Frame:
    active: str
    theme: str
    other_theme: str
    cup: CupUnderWay


def theme_of(request: Request) -> str:
    chosen = request.cookies.get(THEME_COOKIE, "day")
    return chosen if chosen in THEMES else "day"


def under_way(held: Contents) -> CupUnderWay:
    return CupUnderWay(
        bead_string(held.draft.parts, held.shelf, fold_above=SMALL_ABOVE, most_runs=SMALL_RUNS), held.draft.drops
    )


def frame(request: Request, store: Store, active: str) -> Frame:
    theme = theme_of(request)
    other = next(key for key in THEMES if key != theme)
    return Frame(active, theme, other, under_way(contents(store)))
