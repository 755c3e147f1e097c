"""Glow in the dark: named as light, for as long as it is seen, in as many coats as are worth it."""

import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.light.lights import light
from diachrom.core.mix import dark
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.strip import Over, strip
from diachrom.core.profiles.guess import guess
from diachrom.core.shelf.named import named
from diachrom.store import bottles
from diachrom.work.shelf.guessing import to_guess

WHITE = Over.bare(GROUNDS["white"])


def cup_of(name):
    return Cup([Pour(guess([to_guess(name, "glow", named(name).lab)])[0], 10)])


def lit(mix, minutes, coats=3, over=WHITE):
    under = light(f"dark@{minutes}")
    return strip(mix, film_um=8, coats=coats, over=[over], sheen=0.0, under=under).columns[0].patches[-1].diffuse.lab


@pytest.mark.parametrize(("name", "hue"), [("Glow blue", "blue"), ("Glow green", "green"), ("Glow orange", "orange")])
def test_light_is_called_by_its_hue_and_how_strong_it_is(name, hue):
    mix = cup_of(name)
    assert hue in dark.called(lit(mix, 0))
    assert dark.called(lit(mix, 60, coats=1)).startswith(("faint", "no light"))
    assert dark.called(lit(mix, 20)) != dark.called(lit(mix, 0))


def test_it_is_seen_for_as_long_as_it_is_said():
    mix = cup_of("Glow green")
    powder = mix.pours[0].paint.glow
    lasts = dark.seen_for([powder], float(lit(mix, 0, coats=1)[0]), 0)
    before, after = (float(lit(mix, round(lasts + by, 1), coats=1)[0]) for by in (-2, 2))
    assert before > dark.SEEN_L > after
    later = dark.seen_for([powder], float(lit(mix, 10, coats=1)[0]), 10)
    assert later == pytest.approx(lasts, rel=0.02)
    assert dark.seen_for([powder], 1.0, 0) == 0
    assert dark.seen_for([], 50.0, 0) == 0


def test_coats_are_worth_spraying_until_one_more_adds_nothing():
    mix = cup_of("Glow green")
    worth = dark.worth_spraying(mix, 14, WHITE)
    assert 3 <= worth <= dark.MOST_COATS
    thick = dark.worth_spraying(mix, 60, WHITE)
    assert thick < worth or worth == dark.MOST_COATS
    if thick < dark.MOST_COATS:
        one, more = (dark.luminance(float(lit_at(mix, n)[0])) for n in (thick, thick + 1))
        assert more < 1.06 * one


def lit_at(mix, coats):
    return (
        strip(mix, film_um=60, coats=coats, over=[WHITE], sheen=0.0, under=light("dark@0"))
        .columns[0]
        .patches[-1]
        .diffuse.lab
    )


def test_the_page_says_it_in_the_dark(client, store):
    client.post("/mix/new")
    client.post("/mix/add", data={"bottle": next(one.id for one in bottles.every(store) if one.kind == "glow")})
    client.post("/mix/look", data={"light": "dark@1"})
    page = client.get("/mix").text
    assert "seen for" in page
    assert "coats" in page
