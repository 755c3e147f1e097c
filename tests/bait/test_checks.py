"""Each check: a plan that breaks it, one that is near and does not, and its mend leaves one that no longer does."""

from dataclasses import replace

import numpy as np
import pytest
from bait.painting import CLEAR, PROFILES, through

from diachrom.core.bait.amounts import Amount
from diachrom.core.bait.blank import Blank
from diachrom.core.bait.checks import CHECKS, findings
from diachrom.core.bait.checks.look import Bottle, Made, looked
from diachrom.core.bait.coated import Painted
from diachrom.core.bait.deposit import Skin
from diachrom.core.bait.plan import PREPARATIONS, WHATS, Layer, Plan
from diachrom.core.bait.regions import Box
from diachrom.core.bait.tabled import Kept
from diachrom.core.film import seen
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import mix
from diachrom.core.film.stack import sprayed
from diachrom.core.finish.two_part import Resin, least_ml
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import light

CELLS = (60, 24)
KEPT = Kept()
D65 = light("D65")


def made_of(layer, baits=1, **bottle):
    """What a layer's source says: "rav-gull 6 tynn-reducer 2"."""
    if not WHATS[layer.what].lies:
        return Made(Painted(), layer.what)
    if layer.what == "foil":
        return Made(Painted(ground=GROUNDS["silver-foil"]), "foil")
    if not WHATS[layer.what].paint:
        return Made(CLEAR, layer.what, amount=Amount(0, layer.film_um / 60 * baits, layer.film_um / 60 * baits))
    words = layer.source.split()
    ids, drops = (words[::2], words[1::2]) if len(words) > 1 else (words, ["1"])
    if not ids:
        return Made(Painted(), "gone")
    shares = np.array(drops, dtype=float) / sum(map(float, drops))
    left = 1 / (1 + layer.medium + layer.reducer)
    whole = mix([PROFILES[key] for key in ids], shares)
    own = replace(
        whole,
        absorption=left * whole.absorption,
        scattering=left * whole.scattering,
        flakes=tuple((flake, left * cover) for flake, cover in whole.flakes),
    )
    painted = Painted(own, sealed=layer.sealed, digest=f"{layer.source} {left}".encode())
    aim = lab_of_radiance(seen.diffuse(sprayed([Coat(whole, 16.0)]), GROUNDS["white"], sheen=0.0, under=D65), under=D65)
    bottles = [
        Bottle(PROFILES[key].name, PROFILES[key].kind, float(share), **({"left_ml": 20.0} | bottle))
        for key, share in zip(ids, shares, strict=True)
    ]
    return Made(painted, layer.source, bottles, aim, Amount(0, 0, 1.0 * baits))


def look_at(plan, **bottle):
    skin = Skin(plan.blank.surface(CELLS), plan.blank.form.landmarks, {})
    made = [made_of(one, plan.baits, **bottle) for one in plan.layers]
    return looked(plan, made, skin, KEPT, white="torv-kritt", black="torv-sot", scale=(0.01, least_ml(Resin(), 0.01)))


def ids(plan, **bottle):
    return {one.check.id for one in findings(look_at(plan, **bottle))}


def lay(source="", region="all", origin="around", what="paint", **more):
    return Layer(0, what, source, region=region, origin=origin, **more)


def plan(*layers, state="primed-white", shape="pencil", blank=None, **more):
    own = Plan(blank=Blank(shape, 110, state=state, **(blank or {})))
    for layer in layers:
        own = own.with_layer(layer)
    return replace(own, **more)


def varnish(**more):
    return lay(what="varnish", film_um=12.0, coats=1, **more)


def clear(wait_h=24.0, **more):
    return lay(what="clear", film_um=60.0, coats=1, wait_h=wait_h, **more)


GULL, MOSS, RED, BLUE = (
    "rav-gull 6 tynn-reducer 3",
    "torv-mose 8 tynn-reducer 3",
    "rav-nype 5 tynn-reducer 3",
    "rav-fjord",
)
CANDY = "lykt-rod 3 tynn-medium 6"
NET = through("net", size_mm=9.0, gap_mm=4.0)
UNPREPARED = {key: tuple(one for one in PREPARATIONS if one != key) for key in PREPARATIONS}
# By check: a plan that breaks it, and one that is near and does not.
CASES = {
    "candy-without-carrier": (plan(lay("lykt-rod")), plan(lay(CANDY))),
    "candy-unsealed": (plan(lay(CANDY), lay(MOSS)), plan(lay(CANDY, sealed=True), lay(MOSS))),
    "two-wet-candies": (
        plan(lay(CANDY), lay("lykt-gul 3 tynn-medium 6")),
        plan(lay(CANDY), lay(CANDY)),
    ),
    "wash-without-varnish": (
        plan(lay(GULL), lay("torv-sot 1 tynn-reducer 3", what="wash")),
        plan(lay(GULL), varnish(), lay("torv-sot 1 tynn-reducer 3", what="wash")),
    ),
    "swab-without-save-point": (
        plan(lay(GULL), lay(RED), lay(what="swab")),
        plan(lay(GULL), varnish(), lay(RED), lay(what="swab")),
    ),
    "rub-without-foil": (plan(lay(GULL), lay(what="rub")), plan(lay(GULL), lay(what="rub"), state="foil-silver")),
    "clear-over-wet-paint": (plan(lay(GULL), clear(0.0)), plan(lay(GULL), clear(24.0))),
    "clear-out-of-its-window": (plan(lay(GULL), clear(), clear(10.0)), plan(lay(GULL), clear(), clear(3.0))),
    "mask-on-wet-paint": (
        plan(lay(MOSS, coats=3, film_um=14.0), lay(RED, mask=NET)),
        plan(lay(MOSS, coats=3, film_um=14.0), lay(RED, mask=replace(NET, lift_mm=2.0))),
    ),
    "mask-left-on": (
        plan(Layer(0, "mask", mask=NET), lay(MOSS), clear()),
        plan(Layer(0, "mask", mask=NET), lay(MOSS), Layer(0, "unmask"), clear()),
    ),
    "net-after-the-belly": (
        plan(lay(GULL, "belly", "below"), lay(MOSS, mask=NET)),
        plan(lay(MOSS, mask=NET), lay(GULL, "belly", "below")),
    ),
    "bare-metal": (
        plan(lay(GULL), shape="spoon-flat", state="bare"),
        plan(varnish(), lay(GULL), shape="spoon-flat", state="bare"),
    ),
    "soft-parts-painted": (
        plan(lay(GULL), shape="soft-minnow"),
        plan(lay(GULL), shape="soft-minnow", blank={"tail_painted": False}),
    ),
    "paint-over-clear": (plan(lay(GULL), clear(), lay(RED)), plan(lay(GULL), varnish(), lay(RED))),
    "foil-over-paint": (
        plan(lay(GULL), lay("silver-foil", "flank", what="foil")),
        plan(lay("silver-foil", "flank", what="foil"), lay(GULL)),
    ),
    "no-clear-at-last": (plan(lay(GULL)), plan(lay(GULL), clear())),
    "hidden-under-another": (
        plan(lay(RED), lay("torv-sot", coats=6, film_um=14.0)),
        plan(lay(RED), lay("torv-sot", "spine", "above")),
    ),
    "flash-lost": (
        plan(lay(MOSS, coats=3, film_um=14.0), state="foil-silver"),
        plan(lay(MOSS, "belly", "below", coats=3), state="foil-silver"),
    ),
    "muddied": (plan(lay("torv-mose", coats=4), lay(RED)), plan(lay("torv-kritt", coats=4), lay(RED))),
    "another-hue": (plan(lay(BLUE), lay("rav-sitron")), plan(lay("torv-kritt"), lay("rav-sitron"))),
    "darker-than-meant": (
        plan(lay("torv-leire", coats=4), lay(GULL)),
        plan(lay("torv-kritt", coats=4), lay(GULL)),
    ),
    "dye-over-dark": (plan(lay(CANDY), state="primed-black"), plan(lay(CANDY), state="foil-silver")),
    "metal-half-over-white": (
        plan(lay("malm-solv 1 tynn-medium 9", coats=1, film_um=6.0)),
        plan(lay("malm-solv 1 tynn-medium 9", coats=1, film_um=6.0), state="primed-black"),
    ),
    "pearl-over-light": (plan(lay("perlemor-blaa")), plan(lay("perlemor-blaa"), state="primed-black")),
    "shift-over-light": (
        plan(lay("nordlys-fiol 1 tynn-medium 6", coats=1, film_um=4.0)),
        plan(lay("nordlys-fiol 1 tynn-medium 6", coats=1, film_um=4.0), state="primed-black"),
    ),
    "fluorescent-without-white": (plan(lay("glo-oransje"), state="primed-grey"), plan(lay("glo-oransje"))),
    "glow-without-white": (
        plan(lay("morild-gronn", coats=4, film_um=25.0), state="primed-black"),
        plan(lay("morild-gronn")),
    ),
    "glow-too-thin": (plan(lay("morild-gronn", coats=1)), plan(lay("morild-gronn", coats=4, film_um=25.0))),
    "dark-before-the-rest": (
        plan(lay("torv-sot", mask=through("bars", size_mm=22.0, gap_mm=9.0)), lay("torv-mose", coats=3)),
        plan(lay("torv-mose", coats=3), lay("torv-sot", mask=through("bars", size_mm=22.0, gap_mm=9.0))),
    ),
    "out-of-reach": (
        plan(lay("torv-smor", coats=1, film_um=4.0), state="primed-black"),
        plan(lay("torv-smor", coats=2)),
    ),
    "lifted-too-far": (
        plan(lay(MOSS, mask=replace(NET, lift_mm=9.0))),
        plan(lay(MOSS, mask=replace(NET, lift_mm=2.0))),
    ),
    "flakes-through-a-small-nozzle": (
        plan(lay("perlemor-blaa"), state="primed-black"),
        plan(lay("perlemor-blaa", nozzle_mm=0.5), state="primed-black"),
    ),
    "grains-through-a-small-nozzle": (plan(lay("morild-gronn")), plan(lay("morild-gronn", nozzle_mm=0.5))),
    "thick-paint-unthinned": (plan(lay("torv-mose")), plan(lay("torv-mose", reducer=0.25))),
    "thinned-too-far": (plan(lay("torv-mose", reducer=3.0)), plan(lay("torv-mose", reducer=1.0))),
    "pressure-too-high-for-a-line": (
        plan(lay(MOSS, mask=through("line"))),
        plan(lay(MOSS, mask=through("line"), pressure_bar=0.8)),
    ),
    "coat-that-runs": (plan(lay(GULL, film_um=60.0)), plan(lay(GULL, film_um=14.0))),
    "dust-from-afar": (plan(lay(GULL, distance_mm=300.0)), plan(lay(GULL, distance_mm=150.0))),
    "spider-web": (plan(lay(GULL, distance_mm=20.0)), plan(lay(GULL, distance_mm=20.0, pressure_bar=0.8))),
    "more-than-the-cup": (plan(lay(GULL), cup_ml=2.5, baits=3), plan(lay(GULL), cup_ml=9.0)),
    "not-degreased": (plan(lay(GULL), prepared=UNPREPARED["degreased"]), plan(lay(GULL))),
    "not-sanded": (
        plan(lay(GULL), prepared=UNPREPARED["sanded"], state="repaint"),
        plan(lay(GULL), prepared=UNPREPARED["sanded"]),
    ),
    "eyes-not-taped": (
        plan(lay(GULL), prepared=UNPREPARED["eyes-taped"]),
        plan(lay(GULL), prepared=UNPREPARED["eyes-taped"], shape="spoon-flat"),
    ),
    "bill-not-taped": (
        plan(lay(GULL), prepared=UNPREPARED["bill-taped"], shape="minnow"),
        plan(lay(GULL), prepared=UNPREPARED["bill-taped"]),
    ),
    "joints-not-taped": (
        plan(lay(GULL), prepared=UNPREPARED["joints-taped"], shape="glide"),
        plan(lay(GULL), prepared=UNPREPARED["joints-taped"]),
    ),
    "moist-inside": (
        plan(lay(GULL), prepared=UNPREPARED["dried"], shape="jerk"),
        plan(lay(GULL), prepared=UNPREPARED["dried"]),
    ),
    "too-cold-for-the-clear": (plan(clear(), temperature_c=12.0), plan(clear(), temperature_c=20.0)),
    "too-humid-for-the-clear": (plan(clear(), humidity_percent=85.0), plan(clear(), humidity_percent=50.0)),
    "batch-too-small": (
        plan(lay("two-part", what="clear", film_um=20.0, coats=1, wait_h=24.0)),
        plan(lay("dip", what="clear", film_um=20.0, coats=1, wait_h=24.0)),
    ),
    "eyes-after-everything": (plan(clear(), eyes="after"), plan(clear(), eyes="before")),
    "painted-eyes-missing": (plan(lay(GULL), eyes="painted"), plan(lay(GULL, "eye", "side"), eyes="painted")),
    "nothing-lands": (
        plan(lay(GULL, origin="above", box=Box(0.3, 0.7, 0.46, 0.5), soft_mm=0.5)),
        plan(lay(GULL, origin="below", box=Box(0.3, 0.7, 0.46, 0.5), soft_mm=0.5)),
    ),
    "made-of-nothing": (plan(lay("")), plan(lay(GULL))),
    "fog-settles": (
        plan(lay("torv-sot 3 tynn-reducer 2", "back", "around", coats=4)),
        plan(lay("torv-sot 3 tynn-reducer 2", "back", "around", coats=4, mask=through("tape"))),
    ),
}
OF_BOTTLES = {
    "bottle-empty": ({"condition": "empty"}, {"condition": "nearly gone"}),
    "bottle-settled": ({"condition": "settled"}, {"condition": ""}),
    "bottle-too-low": ({"left_ml": 0.3}, {"left_ml": 3.0}),
    "bottle-discontinued": ({"discontinued": True}, {"discontinued": False}),
}


OF_THE_LOG = {"fared-badly"}


def test_what_was_told_later_of_its_baits_is_found():
    look = look_at(plan(lay(GULL)))
    assert "fared-badly" not in {one.check.id for one in findings(look)}
    told = [
        each.words
        for one in findings(replace(look, reported=["Entry 3: it chipped."]))
        if one.check.id in OF_THE_LOG
        for each in one.each
    ]
    assert told == ["Entry 3: it chipped."]


def test_there_are_forty_checks_or_more_and_each_is_tried():
    assert len(CHECKS) >= 40
    assert CASES.keys() | OF_BOTTLES.keys() | OF_THE_LOG == CHECKS.keys()
    assert all(check.words and check.why.endswith(".") for check in CHECKS.values())


@pytest.mark.parametrize("check", CASES)
def test_a_plan_breaks_it_a_near_one_does_not_and_what_mends_it_does(check):
    broken, near = CASES[check]
    assert check in ids(broken)
    assert check not in ids(near)
    own = [each for one in findings(look_at(broken)) if one.check.id == check for each in one.each]
    assert own[0].words[0] != " "
    assert own[0].mends, "what mends it"
    for mend in own[0].mends:
        mended, left = broken, own
        for _ in range(4):  # one press a finding
            mended = next(one for one in left[0].mends if one.words.split()[0] == mend.words.split()[0]).apply(mended)
            left = [each for one in findings(look_at(mended)) if one.check.id == check for each in one.each]
            if not left or not any(one.words.split()[0] == mend.words.split()[0] for one in left[0].mends):
                break
        assert mended != broken
        if mend is own[0].mends[0]:
            assert not left


# What each check missed, or cried at, on plans as painters lay them.
BARS = through("bars", size_mm=22.0, gap_mm=9.0)
MISSED = {
    "dark-before-the-rest": plan(lay("torv-kritt", mask=BARS), lay("torv-mose", coats=4), state="primed-black"),
    "dye-over-dark": plan(lay("rav-sitron", coats=2), state="primed-black"),
    "candy-unsealed": plan(lay(CANDY), lay("lykt-gul 3 tynn-medium 6"), lay(MOSS)),
}
CRIED = {
    "clear-over-wet-paint": plan(lay(GULL), clear(24.0), clear(3.0)),
    "candy-unsealed": plan(lay(CANDY), lay("lykt-gul 3 tynn-medium 6", sealed=True), lay(MOSS)),
    "darker-than-meant": plan(lay(CANDY, "back", "above", coats=3), state="foil-silver"),
    "pearl-over-light": plan(lay("perlemor-solv", nozzle_mm=0.5)),
}


@pytest.mark.parametrize("check", MISSED)
def test_what_was_missed_is_found(check):
    assert check in ids(MISSED[check])


@pytest.mark.parametrize("check", CRIED)
def test_what_is_as_it_should_be_is_not_cried_at(check):
    assert check not in ids(CRIED[check])


def test_no_white_is_offered_over_a_flash():
    for one in findings(look_at(plan(lay("lykt-blaa 3 tynn-medium 6", coats=4), state="foil-gold"))):
        assert not any("white" in mend.words for mend in one.mends), one.check.id


def test_findings_alike_are_one_with_one_press_for_all():
    own = plan(*(lay("perlemor-blaa", region) for region in ("back", "flank", "belly")), state="primed-black")
    (found,) = [one for one in findings(look_at(own)) if one.check.id == "flakes-through-a-small-nozzle"]
    assert (len(found.each), found.layers) == (3, (1, 2, 3))
    (mend,) = found.mends
    assert mend.words == "Take 0.4 mm, all 3"
    assert {one.nozzle_mm for one in mend.apply(own).layers} == {0.4}
    runs = plan(lay(MOSS, film_um=40.0), lay(RED, film_um=80.0))
    (found,) = [one for one in findings(look_at(runs)) if one.check.id == "coat-that-runs"]
    assert found.mends[0].words.endswith("and the others alike")


@pytest.mark.parametrize("check", OF_BOTTLES)
def test_bottles_are_told_by_their_state(check):
    bad, good = OF_BOTTLES[check]
    own = plan(lay("torv-mose"))
    assert check in ids(own, **bad)
    assert check not in ids(own, **good)


def test_a_good_plan_has_nothing_to_be_said_of():
    """Light to dark, thinned, cleared after a day: no check speaks."""
    good = plan(
        lay("torv-kritt", "belly", "below", reducer=0.25),
        lay("rav-gull 6 tynn-reducer 3", "flank", "side", distance_mm=35.0),
        lay("torv-mose 8 tynn-reducer 3", "back", "above", distance_mm=35.0),
        clear(),
    )
    assert ids(good) == set()
