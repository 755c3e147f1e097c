"""Substitutes for a paint: the paint itself wins, mixes beat singles, and nothing is said that is not so."""

import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.strip import Over, strip
from diachrom.core.profiles.substitutes import FILM_UM, VIEWS, find_substitutes
from diachrom.demo.paints import PAINTS

PROFILES = {paint.id: paint.profile() for paint in PAINTS}
OTHERS = [key for key in PROFILES if key != "torv-koral"]


def three_coats(pours, ground):
    seen = strip(Cup(pours), film_um=8.0, coats=3, over=[Over.bare(GROUNDS[ground])], sheen=CLEARED, under=light("D65"))
    return seen.columns[0].patches[-1].diffuse.lab


def test_the_same_paint_under_another_name_comes_first_and_differs_in_nothing():
    others = [PROFILES[key] for key in ("rav-gran", "rav-fjord", "torv-hav")]
    singles, _ = find_substitutes(PROFILES["rav-fjord"], others)
    assert singles[0].parts == ((1, 1),)
    assert singles[0].delta_e < 0.01
    assert all(words.startswith("the same side by side") for _, _, _, words in singles[0].by_view)
    assert [one.delta_e for one in singles] == sorted(one.delta_e for one in singles)


def test_a_mix_that_was_taken_apart_is_found_again_in_its_own_drops():
    parts = [Pour(PROFILES["rav-gull"], 4), Pour(PROFILES["rav-nype"], 1)]
    target = Cup(parts).mix()
    wanted = type(PROFILES["rav-gull"])("x", "transparent", target.absorption, target.scattering)
    _, mixes = find_substitutes(wanted, [PROFILES[key] for key in OTHERS])
    best = mixes[0]
    assert sorted((OTHERS[at], drops) for at, drops in best.parts) == [("rav-gull", 4), ("rav-nype", 1)]
    assert best.delta_e < 0.1


def test_mixes_come_nearer_than_single_paints_and_are_what_is_said_of_them():
    target = PROFILES["torv-koral"]
    singles, mixes = find_substitutes(target, [PROFILES[key] for key in OTHERS])
    assert mixes[0].delta_e < 0.55 * singles[0].delta_e
    assert len({frozenset(at for at, _ in one.parts) for one in mixes}) == len(mixes) == 5
    pours = [Pour(PROFILES[OTHERS[at]], drops) for at, drops in mixes[0].parts]
    for key, um, said, _ in mixes[0].by_view:
        if key != "silver-foil" and um == FILM_UM:
            assert said == pytest.approx(
                float(delta_e(three_coats(pours, key), three_coats([Pour(target, 1)], key))), abs=0.05
            )


@pytest.mark.parametrize("missing", ["perlemor-gronn", "nordlys-mose", "glo-gul"])
def test_what_turns_or_shines_is_stood_in_for_by_what_turns_or_shines(missing):
    others = [key for key in PROFILES if key != missing]
    singles, mixes = find_substitutes(PROFILES[missing], [PROFILES[key] for key in others])
    assert [(key, um) for key, um, _, _ in mixes[0].by_view] == list(VIEWS)
    assert mixes[0].delta_e <= singles[0].delta_e + 1e-6
    kinds = {PROFILES[others[at]].kind for at, _ in mixes[0].parts}
    assert kinds & {"pearl", "shift", "metallic", "glitter", "fluorescent", "glow"}
    if missing != "glo-gul":
        assert any("at the flop" in words for _, _, _, words in singles[0].by_view)


def test_an_empty_shelf_offers_nothing():
    assert find_substitutes(PROFILES["rav-gull"], []) == ([], [])
