"""Colour: what the picture gives beside what each layer is meant to be."""

from collections.abc import Iterator

import numpy as np

from diachrom.core.bait.checks import mends
from diachrom.core.bait.checks.look import (
    AWAY,
    FACING,
    FLASH,
    GLANCE,
    Found,
    Look,
    Mend,
    Seen,
    at_the_glance,
    chroma,
    hue_apart,
    off,
)
from diachrom.core.bait.masks import MASKS
from diachrom.core.film.kinds import keys
from diachrom.core.light.bands import Bools, Floats
from diachrom.words import quantity, say

FLASH_LEFT, MOST_COVERED = 0.3, 0.4  # of the flash at a place; of all that flashes
LIGHT, DARK, LOST_L = 70.0, 30.0, 15.0  # L
GREY = 15.0  # chroma below which a hue is none
MUDDY, OTHER_HUE = 0.55, 35.0
DARKER, AMISS = 14.0, 10.0
THIN_COVER = 0.8
GLOW_UM, DUSTED_UM = 40.0, 1.0
FADED, BURIED = 0.5, 0.25  # of a dark pattern's contrast, and of a lighter one's
SHADES = keys("sheer")
FLAKES = keys("flakes")
HIDING = keys("hides")


def _block(look: Look, seen: Seen) -> tuple[Mend, ...]:
    """White beneath it; never over what flashes."""
    white = look.white
    return (mends.block_out(seen, white),) if white and seen.flash(before=True) < FLASH else ()


def _black(look: Look, seen: Seen) -> tuple[Mend, ...]:
    black = look.black
    return (mends.blacken(seen, black),) if black else ()


def flash_lost(look: Look) -> Iterator[Found]:
    """Where most of what flashes is covered; a belly or a maze laid over foil is meant."""
    for seen in look.painting:
        if seen.of_kind(*FLAKES):
            continue
        before = seen.below[GLANCE, ..., 0] - seen.below[AWAY, ..., 0]
        after = seen.after[GLANCE, ..., 0] - seen.after[AWAY, ..., 0]
        flashing = before > FLASH
        lost = seen.flashes() & (after < FLASH_LEFT * before)
        if not flashing.any() or lost.sum() < MOST_COVERED * flashing.sum():
            continue
        left = float(np.median(np.clip(after, 0, None)[lost] / before[lost]))
        fewer = (mends.changed(seen, say("One coat of it"), coats=1),) if seen.layer.coats > 1 else ()
        thin = mends.changed(seen, say("Dust it thin"), film_um=DUSTED_UM, coats=1)
        share = lost.sum() / flashing.sum()
        yield Found(
            say(
                "{name} leaves {left} % of the flash beneath it, over {share} % of what flashes.",
                name=seen.name,
                left=quantity(100 * left, ".0f"),
                share=quantity(100 * share, ".0f"),
            ),
            (seen.number,),
            seen.at,
            (thin, *fewer, mends.removed(seen, say("Leave it out"))),
        )


def _meant(look: Look, *kinds: str) -> Iterator[tuple[Seen, Floats]]:
    """Layers of these kinds, with what they were meant to be: not on a body that one sees through."""
    if look.plan.blank.comes.ground.startswith("clear-body"):
        return
    for seen in look.painting:
        if seen.made.aim is not None and seen.resolved and seen.of_kind(*kinds, least=0.5):
            yield seen, seen.made.aim


def muddied(look: Look) -> Iterator[Found]:
    """Layers over a complement, whose hue is lost."""
    for seen, aim in _meant(look, *SHADES):
        if seen.flash(before=True) > FLASH:
            continue  # what lies on foil is seen by its flash
        reached = seen.reached()
        if chroma(aim) > GREY and chroma(reached) < MUDDY * chroma(aim) and seen.before()[0] > DARK:
            if chroma(seen.before()) < GREY:
                continue
            yield Found(
                say(
                    "{name} goes muddy over what is there: it keeps {chroma} % of its colour.",
                    name=seen.name,
                    chroma=quantity(100 * chroma(reached) / chroma(aim), ".0f"),
                ),
                (seen.number,),
                seen.at,
                _block(look, seen),
            )


def another_hue(look: Look) -> Iterator[Found]:
    """Layers whose hue is turned by what shines through."""
    for seen, aim in _meant(look, *SHADES):
        reached = seen.reached()
        if min(chroma(aim), chroma(reached)) < GREY or hue_apart(aim, reached) < OTHER_HUE:
            continue
        yield Found(
            say(
                "{name} comes out {hue_apart}° away from its own hue, by what lies below.",
                name=seen.name,
                hue_apart=quantity(hue_apart(aim, reached), ".0f"),
            ),
            (seen.number,),
            seen.at,
            _block(look, seen),
        )


def darker_than_meant(look: Look) -> Iterator[Found]:
    """Layers that what lies beneath makes darker."""
    for seen, aim in _meant(look, *SHADES):
        short = float(aim[0] - seen.reached()[0])
        if seen.flash(before=True) > FLASH:
            continue
        if short > DARKER and float(seen.before()[0]) > DARK:
            fewer = (
                (mends.changed(seen, say("A coat less"), coats=seen.layer.coats - 1),) if seen.layer.coats > 1 else ()
            )
            yield Found(
                say(
                    "{name} comes out {short} darker than meant (L {reached} for {aim}).",
                    name=seen.name,
                    short=quantity(short, ".0f"),
                    reached=quantity(seen.reached()[0], ".0f"),
                    aim=quantity(aim[0], ".0f"),
                ),
                (seen.number,),
                seen.at,
                (*_block(look, seen), *fewer),
            )


def dye_over_dark(look: Look) -> Iterator[Found]:
    """Dyes over what is dark already."""
    for seen in look.painting:
        if not seen.of_kind(*SHADES, least=0.7) or seen.flash(before=True) > FLASH:
            continue
        reached, aim = seen.reached(), seen.made.aim
        lost = aim is not None and float(aim[0] - reached[0]) > LOST_L
        if float(seen.before()[0]) < DARK and float(reached[0]) < LOST_L and (lost or chroma(reached) < GREY):
            yield Found(
                say("{name} only absorbs light, and over so dark a ground there is none left.", name=seen.name),
                (seen.number,),
                seen.at,
                _block(look, seen),
            )


def metal_half_over_white(look: Look) -> Iterator[Found]:
    """Metals that half cover a light ground."""
    for seen in look.painting:
        if not seen.of_kind("metallic", least=0.5) or float(seen.before()[0]) < LIGHT:
            continue
        mix = seen.made.painted.mix
        area = 0.0 if mix is None else sum(float(cover) for _, cover in mix.flakes) * float(seen.film_um.max())
        cover = 1 - float(np.exp(-area))
        if cover < THIN_COVER:
            enough = seen.layer.coats * float(-np.log(1 - THIN_COVER)) / max(area, 1e-3)
            coats = min(int(np.ceil(1.05 * enough)), 50)
            yield Found(
                say(
                    "{name} covers {cover} % of a light ground: it looks milky.",
                    name=seen.name,
                    cover=quantity(100 * cover, ".0f"),
                ),
                (seen.number,),
                seen.at,
                (mends.changed(seen, say("{coats} coats", coats=coats), coats=coats), *_black(look, seen)),
            )


def _over_light(look: Look, kind: str, words: str) -> Iterator[Found]:
    for seen in look.painting:
        if seen.of_kind(kind, least=0.5) and float(seen.before()[0]) > LIGHT and seen.flash(before=True) < FLASH:
            yield Found(f"{seen.name}: {words}", (seen.number,), seen.at, _black(look, seen))


def pearl_over_light(look: Look) -> Iterator[Found]:
    """A pearl of a colour; a white one is white over white, with a sheen."""
    words = say("over a light ground its colour is pale, a sheen; over black it is vivid.")
    for seen in look.painting:
        mix, pearl = seen.made.painted.mix, seen.of_kind("pearl", least=0.5)
        over_light = pearl and float(seen.before()[0]) > LIGHT and seen.flash(before=True) < FLASH
        if over_light and mix is not None and chroma(at_the_glance(mix)) >= GREY:
            kept = mends.accepted(say("Keep it pale"), "pearl-over-light", say("pale on purpose"))
            yield Found(f"{seen.name}: {words}", (seen.number,), seen.at, (*_black(look, seen), kept))


def shift_over_light(look: Look) -> Iterator[Found]:
    """Colour-shift over what sends much light back."""
    yield from _over_light(
        look, "shift", say("over a light ground its colour travel drowns; black is pure, metal bright.")
    )


def _without_white(look: Look, kind: str, words: str) -> Iterator[Found]:
    for seen in look.painting:
        if seen.of_kind(kind, least=0.3) and float(seen.before()[0]) < LIGHT:
            yield Found(f"{seen.name}: {words} (L {seen.before()[0]:.0f})", (seen.number,), seen.at, _block(look, seen))


def fluorescent_without_white(look: Look) -> Iterator[Found]:
    """Fluorescent paint without white under it."""
    yield from _without_white(look, "fluorescent", say("it hides little, and what lies under it swallows its light."))


def glow_without_white(look: Look) -> Iterator[Found]:
    """Glow powder without white under it."""
    yield from _without_white(look, "glow", say("it shines as far as its ground sends the light back."))


def glow_too_thin(look: Look) -> Iterator[Found]:
    """Glow powder too thin to store much."""
    for seen in look.painting:
        thick = float(seen.film_um.max())
        if seen.of_kind("glow", least=0.3) and thick < GLOW_UM:
            more = int(np.ceil(seen.layer.coats * GLOW_UM / max(thick, 1.0))) + 1
            yield Found(
                say(
                    "{name} is {thick} thick: it will shine for minutes only.",
                    name=seen.name,
                    thick=quantity(thick, ".0f", "µm"),
                ),
                (seen.number,),
                seen.at,
                (mends.changed(seen, say("{more} coats", more=more), coats=min(more, 50)),),
            )


def marks_covered_again(look: Look) -> Iterator[Found]:
    """A pattern, dark or light, that later layers take away again."""
    for seen in look.painting:
        if not MASKS[seen.layer.mask.kind].pattern or not (seen.dark or seen.resolved):
            continue
        there, beside = seen.there, (~seen.there) & (seen.film_um < 0.1)
        if not beside.any():
            continue
        own = _contrast(seen.after[FACING], there, beside)
        left = _contrast(look.final[FACING], there, beside)
        later = [other for other in look.above(seen) if other.paints and seen.meets(other).any()]
        if own > 15 and left < (FADED if seen.dark else BURIED) * own and later:
            yield Found(
                say(
                    "{name} loses {own} % of its contrast to {other_name}.",
                    name=seen.name,
                    own=quantity(100 * (1 - left / own), ".0f"),
                    other_name=later[-1].name,
                ),
                (seen.number, later[-1].number),
                seen.at,
                (mends.moved_after(seen, later[-1], say("Spray it after that")),),
            )


def _contrast(labs: Floats, there: Bools, beside: Bools) -> float:
    return off(np.median(labs[there], axis=0), np.median(labs[beside], axis=0))


def out_of_reach(look: Look) -> Iterator[Found]:
    """Whatever the reason: it does not come near what it aims at."""
    told = {found.layers[0] for check in (muddied, another_hue, darker_than_meant) for found in check(look)}
    for seen, aim in _meant(look, *HIDING, *SHADES):
        if seen.layer.what == "paint" and seen.of_kind(*SHADES, least=0.5):
            continue  # as bottled it was meant for no ground at all
        far = off(aim, seen.reached())
        if far > AMISS and seen.number not in told and seen.flash(before=True) < FLASH:
            more = mends.changed(seen, say("A coat more"), coats=min(seen.layer.coats + 1, 50))
            yield Found(
                say("{name} stays dE {far} away from its own colour here.", name=seen.name, far=quantity(far, ".0f")),
                (seen.number,),
                seen.at,
                (*_block(look, seen), more),
            )
