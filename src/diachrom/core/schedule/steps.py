"""What a plan asks of the painter's hands, step by step: the layers from the inside out, and what lies between them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, fields, replace

from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import MASK, UNMASK, WHATS, Layer, Plan
from diachrom.core.film.kinds import SURE
from diachrom.core.mix.drying import TABLE, WARM_AIR, Dries, waits
from diachrom.core.schedule.work import RACK, TURNER, Step
from diachrom.errors import InvalidInput
from diachrom.words import say

A_MIXING_MIN = 25  # that two-part clear may be brushed, of its pot life
PREPARED = ("sanded", "degreased", "eyes-taped", "bill-taped", "joints-taped")
DAY_MIN = 24 * 60
PUT_ON, TAKE_OFF = "put on", "take off"  # kinds of steps
TOUCH_MIN = 15  # before a bait is taken into the hand


PACE_WORDS = {
    "prepare": say("Sand and degrease"),
    "prepare_bare": say("Sand a bare blank"),
    "tape": say("Tape eyes, bill, joints: each"),
    "foil": say("Lay foil"),
    "mask": say("A mask on and off"),
    "coat": say("Spray a coat, both sides"),
    "warm_air": say("Warm air after a coat"),
    "by_hand": say("Spots, lines, a wash"),
    "eyes": say("Set the eyes"),
    "sign": say("Sign and number"),
    "clear": say("Brush on clear"),
    "mix": say("Mix a cup, once"),
    "two_part": say("Weigh and stir two-part clear, once"),
    "rests_candy": say("A candy mix rests"),
    "clean": say("Clean the airbrush, once"),
    "rinse": say("Rinse the airbrush, once"),
}


@dataclass(frozen=True)
class Pace:
    """How long this painter's hands take: minutes for one bait, unless said otherwise."""

    prepare: int = 4
    prepare_bare: int = 10
    tape: int = 1  # eyes, bill, joints: each
    foil: int = 12
    mask: int = 3  # a net or a stencil, on and off
    coat: int = 1  # of both sides
    warm_air: int = 1  # after a coat
    by_hand: int = 4  # spots, lines, a wash, wiping
    eyes: int = 2
    sign: int = 1
    clear: int = 2
    mix: int = 3  # of a cup
    two_part: int = 6  # weighed and stirred
    rests_candy: int = 10
    clean: int = 4  # the airbrush, between colours
    rinse: int = 1  # where the next colour bears the last

    def __post_init__(self) -> None:
        for each in fields(self):
            if not 0 <= getattr(self, each.name) <= 240:
                raise InvalidInput(
                    say(
                        "{what}: 0 to 240 minutes, not {minutes}.",
                        what=PACE_WORDS[each.name],
                        minutes=getattr(self, each.name),
                    ),
                    field=each.name,
                )


@dataclass(frozen=True)
class Ways:
    """How this bench works."""

    pace: Pace = Pace()
    table: Mapping[str, Dries] = field(default_factory=lambda: TABLE)
    learned: Mapping[str, float] = field(default_factory=dict)  # by kind
    warm_air: bool = True
    signs: bool = True

    def of(self, kind: str, film_um: float, air: tuple[float, float]) -> Dries:
        """How a kind dries at this bench."""
        key = kind if kind in self.table else SURE
        return waits(self.table[key], film_um, air, self.learned.get(key, 1.0))


@dataclass(frozen=True)
class Laid:
    """A layer of a plan as the schedule needs it."""

    layer: Layer
    words: str
    kind: str  # of paint: a key of the table
    mix: str  # what has to be in the airbrush, "" for what is not sprayed
    film_um: float  # of a wet coat where it lies thickest


def steps(plan: Plan, laid: Sequence[Laid], ways: Ways) -> list[Step]:
    """For one bait; `laid` goes with the plan's layers that are on."""
    air = (plan.temperature_c, plan.humidity_percent)
    tapes = sum(key in plan.prepared and key.endswith("-taped") for key in PREPARED)
    minutes = (ways.pace.prepare_bare if plan.blank.state == "bare" else ways.pace.prepare) + tapes * ways.pace.tape
    words = _prepared_words(plan) + (", tape" if tapes else "")
    found = [Step("prepare", words, "prepare", minutes)] if minutes else []
    clears = [at for at, one in enumerate(laid) if one.layer.what == "clear"]
    for index, one in enumerate(laid):
        following = next((other for other in laid[index + 1 :] if other.layer.what not in (MASK, UNMASK)), None)
        if clears and index == clears[0]:
            # Eyes and name while the paint dries through: what is left of the wait comes after them.
            small = _before_clear(plan, ways)
            if not found or not small:
                found = found + small
            else:
                last = found[-1]
                least = min(last.dries, max(last.held, TOUCH_MIN))
                spent = least + sum(step.minutes for step in small)
                rest = replace(small[-1], dries=max(0, last.dries - spent))
                found = [*found[:-1], replace(last, dries=least), *small[:-1], rest]
        if one.layer.what in (MASK, UNMASK):
            own = _masking(one, ways.pace)
            if one.layer.what == UNMASK and found:
                # It comes off as soon as the paint may be touched; the rest of the wait comes after it.
                last = found[-1]
                least = min(last.dries, max(last.held, TOUCH_MIN))
                own = replace(own, dries=max(0, last.dries - least - own.minutes))
                found[-1] = replace(last, dries=least)
            found.append(own)
        elif one.layer.what == "clear":
            found += _cleared(one, following, ways, air)
        elif not WHATS[one.layer.what].sprayed or one.layer.what == "wash":
            found.append(_by_hand(one, ways, air))
        else:
            found += _sprayed(one, following, ways, air)
    if not clears:
        found += _before_clear(plan, ways)
    if plan.eyes == "after":
        found.append(Step("eyes", say("Set the eyes"), "eyes", ways.pace.eyes, dries=30))
    return found


def _prepared_words(plan: Plan) -> str:
    """What this blank asks for before paint."""
    blank = plan.blank
    if blank.made_of == "soft plastic":
        return say("Wash, and dry to the bone")
    if blank.comes.foil:
        return say("Burnish the foil, degrease")
    if blank.state == "repaint":
        return say("Scuff it wet, degrease")
    if blank.state in ("clear", "clear-foil") or (blank.made_of == "metal" and blank.state == "bare"):
        return say("Degrease")
    return say("Sand, degrease")


def _before_clear(plan: Plan, ways: Ways) -> list[Step]:
    found = []
    if plan.eyes == "before":
        found.append(Step("eyes", say("Set the eyes"), "eyes", ways.pace.eyes))
    if plan.eyes == "factory" or "bill-taped" in plan.prepared:
        found.append(Step("untape", say("Take the tape off"), "untape", ways.pace.tape))
    if ways.signs and ways.pace.sign:
        found.append(Step("sign", say("Sign and number"), "sign", ways.pace.sign))
    return found


def _sprayed(laid: Laid, following: Laid | None, ways: Ways, air: tuple[float, float]) -> list[Step]:
    """Coat by coat; through a mask all coats at once, since it is taken from bait to bait."""
    pace, layer = ways.pace, laid.layer
    dries = ways.of(laid.kind, laid.film_um, air)
    warm = pace.warm_air if ways.warm_air else 0
    left = WARM_AIR if ways.warm_air else 1.0
    # What is waited after the last coat of a layer, before the next.
    if following is None:
        after = dries.through
    else:
        least = dries.touch * (WARM_AIR if ways.warm_air else 1)
        if following.layer.what == "clear" and following.layer.wait_h == 0:
            least = dries.through
        after = max(round(least), round(60 * following.layer.wait_h))
    key = f"layer{layer.number}"
    by_hand = MASKS[layer.mask.kind].by_hand or (bool(layer.strokes) and layer.unsprayed)

    def step(name: str, words: str, minutes: int, wait: int, kind: str = "spray") -> Step:
        return Step(
            name,
            words,
            kind,
            minutes,
            mix=laid.mix,
            by_hand=by_hand,
            dries=wait,
            holds=RACK,
            held=min(wait, dries.touch),
            layer=layer.number,
            paint=laid.kind,
        )

    if by_hand:
        return [step(key, laid.words, pace.by_hand + layer.coats * warm, after, say("by hand"))]
    if layer.mask.kind not in ("free", "wash") or layer.strokes:
        between = (layer.coats - 1) * round(left * dries.flash)
        kind = "mask" if MASKS[layer.mask.kind].pressed else "pattern"
        minutes = (pace.mask if kind == "mask" else pace.by_hand) + layer.coats * (pace.coat + warm) + between
        return [step(key, laid.words, minutes, after, kind)]
    found = []
    for coat in range(1, layer.coats + 1):
        wait = after if coat == layer.coats else round(left * dries.flash)
        words = (
            laid.words
            if layer.coats == 1
            else say("{words}, coat {coat} of {coats}", words=laid.words, coat=coat, coats=layer.coats)
        )
        found.append(step(f"{key}.{coat}", words, pace.coat + warm, wait))
    return found


def _masking(laid: Laid, pace: Pace) -> Step:
    """A mask goes on, or comes off: both together take as long as one that is held for a layer alone."""
    off = pace.mask // 3
    kind, minutes = (PUT_ON, pace.mask - off) if laid.layer.what == MASK else (TAKE_OFF, off)
    return Step(f"layer{laid.layer.number}", laid.words, kind, minutes, by_hand=True, layer=laid.layer.number)


def _by_hand(laid: Laid, ways: Ways, air: tuple[float, float]) -> Step:
    layer, pace = laid.layer, ways.pace
    wait = 0
    if layer.what == "wash":
        wait = ways.of(laid.kind, laid.film_um, air).touch
    minutes = pace.foil if layer.what == "foil" else pace.by_hand
    holds = RACK if wait else ""
    return Step(
        f"layer{layer.number}",
        laid.words,
        layer.what,
        minutes,
        mix=laid.mix,
        by_hand=True,
        dries=wait,
        holds=holds,
        held=wait,
        layer=layer.number,
        paint=laid.kind,
    )


def _cleared(laid: Laid, following: Laid | None, ways: Ways, air: tuple[float, float]) -> list[Step]:
    """A clear coat, on a turner where it is two-part; its next coat comes within its window, or a day later, sanded."""
    layer, pace = laid.layer, ways.pace
    dries = ways.of(laid.kind, laid.film_um, air)
    found = []
    for coat in range(1, layer.coats + 1):
        last = coat == layer.coats
        again = following is not None and following.layer.what == "clear" if last else True
        asked = round(60 * following.layer.wait_h) if last and following is not None and again else 0
        closes: int | None = None
        if not again:
            wait = dries.through if following is None else max(dries.touch, asked)
        elif dries.window is None:
            wait = max(dries.flash, asked)
        elif asked >= DAY_MIN:
            wait = asked
        else:
            wait, closes = max(dries.window[0], min(asked, dries.window[1])), dries.window[1]
        two = laid.kind == "two-part"
        found.append(
            Step(
                f"layer{layer.number}.{coat}",
                laid.words
                if layer.coats == 1
                else say("{words}, coat {coat} of {coats}", words=laid.words, coat=coat, coats=layer.coats),
                "clear",
                pace.clear,
                once=pace.two_part if two else 0,
                a_mixing=max(1, A_MIXING_MIN // max(pace.clear, 1)) if two else 0,
                lasts=pace.two_part + A_MIXING_MIN if two else 0,
                mix=laid.mix,
                dries=wait,
                closes=closes,
                holds=TURNER if two else RACK,
                held=min(wait, dries.touch) if closes is not None else dries.touch,
                layer=layer.number,
                paint=laid.kind,
            )
        )
    return found
