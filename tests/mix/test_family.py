"""Light, middle and dark of one hue from one recipe and one cup."""

import numpy as np
import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import hue_difference, lch
from diachrom.core.light.lights import light
from diachrom.core.mix.family import NAMES, FamilyBuilder
from diachrom.core.mix.where import Where
from diachrom.demo.paints import PAINTS
from diachrom.errors import EmptyCup, InvalidInput

IDS = [paint.id for paint in PAINTS]
PROFILES = [paint.profile() for paint in PAINTS]
DROPS = [paint.drop_ml for paint in PAINTS]
WHITE = Where(GROUNDS["white"], 16.0, CLEARED, light("D65"))


def makers(**recipe):
    return FamilyBuilder(
        PROFILES, DROPS, [(IDS.index(key.replace("_", "-")), drops) for key, drops in recipe.items()], WHITE
    )


ORANGE = {"rav_gull": 6, "torv_kritt": 1, "rav_nype": 3, "tynn_reducer": 4}
OLIVE = {"torv_tang": 6, "torv_kritt": 2}


@pytest.mark.parametrize("given", NAMES)
@pytest.mark.parametrize("recipe", [ORANGE, OLIVE])
def test_the_three_are_even_steps_of_one_hue_and_one_of_them_is_the_recipe(recipe, given):
    own = makers(**recipe)
    family = own.family(needs_ml=(1, 1, 1), step=7, given=given)
    members = {one.name: one for one in family.members}
    assert set(members) == set(NAMES)
    assert [members[name].lab[0] for name in NAMES] == sorted((one.lab[0] for one in family.members), reverse=True)
    assert [one.step for one in family.members[1:]] == pytest.approx([7, 7], abs=2.0)
    assert family.given_off < 2
    base = own.base / own.base.sum()
    recipe_lab = own._lab(base)
    assert delta_e(members[given].lab, recipe_lab) == pytest.approx(family.given_off)
    assert all(hue_difference(one.lab, recipe_lab) < 6 for one in family.members)


def test_what_is_poured_off_is_what_was_needed_and_all_of_it_was_poured_in_whole_drops():
    needs = {"light": 2.0, "middle": 1.0, "dark": 0.5}
    family = makers(**ORANGE).family(needs_ml=tuple(needs.values()), step=6, given="middle")
    poured, cup = 0.0, 0.0
    for one in family.members:
        added = sum(drops * DROPS[at] for at, drops in one.added)
        assert one.cup_ml == pytest.approx(cup + added)
        assert one.taken_ml == pytest.approx(needs[one.name], abs=0.03)
        poured += added
        cup = one.cup_ml - one.taken_ml
    assert family.poured_ml == pytest.approx(poured)
    assert family.left_ml == pytest.approx(cup)
    assert family.left_ml < 0.35


def test_what_cannot_be_a_family_is_said():
    with pytest.raises(EmptyCup):
        makers(tynn_reducer=3)
    own = makers(**ORANGE)
    for wrong in ({"step": 1}, {"step": 99}, {"needs_ml": (1, 0, 1)}, {"needs_ml": (1, 1)}, {"given": "pale"}):
        with pytest.raises(InvalidInput):
            own.family(**({"needs_ml": (1, 1, 1), "step": 6, "given": "light"} | wrong))
    alone = FamilyBuilder(PROFILES[:1], DROPS[:1], [(0, 4)], WHITE)
    with pytest.raises(InvalidInput, match="No bottle on the shelf"):
        alone.family(needs_ml=(1, 1, 1), step=8, given="middle")


def test_the_difference_of_hue_is_that_of_lch():
    one, two = np.array([50.0, 30.0, 40.0]), np.array([60.0, 10.0, 50.0])
    lightness, chroma = 10.0, lch(one)[1] - lch(two)[1]
    whole = np.sum((one - two) ** 2)
    assert hue_difference(one, two) ** 2 == pytest.approx(whole - lightness**2 - chroma**2)
