"""The checks of a plan: each sees something in the picture or in the order of work, says why it matters, and offers
what mends it. None blocks, and where painters differ it says so."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import reduce

from diachrom.core.bait.checks import colour, finish, order, tools
from diachrom.core.bait.checks.look import Found, Look, Mend

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


SEALING = "Candy last and no sealer, or seal and go on: either passes."
ORDERS = "Light to dark, or dark first and bright over it: only what the picture loses is said."
CHECKS = {
    check.id: check
    for check in (
        _check(
            order.candy_without_carrier, "Candy without medium", "A dye does not stick by itself: medium gives it grip."
        ),
        _check(order.candy_unsealed, "Candy unsealed under paint", "A dye rises into what is laid on it.", SEALING),
        _check(order.two_wet_candies, "Two dyes on each other", "They dissolve each other and crawl.", SEALING),
        _check(order.wash_without_varnish, "Wiping without varnish", "The cloth takes what lies beneath."),
        _check(
            order.swab_without_save_point, "Wipe back without a sealed stage", "It takes everything down to the blank."
        ),
        _check(order.rub_without_foil, "Rubbing where no foil is", "There is no foil to uncover."),
        _check(
            order.clear_over_wet_paint,
            "Clear over paint not dry",
            "Solvent held under clear clouds it.",
            "A day in the air, or warm air for an hour.",
        ),
        _check(
            order.clear_out_of_its_window,
            "Second clear outside its window",
            "Too early it wrinkles, too late it peels.",
        ),
        _check(
            order.mask_on_wet_paint,
            "A mask pressed on wet paint",
            "It lifts the paint with it.",
            "Warm air after every coat, or air alone.",
        ),
        _check(order.net_after_the_belly, "Net after the belly", "Its clamps scratch what is final."),
        _check(order.bare_metal, "Paint on bare metal", "It chips off in flakes."),
        _check(order.soft_parts_painted, "Paint on soft parts", "They bend, paint does not."),
        _check(order.paint_over_clear, "Paint over the clear coat", "Cured clear gives no grip."),
        _check(order.foil_over_paint, "Foil over paint", "It shows what lies under it."),
        _check(
            order.no_clear_at_last, "No clear coat", "Paint without clear does not last.", "Some fish a bait matte."
        ),
        _check(
            order.hidden_under_another,
            "A layer nobody sees",
            "Paint and time for nothing.",
            "A base under transparent colours is no waste: it is seen.",
        ),
        _check(colour.flash_lost, "Flash lost", "What hides the foil takes its flash."),
        _check(colour.muddied, "Goes muddy", "A complement beneath takes the colour away."),
        _check(colour.another_hue, "Another hue", "What shines through mixes with it.", ORDERS),
        _check(colour.darker_than_meant, "Darker than meant", "Each layer beneath takes light."),
        _check(colour.dye_over_dark, "Transparent over dark", "It can only take light away."),
        _check(
            colour.metal_half_over_white,
            "Metal half over white",
            "White between flakes looks milky.",
            "Black for depth; white or silver for brightness.",
        ),
        _check(
            colour.pearl_over_light,
            "Coloured pearl over light",
            "Its flash drowns in the light from below.",
            "Over black it is vivid, over white pale with a sheen: both are wanted.",
        ),
        _check(
            colour.shift_over_light,
            "Colour-shift over light",
            "Its colour travel drowns.",
            "Black; or a gold or silver ground.",
        ),
        _check(colour.fluorescent_without_white, "Fluorescent without white", "It shines down as well as up."),
        _check(colour.glow_without_white, "Glow without white", "A dark ground swallows half of it."),
        _check(colour.glow_too_thin, "Glow too thin", "Few grains store little light."),
        _check(
            colour.marks_covered_again,
            "Marks covered again",
            "They cannot be recovered.",
            ORDERS,
            key="dark-before-the-rest",
        ),
        _check(colour.out_of_reach, "Out of its reach", "This stack cannot give that colour."),
        _check(tools.flakes_through_a_small_nozzle, "Flakes through a small nozzle", "They clog the tip."),
        _check(tools.grains_through_a_small_nozzle, "Powder through a small nozzle", "It clogs the tip."),
        _check(
            tools.thick_paint_unthinned,
            "Thick paint unthinned",
            "It spits and dries on the tip.",
            "As it comes with much pressure, or thin.",
        ),
        _check(tools.thinned_too_far, "Thinned too far", "The film breaks.", "Thin and many coats, or as it comes."),
        _check(tools.pressure_too_high_for_a_line, "Pressure too high for a line", "It blows apart."),
        _check(tools.coat_that_runs, "A coat that runs", "Wet paint hangs until it slides."),
        _check(tools.dust_from_afar, "Dust from afar", "It lands dry and rough.", "Some dust on purpose."),
        _check(tools.lifted_too_far, "Lifted until it blurs away", "A pattern that is lifted high is a haze."),
        _check(tools.spider_web, "Too near, too hard", "Air drives wet paint into legs."),
        _check(tools.more_than_the_cup, "More than the cup holds", "The second cup is never quite the first."),
        _check(tools.bottle_empty, "A bottle is empty", "It cannot be mixed."),
        _check(tools.bottle_settled, "A bottle has settled", "What comes out is mostly binder."),
        _check(tools.bottle_too_low, "A bottle does not reach", "The second side would be another mix."),
        _check(tools.bottle_discontinued, "A paint that is not made any more", "The pattern cannot be repeated."),
        _check(finish.not_degreased, "Not degreased", "Grease repels paint."),
        _check(finish.not_sanded, "Not sanded", "Paint needs something to hold on to."),
        _check(finish.eyes_not_taped, "Eyes not taped", "Paint on eyes is seen by everyone."),
        _check(
            finish.bill_not_taped,
            "Bill not taped",
            "Paint on a bill looks careless, and flakes.",
            "Some paint the bill.",
        ),
        _check(finish.joints_not_taped, "Joints not taped", "It would not swim."),
        _check(finish.moist_inside, "Not dry inside", "Moisture comes out through the paint."),
        _check(finish.too_cold_for_the_clear, "Too cold for the clear", "It stays tacky."),
        _check(finish.too_humid_for_the_clear, "Too humid for the clear", "It blushes."),
        _check(finish.batch_too_small, "Clear too little to weigh", "A ratio that is off stays soft."),
        _check(
            finish.eyes_after_everything,
            "Eyes without clear over them",
            "They come off.",
            "Eyes before the clear, after it, or painted.",
        ),
        _check(finish.fared_badly, "Trouble last time", "What failed once fails again unless something changes."),
        _check(finish.painted_eyes_missing, "Eyes to be painted", "Fish look for them."),
        _check(finish.nothing_lands, "A layer that does not land", "It changes nothing."),
        _check(finish.made_of_nothing, "A layer without its paint", "It cannot be sprayed."),
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
    words = f"{first.words}, all {many}" if alike else f"{first.words}, and the others alike"
    return Mend(words, lambda plan: reduce(lambda so_far, way: way.apply(so_far), ways, plan))


def findings(look: Look, *, without: frozenset[str] = frozenset()) -> list[Finding]:
    """Of all checks but those that are left out, in their order; findings alike are one."""
    found = [(check, tuple(check.does(look))) for check in CHECKS.values() if check.id not in without]
    return [Finding(check, each) for check, each in found if each]
