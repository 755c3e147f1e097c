"""The words of the trade and of colour that the pages use, each in a sentence."""

import re
from collections.abc import Mapping
from functools import cache

from fastapi import APIRouter, Request
from fastapi.responses import Response
from markupsafe import Markup, escape

from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import TEMPLATES, render
from diachrom.words import Reader, current, quantity, reading, say

router = APIRouter(include_in_schema=False)


def anchor(word: str) -> str:
    """Where a word stands on the page of terms."""
    return word.lower().replace(" ", "-")


# By what they are about: a word, and what it means at the bench.
TERMS = {
    say("How colours are told apart"): (
        (
            "dE",
            say(
                "How far two colours are apart. Below {unseen} nobody sees it; 1 is the same side by side for "
                "most eyes; {far} is the same at arm's length; beyond 5 it is clearly another colour.",
                unseen=quantity(0.5, "g"),
                far=quantity(2.5, "g"),
            ),
        ),
        (
            "L a b",
            say(
                "A colour in three figures: L is how light it is, 0 black to 100 white; a goes from "
                "green (minus) to red (plus), b from blue (minus) to yellow (plus)."
            ),
        ),
        (
            "L C h",
            say(
                "The same colour in other figures: C is how strong it is, 0 for grey, and h the hue as "
                "an angle: 0 red, 90 yellow, 180 green, 270 blue."
            ),
        ),
        (
            say("Spread"),
            say(
                "How far your paint may be off the prediction, because hands, drops and profiles are "
                "never quite as planned: nine patches in ten stay within it."
            ),
        ),
        (say("One drop amiss"), say("How far the colour moves at most when one drop too many or too few falls.")),
    ),
    say("How paints behave"): (
        (say("Masstone"), say("The colour of a paint so thick that nothing shines through: what the cup shows.")),
        (
            say("Contrast ratio"),
            say(
                "How well a film hides: the light from it over black by the light from it over white. 1 "
                "hides all, 0 nothing."
            ),
        ),
        (
            say("Flash"),
            say("What flakes show head-on, with lamp and eye almost as in a mirror: 15 to 25 degrees from it."),
        ),
        (say("Flop"), say("The dull side: what flakes show turned away from the flash, darker or of another hue.")),
        (say("Tilt"), say("How far the bait is turned from the mirror's direction: the aspecular angle, in degrees.")),
        (say("Candy"), say("A dissolved dye without pigment: it never hides, each coat only deepens it.")),
        (say("Let down"), say("Mixed with much white, to see how strong a paint is.")),
    ),
    say("What a bait is painted with"): (
        (
            say("Blank"),
            say("A bait before it is painted, as it comes to the bench: its shape, size, material and ground."),
        ),
        (say("Lateral line"), say("The line along the middle of a fish's side, from the gill plate to the tail.")),
        (say("Netting"), say("A net stretched over the bait: what is under its threads stays, and shows as scales.")),
        (say("Comb"), say("Teeth held in front of the bait: paint goes through between them, as bars.")),
        (
            say("Sealed stage"),
            say("A thin clear between risky steps: what goes wrong on it is wiped back to it with a damp swab."),
        ),
        (say("Wash"), say("Thin dark paint that runs into the recesses of scales, and is wiped off their heights.")),
        (say("Raking"), say("Spraying along the skin: one side of each scale or thread stays bare.")),
    ),
    say("What is sprayed"): (
        (
            say("Film"),
            say(
                "The paint on the bait, measured wet in micrometres (µm): a light coat is about {film}.",
                film=quantity(8, "g", "µm"),
            ),
        ),
        (
            say("Pass"),
            say(
                "One thin, even sweep of mist, about {film} wet. Four passes make a light coat.",
                film=quantity(2, "g", "µm"),
            ),
        ),
        (say("Ground"), say("What is under the coat: white, black, foil, a clear body, or another paint.")),
        (say("Reducer"), say("Thins the paint and the coat. Medium thins the colour and keeps body and grip.")),
        (say("Flash-off"), say("The wait until the thinner has left a coat, before warm air or the next one.")),
        (say("Recoat window"), say("The time in which the next coat grips: not before it, and not long after.")),
        (say("Pot life"), say("How long a two-part clear can be used after its parts were mixed.")),
    ),
    say("What Diachrom keeps"): (
        (
            say("Profile"),
            say(
                "What Diachrom knows of a paint: how much of each colour of light it absorbs and sends "
                "back. A guess comes from its kind and one colour; a card or a sheet measures it."
            ),
        ),
        (
            say("Drawdown card"),
            say("One paint sprayed over white and black in several films, and measured: that makes its profile."),
        ),
        (say("Shelf sheet"), say("The same for up to 24 paints on one printed sheet, read from one photo.")),
        (say("Spray-out card"), say("A mix sprayed as planned, and compared with what was predicted.")),
        (
            say("Substitute"),
            say(
                "The bottle or mix that comes closest to a paint you have no more of, over the grounds it was used on."
            ),
        ),
        (say("Strip"), say("A colour as it is sprayed: coats downwards, grounds side by side, the cup at its head.")),
    ),
}


@cache
def _known(reader: Reader) -> tuple[Mapping[str, str], re.Pattern[str]]:
    """Where each word stands, as a reader reads it, and what finds them in a sentence."""
    with reading(reader):
        anchors = {str(word).lower(): anchor(word) for own in TERMS.values() for word, _ in own}
    longest_first = sorted(map(re.escape, anchors), key=len, reverse=True)
    return anchors, re.compile(rf"\b({'|'.join(longest_first)})\b", re.I)


def linked(text: str) -> Markup:
    """A sentence with the first of each of these words leading to what it means; for a template's filter."""
    anchors, words = _known(current())
    met: set[str] = set()

    def link(found: re.Match[str]) -> str:
        where = anchors[found[0].lower()]
        if where in met:
            return found[0]
        met.add(where)
        return f'<a class="term" href="/terms#{where}">{found[0]}</a>'

    return Markup(words.sub(link, str(escape(text))))  # what is in it is escaped


TEMPLATES.filters["terms"] = linked
TEMPLATES.filters["anchor"] = anchor


@router.get("/terms")
def terms(request: Request, store: OpenStore) -> Response:
    """The terms of the trade, explained."""
    return render("kit/terms.html", terms=TERMS, frame=frame(request, store, "terms"))
