"""The checks of a plan: each sees something in the picture or in the order of work, says why it matters, and offers
what mends it. None blocks, and where painters differ it says so."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import reduce

from diachrom.core.bait.checks import colour, finish, order, tools
from diachrom.core.bait.checks.look import Found, Look, Mend
from diachrom.words import say

Does = Callable[[Look], Iterator[Found]]


@dataclass(frozen=True)
class Check:
    """A check: what it looks at, why that matters, and where painters differ."""

    id: str
    words: str
    does: Does
    why: str
    schools: str = ""


def _check(does: Does, words: str, why: str, schools: str = "", *, key: str = "") -> Check:
    """Known by what it does; a `key` is the name by which plans have accepted it."""
    return Check(key or does.__name__.replace("_", "-"), words, does, why, schools)


SEALING = say("Candy last and no sealer, or seal and go on: either passes.")
ORDERS = say("Light to dark, or dark first and bright over it: only what the picture loses is said.")
CHECKS = {
    check.id: check
    for check in (
        _check(
            order.candy_without_carrier,
            say("Candy without medium"),
            say("A dye does not stick by itself: medium gives it grip."),
        ),
        _check(
            order.candy_unsealed,
            say("Candy unsealed under paint"),
            say("A dye rises into what is laid on it."),
            SEALING,
        ),
        _check(
            order.two_wet_candies, say("Two dyes on each other"), say("They dissolve each other and crawl."), SEALING
        ),
        _check(order.wash_without_varnish, say("Wiping without varnish"), say("The cloth takes what lies beneath.")),
        _check(
            order.swab_without_save_point,
            say("Wipe back without a sealed stage"),
            say("It takes everything down to the blank."),
        ),
        _check(order.rub_without_foil, say("Rubbing where no foil is"), say("There is no foil to uncover.")),
        _check(
            order.clear_over_wet_paint,
            say("Clear over paint not dry"),
            say("Solvent held under clear clouds it."),
            say("A day in the air, or warm air for an hour."),
        ),
        _check(
            order.clear_out_of_its_window,
            say("Second clear outside its window"),
            say("Too early it wrinkles, too late it peels."),
        ),
        _check(
            order.mask_on_wet_paint,
            say("A mask pressed on wet paint"),
            say("It lifts the paint with it."),
            say("Warm air after every coat, or air alone."),
        ),
        _check(order.mask_left_on, say("A mask left on"), say("Clear runs under it, and sets it fast.")),
        _check(order.net_after_the_belly, say("Net after the belly"), say("Its clamps scratch what is final.")),
        _check(order.bare_metal, say("Paint on bare metal"), say("It chips off in flakes.")),
        _check(order.soft_parts_painted, say("Paint on soft parts"), say("They bend, paint does not.")),
        _check(order.paint_over_clear, say("Paint over the clear coat"), say("Cured clear gives no grip.")),
        _check(order.foil_over_paint, say("Foil over paint"), say("It shows what lies under it.")),
        _check(
            order.no_clear_at_last,
            say("No clear coat"),
            say("Paint without clear does not last."),
            say("Some fish a bait matte."),
        ),
        _check(
            order.hidden_under_another,
            say("A layer nobody sees"),
            say("Paint and time for nothing."),
            say("A base under transparent colours is no waste: it is seen."),
        ),
        _check(colour.flash_lost, say("Flash lost"), say("What hides the foil takes its flash.")),
        _check(colour.muddied, say("Goes muddy"), say("A complement beneath takes the colour away.")),
        _check(colour.another_hue, say("Another hue"), say("What shines through mixes with it."), ORDERS),
        _check(colour.darker_than_meant, say("Darker than meant"), say("Each layer beneath takes light.")),
        _check(colour.dye_over_dark, say("Transparent over dark"), say("It can only take light away.")),
        _check(
            colour.metal_half_over_white,
            say("Metal half over white"),
            say("White between flakes looks milky."),
            say("Black for depth; white or silver for brightness."),
        ),
        _check(
            colour.pearl_over_light,
            say("Coloured pearl over light"),
            say("Its flash drowns in the light from below."),
            say("Over black it is vivid, over white pale with a sheen: both are wanted."),
        ),
        _check(
            colour.shift_over_light,
            say("Colour-shift over light"),
            say("Its colour travel drowns."),
            say("Black; or a gold or silver ground."),
        ),
        _check(
            colour.fluorescent_without_white, say("Fluorescent without white"), say("It shines down as well as up.")
        ),
        _check(colour.glow_without_white, say("Glow without white"), say("A dark ground swallows half of it.")),
        _check(colour.glow_too_thin, say("Glow too thin"), say("Few grains store little light.")),
        _check(
            colour.marks_covered_again,
            say("Marks covered again"),
            say("They cannot be recovered."),
            ORDERS,
            key="dark-before-the-rest",
        ),
        _check(colour.out_of_reach, say("Out of its reach"), say("This stack cannot give that colour.")),
        _check(tools.flakes_through_a_small_nozzle, say("Flakes through a small nozzle"), say("They clog the tip.")),
        _check(tools.grains_through_a_small_nozzle, say("Powder through a small nozzle"), say("It clogs the tip.")),
        _check(
            tools.thick_paint_unthinned,
            say("Thick paint unthinned"),
            say("It spits and dries on the tip."),
            say("As it comes with much pressure, or thin."),
        ),
        _check(
            tools.thinned_too_far,
            say("Thinned too far"),
            say("The film breaks."),
            say("Thin and many coats, or as it comes."),
        ),
        _check(tools.pressure_too_high_for_a_line, say("Pressure too high for a line"), say("It blows apart.")),
        _check(tools.coat_that_runs, say("A coat that runs"), say("Wet paint hangs until it slides.")),
        _check(
            tools.dust_from_afar, say("Dust from afar"), say("It lands dry and rough."), say("Some dust on purpose.")
        ),
        _check(
            tools.fog_settles,
            say("Overspray on a pale place"),
            say("What flies past a free edge settles on what lies there."),
            say("Mask it; spray from near; or spray the pale place last."),
        ),
        _check(
            tools.lifted_too_far, say("Lifted until it blurs away"), say("A pattern that is lifted high is a haze.")
        ),
        _check(tools.spider_web, say("Too near, too hard"), say("Air drives wet paint into legs.")),
        _check(
            tools.more_than_the_cup, say("More than the cup holds"), say("The second cup is never quite the first.")
        ),
        _check(tools.bottle_empty, say("A bottle is empty"), say("It cannot be mixed.")),
        _check(tools.bottle_settled, say("A bottle has settled"), say("What comes out is mostly binder.")),
        _check(tools.bottle_too_low, say("A bottle does not reach"), say("The second side would be another mix.")),
        _check(
            tools.bottle_discontinued, say("A paint that is not made any more"), say("The pattern cannot be repeated.")
        ),
        _check(finish.not_degreased, say("Not degreased"), say("Grease repels paint.")),
        _check(finish.not_sanded, say("Not sanded"), say("Paint needs something to hold on to.")),
        _check(finish.eyes_not_taped, say("Eyes not taped"), say("Paint on eyes is seen by everyone.")),
        _check(
            finish.bill_not_taped,
            say("Bill not taped"),
            say("Paint on a bill looks careless, and flakes."),
            say("Some paint the bill."),
        ),
        _check(finish.joints_not_taped, say("Joints not taped"), say("It would not swim.")),
        _check(finish.moist_inside, say("Not dry inside"), say("Moisture comes out through the paint.")),
        _check(finish.too_cold_for_the_clear, say("Too cold for the clear"), say("It stays tacky.")),
        _check(finish.too_humid_for_the_clear, say("Too humid for the clear"), say("It blushes.")),
        _check(finish.batch_too_small, say("Clear too little to weigh"), say("A ratio that is off stays soft.")),
        _check(
            finish.eyes_after_everything,
            say("Eyes without clear over them"),
            say("They come off."),
            say("Eyes before the clear, after it, or painted."),
        ),
        _check(
            finish.fared_badly, say("Trouble last time"), say("What failed once fails again unless something changes.")
        ),
        _check(finish.painted_eyes_missing, say("Eyes to be painted"), say("Fish look for them.")),
        _check(finish.nothing_lands, say("A layer that does not land"), say("It changes nothing.")),
        _check(finish.made_of_nothing, say("A layer without its paint"), say("It cannot be sprayed.")),
    )
}


@dataclass(frozen=True)
class Finding:
    """What a check found on a plan: in one place, or alike in several."""

    check: Check
    each: tuple[Found, ...]

    @property
    def layers(self) -> tuple[int, ...]:
        """By their numbers, each once."""
        return tuple(dict.fromkeys(number for one in self.each for number in one.layers))

    @property
    def mends(self) -> tuple[Mend, ...]:
        """One press for all of them alike."""
        return tuple(_for_all(ways) for ways in zip(*(one.mends for one in self.each), strict=False))

    @property
    def apart(self) -> "tuple[Finding, ...]":
        """Each by itself."""
        return tuple(Finding(self.check, (one,)) for one in self.each)


def _for_all(ways: tuple[Mend, ...]) -> Mend:
    first, many = ways[0], len(ways)
    if many == 1:
        return first
    alike = all(mend.words == first.words for mend in ways)
    words = (
        say("{words}, all {number}", words=first.words, number=many)
        if alike
        else say("{words}, and the others alike", words=first.words)
    )
    return Mend(words, lambda plan: reduce(lambda so_far, way: way.apply(so_far), ways, plan))


def findings(look: Look, *, without: frozenset[str] = frozenset()) -> list[Finding]:
    """Of all checks but those that are left out, in their order; findings alike are one."""
    found = [(check, tuple(check.does(look))) for check in CHECKS.values() if check.id not in without]
    return [Finding(check, each) for check, each in found if each]
