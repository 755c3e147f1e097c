"""Each check by one cup that breaks it and one that does not."""

import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.mix.advice import CHECKS, Situation, advice
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.demo.paints import PAINTS

SHELF = {paint.id: Pour(paint.profile(), 1, paint.drop_ml) for paint in PAINTS}


def cup(**drops):
    return Cup(tuple(Pour(SHELF[key.replace("_", "-")].paint, count, 0.05) for key, count in drops.items()))


def now(mix, over="white", below=(), nozzle_mm=0.5):
    return Situation(mix, GROUNDS[over], below, nozzle_mm)


CANDY = Layer(cup(lykt_rod=1, tynn_medium=1), 8.0, 2)
CASES = {
    "carrier": (now(cup(lykt_rod=4, tynn_reducer=2)), now(cup(lykt_rod=4, tynn_medium=2)), "no grip"),
    "over-candy": (
        now(cup(torv_kritt=3), below=(CANDY,)),
        now(cup(torv_kritt=3), below=(Layer(CANDY.cup, 8.0, 2, sealed=True),)),
        "bleeds up",
    ),
    "nozzle": (now(cup(malm_skimmer=3), "black", nozzle_mm=0.3), now(cup(malm_skimmer=3), "black"), "clog a 0.3 mm"),
    "glow-ground": (now(cup(morild_gronn=5), "black"), now(cup(morild_gronn=5)), "put white under it"),
    "fluorescent-ground": (now(cup(glo_gul=5), "black"), now(cup(glo_gul=5)), "put white under it"),
    "pearl-ground": (now(cup(perlemor_gull=5)), now(cup(perlemor_gull=5), "black"), "Black shows it"),
    "thinned": (now(cup(torv_hav=2, tynn_reducer=8)), now(cup(torv_hav=5, tynn_reducer=5)), "80 % of the cup"),
    "dark-ground": (now(cup(rav_nype=5), "black"), now(cup(rav_nype=5), "silver-foil"), "only absorbs light"),
}


def test_every_check_has_a_case():
    assert set(CASES) == set(CHECKS)


@pytest.mark.parametrize("key", CASES)
def test_a_check_speaks_where_it_should_and_is_silent_where_it_should_not(key):
    broken, fine, says = CASES[key]
    assert any(says in sentence for sentence in CHECKS[key](broken))
    assert not list(CHECKS[key](fine))
    assert any(says in sentence for sentence in advice(broken))


def test_white_laid_over_black_counts_as_white():
    white = Layer(cup(torv_kritt=3), 14.0, 3)
    assert not list(CHECKS["glow-ground"](now(cup(morild_gronn=5), "black", below=(white,))))


def test_an_empty_cup_hears_nothing():
    assert advice(now(cup(lykt_rod=0))) == []
