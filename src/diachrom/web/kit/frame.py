"""What stands around every page: the rail, the theme, and the cup under way."""

from dataclasses import dataclass

from fastapi import Request

from diachrom.web.kit.swatches import SMALL_ABOVE, SMALL_RUNS, BeadString, bead_string
from diachrom.words import say
from diachrom.work.kit.bench_settings import BenchSettings
from diachrom.work.kit.opened import Store
from diachrom.work.mix.contents import Contents, contents

THEMES = {"day": say("Day"), "booth": say("Booth")}
THEME_COOKIE, LOOK_COOKIE = "theme", "look"  # what was chosen; what the system has, as the page's script tells it


@dataclass(frozen=True)
class RailEntry:
    """A chapter's place on the rail."""

    place: int
    key: str
    words: str
    letter: str  # after "g"
    foot: bool = False  # it stands at the rail's foot: not on the way of the work
    on_phone: bool = True  # there a bar has room for five; the others are under More

    @property
    def href(self) -> str:
        """Where it leads."""
        return f"/{self.key}"


@dataclass(frozen=True)
class CupUnderWay:
    """The cup as the rail shows it."""

    beads: BeadString
    drops: int


@dataclass(frozen=True)
class Frame:
    active: str
    theme: str
    follows: bool  # the system, since nobody chose
    cup: CupUnderWay
    visited_from: str  # the address of a visitor's own bench, "" where this is it
    is_demo: bool  # and this is the demo bench, not a backup
    simulated: bool  # devices that only pretend to measure are offered
    weighs: bool  # a scale is connected


def theme_of(request: Request) -> str:
    """Light, or dark for the booth, as this browser chose; as its system has it where nobody did."""
    chosen = request.cookies.get(THEME_COOKIE)
    if chosen in THEMES:
        return chosen
    return "booth" if request.cookies.get(LOOK_COOKIE) == "dark" else "day"


def under_way(held: Contents) -> CupUnderWay:
    """What is under way, for the rail: the cup and its beads."""
    return CupUnderWay(
        bead_string(held.draft.parts, held.shelf, fold_above=SMALL_ABOVE, most_runs=SMALL_RUNS), held.draft.drops
    )


def frame(request: Request, store: Store, active: str) -> Frame:
    """What stands around every page."""
    follows = request.cookies.get(THEME_COOKIE) not in THEMES
    chosen: BenchSettings = request.app.state.settings()
    return Frame(
        active=active,
        theme=theme_of(request),
        follows=follows,
        cup=under_way(contents(store)),
        visited_from=request.app.state.visited_from,
        is_demo=request.app.state.is_demo,
        simulated=chosen.simulated == "yes",
        weighs=bool(chosen.scale_port) or chosen.simulated == "yes",
    )
