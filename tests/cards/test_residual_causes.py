"""A spray-out card beside its prediction, and the cause that explains the difference."""

from dataclasses import replace

import numpy as np
import pytest

from diachrom.core.cards.residual_causes import beside
from diachrom.core.cards.spray_out_cards import EVEN, CardPart, ReadPatch, TestCard
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import mix
from diachrom.core.film.surface import CLEARED, MATTE
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.where import Where
from diachrom.demo.paints import PAINTS

D65 = light("D65")
PROFILES = {paint.id: paint.profile() for paint in PAINTS}
MIX = {"rav-gull": 6, "torv-kritt": 1, "rav-nype": 2}
PAINTS_HERE = [PROFILES[key] for key in MIX]


def sprayed(true, *, film=1.0):
    """A card of two light coats as it would be read, of these paints."""
    shares = np.array(list(MIX.values())) / sum(MIX.values())
    coat = Coat(mix(true, shares), 16.0 * film)
    patches = [
        ReadPatch(
            GROUNDS[key],
            2,
            lab_of_radiance(Where(GROUNDS[key], coat.film_um, CLEARED, D65).radiance(coat)[0], under=D65),
        )
        for key in ("white", "black", "grey")
    ]
    parts = [CardPart(at, at, drops, 0.045) for at, drops in enumerate(MIX.values())]
    return TestCard(parts, 8.0, CLEARED, patches)


def test_a_card_as_it_was_meant_is_the_same_and_has_no_cause():
    found = beside(sprayed(PAINTS_HERE), PAINTS_HERE)
    assert found.delta_e < 0.2
    assert [patch.words for patch in found.patches] == ["the same side by side"] * 3
    assert 2 * found.film == pytest.approx(2, rel=0.04)


def test_a_third_coat_by_mistake_is_told_as_thickness():
    found = beside(sprayed(PAINTS_HERE, film=1.5), PAINTS_HERE)
    assert found.delta_e > 2
    assert found.causes[0].key == "film"
    assert 2 * found.film == pytest.approx(3, rel=0.04)
    assert found.causes[0].explains > 0.9
    assert "darker" in found.patches[0].words


@pytest.mark.parametrize(
    ("key", "change"),
    [
        ("strength", lambda one: replace(one, absorption=1.4 * one.absorption)),
        ("hiding", lambda one: replace(one, scattering=2.0 * one.scattering)),
        ("hue", lambda one: replace(one, absorption=one.absorption * np.exp(0.25 * EVEN))),
    ],
)
def test_what_is_otherwise_in_the_bottle_is_told_as_that(key, change):
    found = beside(sprayed([change(one) for one in PAINTS_HERE]), PAINTS_HERE)
    assert found.causes[0].key == key
    assert found.causes[0].explains > 0.9
    assert [cause.explains for cause in found.causes] == sorted(
        (cause.explains for cause in found.causes), reverse=True
    )


def test_patches_on_foil_on_another_film_and_left_matte_are_predicted_as_the_transport_solution_has_them():
    below = (Layer(Cup([Pour(PROFILES["torv-kritt"], 1)]), 8.0, 3),)
    shares = np.array(list(MIX.values())) / sum(MIX.values())
    for key, under, clear in (("silver-foil", (), True), ("black", below, True), ("white", (), False)):
        where = Where(GROUNDS[key], 24.0, CLEARED if clear else MATTE, D65, under)
        exact = lab_of_radiance(where.radiance(Coat(mix(PAINTS_HERE, shares), 24.0))[0], under=D65)
        parts = [CardPart(at, at, drops, 0.045) for at, drops in enumerate(MIX.values())]
        found = beside(
            TestCard(parts, 8.0, CLEARED if clear else MATTE, [ReadPatch(GROUNDS[key], 3, exact, under)]), PAINTS_HERE
        )
        assert found.delta_e < 0.3


def test_what_is_usual_grows_with_a_vague_profile_and_holds_most_uneven_coats():
    card = sprayed(PAINTS_HERE, film=1.2)
    usual = beside(card, PAINTS_HERE).patches[0]
    vague = beside(card, [replace(one, uncertainty=0.4) for one in PAINTS_HERE]).patches[0]
    assert vague.spread > 1.3 * usual.spread
    assert usual.delta_e < usual.spread


def test_layers_that_are_the_same_to_light_share_their_tables_and_others_do_not():
    def layer(drops=1, film_um=8.0, paint="torv-kritt"):
        return Layer(Cup([Pour(PROFILES[paint], drops)]), film_um, 3)

    assert layer().digest == layer().digest
    others = [layer(film_um=9.0), layer(drops=2), layer(paint="torv-sot"), replace(layer(), sealed=True)]
    assert len({layer().digest, *(one.digest for one in others)}) == 5
    tables = [Where(GROUNDS["black"], 24.0, CLEARED, D65, (layer(),)).tables() for _ in range(2)]
    assert tables[0] is tables[1]
