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
from diachrom.core.light.bands import Bools, Floats

FLASH_LEFT, MOST_COVERED = 0.3, 0.4  # of the flash at a place; of all that flashes
LIGHT, DARK, LOST_L = 70.0, 30.0, 15.0  # L
GREY = 15.0  # chroma below which a hue is none
MUDDY, OTHER_HUE = 0.55, 35.0
DARKER, AMISS = 14.0, 10.0
THIN_COVER = 0.8
GLOW_UM, DUSTED_UM = 40.0, 1.0
FADED, BURIED = 0.5, 0.25  # of a dark pattern's contrast, and of a lighter one's
SHADES = ("candy", "ink", "transparent")
FLAKES = ("pearl", "metallic", "shift", "glitter")


def _block(look: Look, one: Seen) -> tuple[Mend, ...]:
    """White beneath it; never over what flashes."""
    white = look.white
    return (mends.block_out(one, white),) if white and one.flash(before=True) < FLASH else ()


def _black(look: Look, one: Seen) -> tuple[Mend, ...]:
    black = look.black
    return (mends.blacken(one, black),) if black else ()


def flash_lost(look: Look) -> Iterator[Found]:
    """Where most of what flashes is covered; a belly or a maze laid over foil is meant."""
    for one in look.painting:
        if one.of_kind(*FLAKES):
            continue
        before = one.below[GLANCE, ..., 0] - one.below[AWAY, ..., 0]
        after = one.after[GLANCE, ..., 0] - one.after[AWAY, ..., 0]
        flashing = before > FLASH
        lost = one.flashes() & (after < FLASH_LEFT * before)
        if not flashing.any() or lost.sum() < MOST_COVERED * flashing.sum():
            continue
        left = float(np.median(np.clip(after, 0, None)[lost] / before[lost]))
        fewer = (mends.changed(one, "One coat of it", coats=1),) if one.layer.coats > 1 else ()
        thin = mends.changed(one, "Dust it thin", film_um=DUSTED_UM, coats=1)
        share = lost.sum() / flashing.sum()
        yield Found(
            f"{one.name} leaves {100 * left:.0f} % of the flash beneath it, over {100 * share:.0f} % of what flashes.",
            (one.number,),
            one.at,
            (thin, *fewer, mends.removed(one, "Leave it out")),
        )


def _meant(look: Look, *kinds: str) -> Iterator[tuple[Seen, Floats]]:
    """Layers of these kinds, with what they were meant to be: not on a body that one sees through."""
    if look.plan.blank.comes.ground.startswith("clear-body"):
        return
    for one in look.painting:
        if one.made.aim is not None and one.resolved and one.of_kind(*kinds, least=0.5):
            yield one, one.made.aim


def muddied(look: Look) -> Iterator[Found]:
    for one, aim in _meant(look, *SHADES):
        if one.flash(before=True) > FLASH:
            continue  # what lies on foil is seen by its flash
        reached = one.reached()
        if chroma(aim) > GREY and chroma(reached) < MUDDY * chroma(aim) and one.before()[0] > DARK:
            if chroma(one.before()) < GREY:
                continue
            yield Found(
                f"{one.name} goes muddy over what lies there: it keeps {100 * chroma(reached) / chroma(aim):.0f} % of "
                "its colour.",
                (one.number,),
                one.at,
                _block(look, one),
            )


def another_hue(look: Look) -> Iterator[Found]:
    for one, aim in _meant(look, *SHADES):
        reached = one.reached()
        if min(chroma(aim), chroma(reached)) < GREY or hue_apart(aim, reached) < OTHER_HUE:
            continue
        yield Found(
            f"{one.name} comes out {hue_apart(aim, reached):.0f}° away from its own hue, by what lies below.",
            (one.number,),
            one.at,
            _block(look, one),
        )


def darker_than_meant(look: Look) -> Iterator[Found]:
    for one, aim in _meant(look, *SHADES):
        short = float(aim[0] - one.reached()[0])
        if one.flash(before=True) > FLASH:
            continue
        if short > DARKER and float(one.before()[0]) > DARK:
            fewer = (mends.changed(one, "A coat less", coats=one.layer.coats - 1),) if one.layer.coats > 1 else ()
            yield Found(
                f"{one.name} comes out {short:.0f} darker than meant (L {one.reached()[0]:.0f} for {aim[0]:.0f}).",
                (one.number,),
                one.at,
                (*_block(look, one), *fewer),
            )


def dye_over_dark(look: Look) -> Iterator[Found]:
    for one in look.painting:
        if not one.of_kind(*SHADES, least=0.7) or one.flash(before=True) > FLASH:
            continue
        reached, aim = one.reached(), one.made.aim
        lost = aim is not None and float(aim[0] - reached[0]) > LOST_L
        if float(one.before()[0]) < DARK and float(reached[0]) < LOST_L and (lost or chroma(reached) < GREY):
            yield Found(
                f"{one.name} only takes light away, and there is none left over so dark a ground.",
                (one.number,),
                one.at,
                _block(look, one),
            )


def metal_half_over_white(look: Look) -> Iterator[Found]:
    for one in look.painting:
        if not one.of_kind("metallic", least=0.5) or float(one.before()[0]) < LIGHT:
            continue
        mix = one.made.painted.mix
        area = 0.0 if mix is None else sum(float(cover) for _, cover in mix.flakes) * float(one.film_um.max())
        cover = 1 - float(np.exp(-area))
        if cover < THIN_COVER:
            enough = one.layer.coats * float(-np.log(1 - THIN_COVER)) / max(area, 1e-3)
            coats = min(int(np.ceil(1.05 * enough)), 50)
            yield Found(
                f"{one.name} covers {100 * cover:.0f} % of a light ground: it looks milky.",
                (one.number,),
                one.at,
                (mends.changed(one, f"{coats} coats", coats=coats), *_black(look, one)),
            )


def _over_light(look: Look, kind: str, words: str) -> Iterator[Found]:
    for one in look.painting:
        if one.of_kind(kind, least=0.5) and float(one.before()[0]) > LIGHT and one.flash(before=True) < FLASH:
            yield Found(f"{one.name}: {words}", (one.number,), one.at, _black(look, one))


def pearl_over_light(look: Look) -> Iterator[Found]:
    """A pearl of a colour; a white one is white over white, with a sheen."""
    words = "over a light ground its colour is pale, a sheen; over black it is vivid."
    for one in look.painting:
        mix, pearl = one.made.painted.mix, one.of_kind("pearl", least=0.5)
        over_light = pearl and float(one.before()[0]) > LIGHT and one.flash(before=True) < FLASH
        if over_light and mix is not None and chroma(at_the_glance(mix)) >= GREY:
            kept = mends.accepted("Keep it pale", "pearl-over-light", "pale on purpose")
            yield Found(f"{one.name}: {words}", (one.number,), one.at, (*_black(look, one), kept))


def shift_over_light(look: Look) -> Iterator[Found]:
    yield from _over_light(look, "shift", "over a light ground its travel drowns; black is pure, metal bright.")


def _without_white(look: Look, kind: str, words: str) -> Iterator[Found]:
    for one in look.painting:
        if one.of_kind(kind, least=0.3) and float(one.before()[0]) < LIGHT:
            yield Found(f"{one.name}: {words} (L {one.before()[0]:.0f})", (one.number,), one.at, _block(look, one))


def fluorescent_without_white(look: Look) -> Iterator[Found]:
    yield from _without_white(look, "fluorescent", "it hides little, and what lies under it swallows its light.")


def glow_without_white(look: Look) -> Iterator[Found]:
    yield from _without_white(look, "glow", "it shines as far as its ground sends the light back.")


def glow_too_thin(look: Look) -> Iterator[Found]:
    for one in look.painting:
        thick = float(one.film_um.max())
        if one.of_kind("glow", least=0.3) and thick < GLOW_UM:
            more = int(np.ceil(one.layer.coats * GLOW_UM / max(thick, 1.0))) + 1
            yield Found(
                f"{one.name} is {thick:.0f} µm thick: it will shine for minutes only.",
                (one.number,),
                one.at,
                (mends.changed(one, f"{more} coats", coats=min(more, 50)),),
            )


def marks_covered_again(look: Look) -> Iterator[Found]:
    """A pattern, dark or light, that later layers take away again."""
    for one in look.painting:
        if one.layer.mask.kind in ("free", "tape", "wash") or not (one.dark or one.resolved):
            continue
        there, beside = one.there, (~one.there) & (one.film_um < 0.1)
        if not beside.any():
            continue
        own = _contrast(one.after[FACING], there, beside)
        left = _contrast(look.final[FACING], there, beside)
        later = [other for other in look.above(one) if other.paints and one.meets(other).any()]
        if own > 15 and left < (FADED if one.dark else BURIED) * own and later:
            yield Found(
                f"{one.name} loses {100 * (1 - left / own):.0f} % of its contrast to {later[-1].name}.",
                (one.number, later[-1].number),
                one.at,
                (mends.moved_after(one, later[-1], "Lay it after that"),),
            )


def _contrast(labs: Floats, there: Bools, beside: Bools) -> float:
    return off(np.median(labs[there], axis=0), np.median(labs[beside], axis=0))


def out_of_reach(look: Look) -> Iterator[Found]:
    """Whatever the reason: it does not come near what it aims at."""
    told = {found.layers[0] for check in (muddied, another_hue, darker_than_meant) for found in check(look)}
    for one, aim in _meant(look, "opaque", "primer", *SHADES):
        if one.layer.what == "paint" and one.of_kind(*SHADES, least=0.5):
            continue  # as bottled it was meant for no ground at all
        far = off(aim, one.reached())
        if far > AMISS and one.number not in told and one.flash(before=True) < FLASH:
            more = mends.changed(one, "A coat more", coats=min(one.layer.coats + 1, 50))
            yield Found(
                f"{one.name} stays dE {far:.0f} away from its own colour here.",
                (one.number,),
                one.at,
                (*_block(look, one), more),
            )
