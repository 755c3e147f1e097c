"""A sheet of many paints: laid out, photographed, read, and worked out pair by pair."""

import sqlite3
from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np

from diachrom.core.cards.sheet import Sheet
from diachrom.core.cards.shelf_sheet import MOST_PAIRS, shelf_sheet
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.surface import MATTE, sheen_of
from diachrom.core.light.difference import delta_e
from diachrom.core.light.inks import INKS
from diachrom.core.mix.hand import Hand
from diachrom.core.mix.layers import THICKEST_COAT_UM
from diachrom.core.mix.sound import THINNEST_UM
from diachrom.core.mix.together import together
from diachrom.core.profiles.contrast_card import PASS_UM, STEPS
from diachrom.core.profiles.pair_fit import PairFit, PairKey, ReadField, fit_pair
from diachrom.core.profiles.phone_eye import PhoneEye, phone_eye
from diachrom.errors import BadPhoto, DiachromError, InvalidInput
from diachrom.exchange import sheet_photos
from diachrom.exchange.sheet_photos import BEYOND, FieldRead
from diachrom.store import mist, paints, shelf_sheets
from diachrom.store.connection import connected, writing
from diachrom.store.paints import PaintRecord
from diachrom.store.shelf_sheets import KeptField, KeptPair, ShelfSheet
from diachrom.words import listed, say, say_count
from diachrom.work.kit import photo_picks
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.fields import number_field, read_fields
from diachrom.work.kit.measurement_target import PairsSheet
from diachrom.work.kit.tasks import Task, Tasks
from diachrom.work.profiles.contrast_cards import can_be_carded
from diachrom.work.shelf.shelf_index import index

PAPER_DE = 6.0  # of most of the printed colours, below which none were printed
AT_ONCE = 4  # pairs, between which it may be stopped
PASS = (number_field("film_um", say("A mist pass, µm"), least=THINNEST_UM, most=THICKEST_COAT_UM),)


def choices(connection: sqlite3.Connection) -> tuple[list[tuple[PaintRecord, bool]], list[PaintRecord]]:
    """The paints of the shelf that a sheet can tell, with whether they are guesses, these first; and those with flakes
    or light of their own, which it cannot."""
    guessed = {row.bottle.paint_id: row.guess for row in index(connection).rows}
    records = paints.records(connection, list(guessed))
    able = [(one, guessed[key]) for key, one in records.items() if can_be_carded(one.kind)]
    others = [record for record in records.values() if KINDS[record.kind].colours and not can_be_carded(record.kind)]
    return sorted(able, key=lambda row: (not row[1], row[0].full_name.casefold())), others


def begin(connection: sqlite3.Connection, paint_ids: Sequence[str], *, film_um: str, clear_coat: bool, at: str) -> int:
    """A sheet for these paints, in this order; returns its number. `film_um` of a pass as typed. Raises PaintNotFound,
    InvalidInput."""
    several = list(dict.fromkeys(paint_ids))
    if not 1 <= len(several) <= MOST_PAIRS:
        raise InvalidInput(
            say_count(
                len(several),
                "A sheet holds 1 to {most_pairs} paints; {what} is chosen. Make a second sheet for the rest.",
                "A sheet holds 1 to {most_pairs} paints; {what} are chosen. Make a second sheet for the rest.",
                most_pairs=MOST_PAIRS,
                what=len(several) or "none",
            ),
            field="paint",
        )
    for one in several:
        record = paints.record(connection, one)
        if not can_be_carded(record.kind):
            raise InvalidInput(
                say(
                    "{full_name}: a photo from above cannot measure a {kind} paint. Leave it out.",
                    full_name=record.full_name,
                    kind=record.kind,
                ),
                field="paint",
            )
    typed = read_fields(PASS, {"film_um": film_um}).get("film_um")
    pass_um = float(typed) if isinstance(typed, float) else PASS_UM
    with writing(connection):
        return shelf_sheets.add(connection, several, film_um=pass_um, clear_coat=clear_coat, at=at)


def sheet_of(kept: ShelfSheet) -> Sheet:
    """The sheet as it was printed."""
    return shelf_sheet(max(1, min(len(kept.pairs), MOST_PAIRS)), STEPS)


def address(kept: ShelfSheet) -> str:
    """Where its code leads, after the server's address."""
    return f"shelf-sheets/{kept.id}?shelf={kept.id}&sheet={sheet_of(kept).key}"


def from_photo(connection: sqlite3.Connection, number: int, name: str, content: bytes, *, at: str) -> None:
    """Keep what a photo shows of every field, all or nothing. Raises NotFound, BadFile, BadPhoto."""
    kept = shelf_sheets.one(connection, number)
    taken = photo_picks.taken(name, content)
    found = sheet_photos.measured(taken.png, sheet_of(kept), number, tag="shelf")
    bare = [one for one in found if not one.field.pair and one.field.ground not in INKS]
    spoilt = [say("bare {ground} ({doubt})", ground=one.field.ground, doubt=one.doubt) for one in bare if one.doubt]
    if spoilt:
        raise BadPhoto(
            say(
                "{spoilt}: all others are measured by it. Keep it clean, and take the photo again",
                spoilt=listed(spoilt, " and "),
            )
        )
    by_pair: dict[int, list[KeptField]] = {pair.number: [] for pair in kept.pairs}
    for field in found:
        if field.field.pair:
            by_pair[field.field.pair].append(_kept(field))
    inks = [one for one in found if one.field.ground in INKS]
    white = next(one.lab for one in bare if one.field.ground == "white")
    if float(np.median([delta_e(one.lab, white) for one in inks])) > PAPER_DE:  # an older print has bare paper there
        bare += [one for one in inks if one.doubt in ("", BEYOND)]
    with writing(connection):
        if any(one.taken for one in shelf_sheets.one(connection, number).pairs):
            raise InvalidInput(
                say("Profiles of this sheet are in use: undo the whole sheet before you add another photo of it."),
                field="photo",
            )
        photo_picks.put(connection, taken, at=at)
        shelf_sheets.read(connection, number, photo=taken.name, bare=[_kept(one) for one in bare], pairs=by_pair)


def _kept(field: FieldRead) -> KeptField:
    """What is stronger than a photo can tell is used all the same: its other channels tell."""
    lab = (float(field.lab[0]), float(field.lab[1]), float(field.lab[2]))
    return KeptField(field.field.ground, field.field.coats, lab, "" if field.doubt == BEYOND else field.doubt)


def take_photo(connection: sqlite3.Connection, devices: Devices, number: int, shot: str, base: str) -> bytes:
    """The bench's camera takes a photo of a sheet; `base` is this server's address. Raises NotFound."""
    kept = shelf_sheets.one(connection, number)
    return devices.camera.photo(shot, PairsSheet(number, base + address(kept)))


class SheetTask(Task):
    """Works out the pairs of a sheet that nothing came of yet; what is done is kept, whatever happens."""

    nothing_kept = say("What was worked out before is kept.")

    def __init__(self, sheet: int) -> None:
        super().__init__()
        self.sheet = sheet

    def work(self, folder: Path) -> None:
        """Read the photo of a sheet."""
        with connected(folder) as connection:
            kept = shelf_sheets.one(connection, self.sheet)
            records = paints.records(connection, [one.paint_id for one in kept.pairs])
            kinds = {key: one.kind for key, one in records.items()}
            dots = mist.hand(connection).dots_um(kept.film_um)
            waiting = [one for one in kept.pairs if one.fields and not one.found]
            done = len(kept.pairs) - len(waiting)
            for start in range(0, len(waiting), AT_ONCE):
                some = waiting[start : start + AT_ONCE]
                self.tell(done + start, len(kept.pairs))
                answers = together(_fitter(kept, kinds, dots), some)
                with writing(connection):
                    if shelf_sheets.one(connection, self.sheet).bare != kept.bare:
                        raise InvalidInput(say("Another photo was read meanwhile: work it out again."), field="photo")
                    for pair, answer in zip(some, answers, strict=True):
                        shelf_sheets.found(connection, self.sheet, pair.number, answer)
            self.tell(len(kept.pairs), len(kept.pairs))


def _fitter(kept: ShelfSheet, kinds: dict[str, str], dots: float) -> Callable[[KeptPair], dict[str, object]]:
    def fit(pair: KeptPair) -> dict[str, object]:
        try:
            return _document(_worked(kept, pair, kinds[pair.paint_id], dots))
        except DiachromError as error:
            return {"problem": str(error)}

    return fit


def _worked(kept: ShelfSheet, pair: KeptPair, kind: str, dots: float) -> PairFit:
    """Raises InvalidInput."""
    return fit_pair(
        _by_key(pair.fields),
        _by_key(kept.bare),
        film_um=kept.film_um,
        sheen=sheen_of(clear_coat=True) if kept.clear_coat else MATTE,
        kind=kind,
        droplet_um=dots,
        phone=phone_of(kept),
    )


def phone_of(kept: ShelfSheet) -> PhoneEye:
    """What took the photo of a sheet, as far as its printed colours tell."""
    return phone_eye({one.ground: np.array(one.lab) for one in kept.bare if one.ground in INKS})


def phone_moves(kept: ShelfSheet) -> float | None:
    """How far a photo's colours were set right, dE in the mean of its fields; None where nothing told by what."""
    phone, points = phone_of(kept), [np.array(field.lab) for pair in kept.pairs for field in pair.fields]
    if not points or not any(one.ground in INKS for one in kept.bare):
        return None
    return float(np.mean([delta_e(phone.right(point), point) for point in points]))


def fitted_again(connection: sqlite3.Connection, number: int, pair: int, hand: Hand) -> PairFit | None:
    """What a pair comes to in the dots of another hand; None where it tells nothing. Raises NotFound."""
    kept = shelf_sheets.one(connection, number)
    own = next((one for one in kept.pairs if one.number == pair), None)
    if own is None or not own.fields:
        return None
    try:
        return _worked(kept, own, paints.record(connection, own.paint_id).kind, hand.dots_um(kept.film_um))
    except DiachromError:
        return None


def _by_key(fields: Sequence[KeptField]) -> dict[PairKey, ReadField]:
    return {(field.ground, field.passes): ReadField(np.array(field.lab), field.lost) for field in fields}


def _document(found: PairFit) -> dict[str, object]:
    return {
        "absorption": [float(f"{value:.6g}") for value in found.absorption.tolist()],
        "scattering": [float(f"{value:.6g}") for value in found.scattering.tolist()],
        "uncertainty": round(found.uncertainty, 4),
        "uncertain_nm": list(found.uncertain_nm),
        "fit_delta_e": round(found.fit_delta_e, 2),
        "doubts": list(found.doubts),
    }


def kind_of(number: int) -> tuple[str, int]:
    """By what a sheet's task is known."""
    return say("shelf sheet"), number


def start(tasks: Tasks, number: int) -> None:
    """The one that is going on, or a new one; a photo that was read meanwhile wants a new one."""
    tasks.stop(kind_of(number))
    tasks.start(kind_of(number), lambda known: known if known is not None and known.going_on else SheetTask(number))


def task_of(tasks: Tasks, number: int) -> SheetTask | None:
    """The reading of a sheet that goes on, or went on last."""
    return tasks.of(kind_of(number), SheetTask)


def earlier(connection: sqlite3.Connection, most: int) -> list[tuple[int, str, int, int]]:
    """(number, at, paints on it, of these taken), the latest first."""
    return shelf_sheets.latest(connection, most)
