"""What really lies there, by the truth that the simulated devices have of the bottles, the droppers and the hand."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.cards.sheet import MARKS, FieldKey, Sheet, SheetField
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import diffuse, sprayed
from diachrom.core.film.surface import sheen_of
from diachrom.core.light.bands import BANDS, Floats
from diachrom.core.light.lab import lab, lab_to_xyz
from diachrom.core.light.lights import light
from diachrom.core.light.screen import SRGB, WHITE
from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML, Cup
from diachrom.core.mix.draft import Draft
from diachrom.core.mix.hand import FLOWS_UM, USUAL_THINNED
from diachrom.core.mix.strip import strip
from diachrom.exchange import marks, qr
from diachrom.instruments import truth
from diachrom.instruments.camera import Cells
from diachrom.store import contrast_cards, paints, shelf_sheets, spray_out_cards
from diachrom.store.shelf_sheets import ShelfSheet
from diachrom.work.cards import sheets
from diachrom.work.kit.measurement_target import CardSheet, ContrastField, PairsSheet, SprayedPatch
from diachrom.work.mix.contents import contents, cup_of
from diachrom.work.mix.sprayed_over import over
from diachrom.work.profiles import card_readings, read_sheets
from diachrom.work.profiles.contrast_cards import field_of, fields_of
from diachrom.work.shelf import droppers

DISCS = 12  # on each other, that a photo from near tells apart


def seen(connection: sqlite3.Connection, there: SprayedPatch | ContrastField) -> Floats:
    """(band,) as a perfect reader would see it."""
    if isinstance(there, ContrastField):
        return _field(connection, there)
    patches = [(there.ground, there.coats)]
    return patches_of(connection, there.draft, patches, card=there.card, thinned=there.thinned)[0]


def patches_of(
    connection: sqlite3.Connection,
    draft: Draft,
    patches: Sequence[tuple[str, int]],
    *,
    card: int | None = None,
    thinned: float = 0.0,
) -> list[Floats]:
    """Radiance factor (band,) of each patch (ground, coats) of a draft."""
    held = contents(connection, draft)
    pours = [
        replace(
            pour,
            paint=truth.of_paint(held.shelf[part.bottle].bottle.paint_id, pour.paint),
            drop_ml=min(max(truth.of_drop(part.bottle, part.drop_ml), SMALLEST_DROP_ML), LARGEST_DROP_ML),
        )
        for part, pour in zip(draft.parts, cup_of(held).pours, strict=True)
    ]
    grounds = list(dict.fromkeys(ground for ground, _ in patches))
    cup, hand = Cup(pours), truth.hand(card)
    reduced = thinned + (1 - thinned) * cup.thinned or USUAL_THINNED
    found = strip(
        cup,
        film_um=hand.film_um(draft.film_um) * (1 - thinned),
        droplet_um=(1 - thinned) * hand.dots_um(draft.film_um, nozzle_mm=draft.nozzle_mm, thinned=reduced),
        coats=max(1, *(coats for _, coats in patches)),
        over=[over(connection, ground) for ground in grounds],
        sheen=draft.sheen,
        under=light("D65"),
    )
    columns = dict(zip(grounds, found.columns, strict=True))
    return [
        np.clip((columns[ground].bare if coats == 0 else columns[ground].after(coats)).diffuse.radiance_factor, 0, 1)
        for ground, coats in patches
    ]


def _field(connection: sqlite3.Connection, there: ContrastField) -> Floats:
    card = contrast_cards.card(connection, there.card)
    field = field_of(card, there.field)
    # The truth lies behind the first profile, whatever was believed since.
    bottles = [(card.paint_id, 1.0)]
    if field.let_down and card.white_paint is not None:
        share = card.let_down_share
        bottles = [(card.paint_id, share), (card.white_paint, 1 - share)]
    mixed = [(key, paints.profile_versions(connection, key)[-1].paint, share) for key, share in bottles]
    film_um = field.passes * card.film_um
    return truth.of_field(
        mixed, ground=field.ground, film_um=film_um, sheen=card.sheen, card=card.id, dots=card.film_um < FLOWS_UM
    )


def _pair_field(connection: sqlite3.Connection, sheet: ShelfSheet, field: SheetField) -> Floats:
    """The truth lies behind the first profile, whatever was believed since. On the bare pair lies nothing of the
    first."""
    own = [(pair.paint_id, 1.0) for pair in sheet.pairs if pair.number == max(field.pair, 1)]
    mixed = [(key, paints.profile_versions(connection, key)[-1].paint, share) for key, share in own]
    sheen, hand = sheen_of(clear_coat=sheet.clear_coat), 1_000 * sheet.id + field.pair
    film_um, dots = field.coats * sheet.film_um, sheet.film_um < FLOWS_UM
    return np.clip(truth.of_field(mixed, ground=field.ground, film_um=film_um, sheen=sheen, card=hand, dots=dots), 0, 1)


def one_pass(connection: sqlite3.Connection, film_um: float) -> tuple[list[Floats], float]:
    """Linear RGB (3,) of white under none, one, two ... discs of the darkest plain paint of the shelf, and how many
    discs such a pass lays in the mean."""
    dark = min(
        (paint for paint in paints.all_profiles(connection).values() if not (paint.thins or paint.flake)),
        key=lambda paint: -float(paint.absorption.mean()),
        default=None,
    )
    absorption = np.full(BANDS, 0.5) if dark is None else dark.absorption
    scattering = np.full(BANDS, 0.02) if dark is None else dark.scattering
    hand = truth.hand(None)
    films = sprayed([Coat(Mix(absorption, scattering), hand.droplet_um * np.arange(float(DISCS)))])
    seen_discs = diffuse(films, GROUNDS["white"], sheen=0.0)
    looks = lab_to_xyz(lab(seen_discs, under=light("D65")), white=WHITE) @ SRGB.T
    return list(np.clip(looks, 0, 1)), hand.film_um(film_um) / hand.droplet_um


def drop_g(connection: sqlite3.Connection, bottle: int) -> float:
    """The true drop of a bottle, in g. Raises BottleNotFound."""
    known = droppers.see(connection, bottle)
    return truth.of_drop(bottle, known.bottle.drop_ml) * known.density


def sheet(
    connection: sqlite3.Connection, there: CardSheet | PairsSheet
) -> tuple[Sheet, Mapping[FieldKey, Floats], Sequence[Cells], Cells]:
    """A sprayed sheet, what each of its fields really is, and what is printed on it. Raises NotFound, InvalidInput."""
    fields: dict[FieldKey, Floats]
    if isinstance(there, PairsSheet):
        many = shelf_sheets.one(connection, there.sheet)
        laid = read_sheets.sheet_of(many)
        fields = {field.key: _pair_field(connection, many, field) for field in laid.fields}
    elif there.contrast:
        contrast = contrast_cards.card(connection, there.card)
        laid = card_readings.sheet_of(contrast)
        fields = {
            (0, one.ground, one.passes): np.clip(_field(connection, ContrastField(there.card, one.key)), 0, 1)
            for one in fields_of(contrast)
            if not one.let_down
        }
    else:
        card = spray_out_cards.one(connection, there.card)
        laid = sheets.sheet_of(card)
        wanted = [(one.ground, one.coats) for one in laid.fields]
        true = patches_of(connection, card.draft, wanted, card=card.id, thinned=card.how.reduction)
        fields = dict(zip((one.key for one in laid.fields), true, strict=True))
    return laid, fields, [marks.cells(mark) for mark in range(len(MARKS))], qr.modules(there.address)
