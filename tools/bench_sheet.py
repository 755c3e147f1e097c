"""The whole shelf sheet: photographed by a simulated camera, read, worked out; mixes of two such paints beside what
they really are."""

import time
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from measuring import D65, SHELF, row

from diachrom.core.cards.sheet import FieldKey, Sheet
from diachrom.core.cards.shelf_sheet import shelf_sheet
from diachrom.core.film import seen
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Paint, mix
from diachrom.core.film.stack import sprayed
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.inks import INKS
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer, spray
from diachrom.core.mix.mixes import exact_labs
from diachrom.core.mix.spread import spread
from diachrom.core.mix.together import together
from diachrom.core.mix.where import Where
from diachrom.core.profiles.card_fit import USUAL_SCATTERING
from diachrom.core.profiles.contrast_card import PASS_UM, STEPS
from diachrom.core.profiles.pair_fit import PairFit, PairKey, ReadField, fit_pair
from diachrom.core.profiles.phone_eye import phone_eye
from diachrom.exchange import marks, photos, qr, sheet_photos
from diachrom.exchange.sheet_photos import BEYOND
from diachrom.instruments import camera, truth

PAIRS, HAND, RECIPES = 24, 0.05, 150
SHOTS: tuple[str | camera.Shot, ...] = (
    "phone",
    "smeared",
    replace(camera.SHOTS["phone"], phone=11, lamp="D65"),
    replace(camera.SHOTS["phone"], phone=12, lamp="overcast"),
)


def sheet() -> None:
    """Four sheets of 24 paints each, their mixes over white and black in one, two and three coats."""
    off: list[float] = []
    inside: list[bool] = []
    taken, doubtful = [], 0
    for seed, shot in enumerate(SHOTS):
        true, found, seconds = photographed(seed, shot)
        taken.append(seconds)
        inside += within(np.random.default_rng(seed), true, found)
        doubtful += sum(bool(one.doubts) for one in found)
        off += mixed_off(np.random.default_rng(seed), true, found)
    row("shelf sheet of 24: read and worked out", float(np.median(taken)), "s", 20, 0, "")
    row("  mixes of two of its paints, the median", float(np.median(off)), "dE", 3, 0, "")
    row("  the 95th percentile", float(np.quantile(off, 0.95)), "dE", 7, 0, "")
    print(f"  of {len(inside)} sprayings {np.mean(inside):.0%} lie within the spread; 85 to 95 % wanted")
    print(f"  of {len(SHOTS) * PAIRS} pairs {doubtful} are called doubtful")


def photographed(seed: int, shot: str | camera.Shot, pairs: int = PAIRS) -> tuple[list[Paint], list[PairFit], float]:
    """The true paints, what a photo of their sheet tells of each, and the seconds from photo to profiles."""
    chance = np.random.default_rng(seed)
    able = [key for key, one in SHELF.items() if one.paint.kind in USUAL_SCATTERING]
    keys = [str(key) for key in chance.permutation(able)[:pairs]]
    laid = shelf_sheet(pairs, STEPS)
    true = [truth.of_paint(f"{key} {seed}", SHELF[key].paint) for key in keys]
    hands = np.exp(HAND * chance.standard_normal(pairs))
    code = qr.modules(f"http://bench/shelf-sheets/1?shelf=1&sheet={laid.key}")
    cells = [marks.cells(mark) for mark in range(4)]
    taken = camera.SHOTS[shot] if isinstance(shot, str) else shot
    jpeg = camera.photo(taken, laid, _fields(laid, true, hands), cells, code, seed=seed)
    _, _, png = photos.taken("sheet.jpg", jpeg)
    start = time.perf_counter()
    read = sheet_photos.measured(png, laid, 1, tag="shelf")
    by_pair: list[dict[PairKey, ReadField]] = [{} for _ in range(pairs + 1)]
    for one in read:
        lost = "" if one.doubt == BEYOND else one.doubt
        by_pair[one.field.pair][one.field.ground, one.field.coats] = ReadField(one.lab, lost)

    printed = {ground: one.lab for (ground, _), one in by_pair[0].items() if ground in INKS}
    phone = phone_eye(printed)

    def fit(at: int) -> PairFit:
        kind = true[at].kind
        return fit_pair(by_pair[at + 1], by_pair[0], film_um=PASS_UM, sheen=CLEARED, kind=kind, phone=phone)

    found = together(fit, range(pairs))
    return true, found, time.perf_counter() - start


def _fields(laid: Sheet, true: Sequence[Paint], hands: Floats) -> dict[FieldKey, Floats]:
    fields = {}
    for one in laid.fields:
        own = [mix([true[one.pair - 1]], np.ones(1))] if one.pair else []
        films = sprayed([Coat(paint, one.coats * PASS_UM * float(hands[one.pair - 1])) for paint in own])
        radiance = seen.diffuse(films, GROUNDS[one.ground], sheen=CLEARED, under=D65)
        fields[one.key] = np.clip(D65.factor(radiance), 0, 1)
    return fields


def within(chance: np.random.Generator, true: Sequence[Paint], found: Sequence[PairFit]) -> list[bool]:
    """Whether a spraying of one or two such paints, by a hand that is uneven, lies within what its spread says."""
    inside = []
    for _ in range(RECIPES):
        some = chance.choice(len(true), chance.integers(1, 3), replace=False).tolist()
        drops, ground = chance.integers(1, 8, len(some)).tolist(), str(chance.choice(["white", "black", "grey"]))
        film_um, over = float(chance.choice([4, 8, 14])), GROUNDS[ground]
        told = [
            replace(
                true[at],
                absorption=found[at].absorption,
                scattering=found[at].scattering,
                uncertainty=found[at].uncertainty,
            )
            for at in some
        ]
        layer = Layer(Cup([Pour(paint, count) for paint, count in zip(told, drops, strict=True)]), film_um)
        said = spread([layer], over=over, sheen=CLEARED, under=D65).delta_e
        fat = 0.05 * np.exp(0.08 * chance.standard_normal(len(some)))
        pours = [Pour(true[at], count, float(ml)) for at, count, ml in zip(some, drops, fat, strict=True)]
        film = film_um * max(0.1, 1 + 0.2 * float(chance.standard_normal()))
        is_, was = (
            lab_of_radiance(seen.diffuse(spray([one]), over, sheen=CLEARED, under=D65), under=D65)
            for one in (Layer(Cup(pours), film), layer)
        )
        inside.append(float(delta_e(is_, was)) <= said)
    return inside


def mixed_off(chance: np.random.Generator, true: Sequence[Paint], found: Sequence[PairFit]) -> list[float]:
    """dE of mixes of two, in equal parts and three to one, as told and as they are."""
    told = [
        replace(one, absorption=own.absorption, scattering=own.scattering) for one, own in zip(true, found, strict=True)
    ]
    shares = np.zeros((25, len(true)))
    for one in shares:
        first, second = chance.choice(len(true), 2, replace=False)
        one[first], one[second] = chance.choice([(0.35, 0.35), (0.525, 0.175)])
    off: list[float] = []
    for key in ("white", "black"):
        for film_um in (8.0, 16.0, 24.0):
            where = Where(GROUNDS[key], film_um, CLEARED, D65)
            is_, said = (exact_labs(paints, shares, where)[:, 0] for paints in (true, told))
            off += delta_e(is_, said).tolist()
    return off
