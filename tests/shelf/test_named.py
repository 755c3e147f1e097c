"""What the name of a paint says: its kind, its colour, and how what flakes and glows looks where it is sprayed."""

import pytest

from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lch
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import seen_lab
from diachrom.core.shelf.bottle_list import read_line
from diachrom.core.shelf.named import named
from diachrom.work.shelf.guessing import to_guess


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("Medium yellow", "opaque"),
        ("Clear medium", "medium"),
        ("Extender base", "medium"),
        ("Satin varnish", "medium"),
        ("Water", "reducer"),
        ("Water blue", "opaque"),
        ("Flow improver", "reducer"),
        ("White thinner", "reducer"),
        ("Clear red", "transparent"),
        ("ice blue clear", "transparent"),
        ("Red (opaque)", "opaque"),
        ("Pearl grey, opaque", "opaque"),
        ("Gold", "metallic"),
        ("Brass", "metallic"),
        ("Silver grey", "opaque"),
        ("Gold ochre", "opaque"),
        ("Titanium white", "opaque"),
        ("Pearl gold", "pearl"),
        ("Blue flip", "pearl"),
        ("Flip flop blue", "shift"),
        ("Colour shift violet to green", "shift"),
        ("Glow in the dark", "glow"),
        ("Orange by day, glows green", "glow"),
        ("Dayglo orange", "fluorescent"),
        ("Neongelb", "fluorescent"),
        ("Weiße Grundierung", "primer"),
        ("Metal primer", "primer"),
        ("Silver glitter", "glitter"),
        ("Perlweiß", "pearl"),
        ("Candy apple red", "candy"),
        ("Burnt umber ink", "ink"),
    ],
)
def test_a_name_says_its_kind_by_whole_phrases(name, kind):
    assert named(name).kind == kind


def looks(name, ground):
    said = named(name)
    paint = guess([to_guess(name, said.kind, said.lab, mica=said.mica, glows=said.glows)])[0]
    return lch(seen_lab(paint, ground))


def test_white_mica_leaves_white_white_and_has_a_sheen():
    lightness, chroma, _ = looks("Pearl white", "white")
    assert lightness > 82
    assert chroma < 5
    assert looks("Pearl white", "black-glance")[0] > 70


def test_coloured_mica_keeps_its_hue_over_both_and_interference_turns_to_its_complement():
    for name, hue in (("Pearl gold", 82), ("Copper pearl", 56)):
        for ground in ("white", "black-glance"):
            assert abs(looks(name, ground)[2] - hue) < 15, (name, ground)
    assert looks("Interference blue", "white")[2] == pytest.approx(100, abs=25)  # the complement, a yellow
    assert looks("Interference blue", "black-glance")[2] == pytest.approx(280, abs=15)


def test_a_name_that_leaves_open_which_mica_it_is_asks():
    assert [named(name).asks for name in ("Pearl blue", "Pearl gold", "Pearl white", "Blue flip")] == [
        True,
        False,
        False,
        False,
    ]


def test_bare_metals_are_light_and_neutral_in_the_flash():
    for name in ("Silver", "Aluminium", "Bright silver"):
        lightness, chroma, _ = looks(name, "black-glance")
        assert lightness > 85
        assert chroma < 5


def test_a_shift_goes_from_the_one_colour_to_the_other():
    paint = guess([to_guess("Shift green to gold", "shift", named("Shift green to gold").lab)])[0]
    other = guess([to_guess("Shift violet to green", "shift", named("Shift violet to green").lab)])[0]
    assert paint.flake.thickness_nm > 390  # its hue falls from 150 to 110 degrees, in two orders of the spacer
    assert 330 < other.flake.thickness_nm < 370


@pytest.mark.parametrize(
    ("name", "nm"), [("Glow blue", (455, 485)), ("Glow green", (515, 545)), ("Glow aqua", (485, 505))]
)
def test_glow_is_near_white_by_day_and_shines_in_its_colour(name, nm):
    said = named(name)
    paint = guess([to_guess(name, "glow", said.lab)])[0]
    assert nm[0] <= paint.glow.emits_nm <= nm[1]
    lightness, chroma, _ = looks(name, "white")
    assert lightness > 85
    assert chroma < 12


def test_both_colours_of_a_glow_can_be_said():
    said = named("Orange by day, glows green")
    assert lch(said.lab)[2] == pytest.approx(60, abs=8)
    assert lch(said.glows)[2] == pytest.approx(145, abs=12)


def test_amounts_are_read_in_their_units():
    read = {line: read_line(line) for line in ("Glow blue 50 g", "Red 1/2 oz", "Red ½ oz", "Red", "2 x 30 ml Red")}
    assert [(one.size_ml, one.size_g) for one in read.values()] == [
        (None, 50),
        (14.8, None),
        (14.8, None),
        (None, None),
        (30, None),
    ]
    assert {one.name for one in read.values()} == {"Glow blue", "Red"}


def test_a_word_that_is_unknown_is_named_to_be_learned():
    assert named("Zorkle, transparent").unknown == "zorkle"
    assert named("Airbrush zorkle dark").unknown == "zorkle"
    assert delta_e(named("Dark zork", {"zork": named("red").lab}).lab, named("dark red").lab) < 12
