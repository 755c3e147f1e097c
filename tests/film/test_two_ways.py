"""A stack is what it is, however it is written down: coats of one layer, or layers of one coat."""

import numpy as np
import pytest

from diachrom.core.film import seen
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer, spray
from diachrom.demo.paints import PAINTS

D65 = light("D65")
BY_KIND = {paint.kind: paint.profile() for paint in PAINTS}
ANGLES = (15.0, 45.0, 110.0)


def look(layers, over, under=D65):
    films, ground = spray(layers), GROUNDS[over]
    found = seen.diffuse(films, ground, sheen=CLEARED, under=under)
    if under.dark_minutes is None:
        found = found + seen.glance(films, ground, ANGLES, under=under)
    return lab_of_radiance(found, under=under)


@pytest.mark.parametrize("over", ["white", "black", "silver-foil", "clear-body-foil"])
@pytest.mark.parametrize("kind", [key for key, paint in BY_KIND.items() if not paint.thins])
def test_coats_of_one_layer_are_layers_of_one_coat(kind, over):
    cup = Cup([Pour(BY_KIND[kind], 1)])
    together, apart = look([Layer(cup, 8.0, 3)], over), look([Layer(cup, 8.0)] * 3, over)
    thick = look([Layer(cup, 24.0)], over)
    assert delta_e(together, apart).max() < 0.02
    assert delta_e(together, thick).max() < 0.02


@pytest.mark.parametrize("under", ["black-light", "green-lake@4", "dark@1"])
@pytest.mark.parametrize("kind", ["fluorescent", "glow"])
def test_what_shines_adds_up_in_any_light(kind, under):
    cup = Cup([Pour(BY_KIND[kind], 3), Pour(BY_KIND["opaque"], 1)])
    whole, apart = (look(one, "white", light(under)) for one in ([Layer(cup, 8.0, 4)], [Layer(cup, 8.0)] * 4))
    assert delta_e(whole, apart).max() < 0.02


@pytest.mark.parametrize("kind", ["opaque", "transparent", "pearl", "fluorescent", "candy"])
def test_what_lies_on_a_candy_bleeds_alike(kind):
    candy, above = Cup([Pour(BY_KIND["candy"], 1)]), Cup([Pour(BY_KIND[kind], 1)])
    ways = (
        [Layer(candy, 8.0, 2), Layer(above, 8.0, 3)],
        [Layer(candy, 8.0), Layer(candy, 8.0), *[Layer(above, 8.0)] * 3],
        [Layer(candy, 16.0), Layer(above, 8.0, 2), Layer(above, 8.0)],
    )
    looks = [look(one, "white") for one in ways]
    assert max(delta_e(looks[0], other).max() for other in looks[1:]) < 0.02
    if kind == "opaque":
        sealed = look([Layer(candy, 8.0, 2, sealed=True), Layer(above, 8.0, 1)], "white")
        assert np.min(delta_e(look([Layer(candy, 8.0, 2), Layer(above, 8.0)], "white"), sealed)) > 3
