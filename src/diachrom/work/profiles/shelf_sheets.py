"""What a photographed sheet of many paints comes to: shown before anything is taken, taken all or singly, taken back
whole, and judged by the painter's own spray-out cards."""

import sqlite3
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field, TypeAdapter

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import BANDS
from diachrom.core.light.difference import delta_e
from diachrom.errors import InvalidInput
from diachrom.store import kept, paints, shelf_sheets
from diachrom.store.connection import writing
from diachrom.store.paints import PaintRecord, ProfileVersion
from diachrom.store.shelf_sheets import KeptPair, ShelfSheet
from diachrom.words import quantity, say
from diachrom.work.kit.looks import look
from diachrom.work.shelf.keeping import keep_profile

STRONGEST = 1e3  # 1/um: no paint has more
ANOTHER = 25.0  # dE from what was believed, above which it may be another paint's field
Coefficient = Annotated[kept.Number, Field(ge=0, le=STRONGEST)]
Coefficients = Annotated[list[Coefficient], Field(min_length=BANDS, max_length=BANDS)]


class Worked(BaseModel):
    """What came of a pair's fields, as it is kept; 1/um."""

    absorption: Coefficients | None = None
    scattering: Coefficients | None = None
    uncertainty: Annotated[kept.Number, Field(ge=0, le=1)] | None = None
    uncertain_nm: list[Annotated[kept.Number, Field(ge=300, le=900)]] = []
    doubts: list[str] = []
    problem: str = ""


WORKED = TypeAdapter(Worked)


@dataclass(frozen=True, eq=False)
class PairSeen:
    """A pair of the sheet: the paint as it was believed to be, and as the photo tells it."""

    pair: KeptPair
    record: PaintRecord
    version: int  # of the profile that counts now
    before: Paint
    after: Paint | None  # None before it was worked out, or where nothing came of it
    uncertain_nm: tuple[float, ...]
    doubts: Sequence[str]
    problem: str  # why nothing came of it

    @property
    def taken(self) -> bool:
        """Whether its profile was taken."""
        return self.pair.taken

    @property
    def open(self) -> bool:
        """It can be taken."""
        return self.after is not None and not self.taken

    @property
    def sure(self) -> bool:
        """Whether the photo tells it well."""
        return self.open and not self.doubts


@dataclass(frozen=True, eq=False)
class SheetSeen:
    sheet: ShelfSheet
    pairs: Sequence[PairSeen]

    @property
    def told(self) -> dict[str, tuple[Paint, Paint]]:
        """What each paint of which something came was, and is now, by its id."""
        return {pair.record.id: (pair.before, pair.after) for pair in self.pairs if pair.after is not None}

    @property
    def waiting(self) -> int:
        """Pairs that were read and not worked out yet."""
        return sum(bool(pair.pair.fields) and not pair.pair.found for pair in self.pairs)


def see(connection: sqlite3.Connection, number: int) -> SheetSeen:
    """Raises NotFound."""
    sheet = shelf_sheets.one(connection, number)
    ids = [pair.paint_id for pair in sheet.pairs]
    records, versions = paints.records(connection, ids), paints.versions_of(connection, ids)
    return SheetSeen(sheet, [_pair(one, records[one.paint_id], versions[one.paint_id]) for one in sheet.pairs])


def _pair(pair: KeptPair, record: PaintRecord, versions: Sequence[ProfileVersion]) -> PairSeen:
    before = next((version.paint for version in versions if version.version == pair.before), versions[0].paint)
    worked, _ = kept.pruned(WORKED, dict(pair.found), Worked())
    if worked.absorption is None or worked.scattering is None or worked.uncertainty is None:
        after = None
    else:
        absorption, scattering = np.array(worked.absorption), np.array(worked.scattering)
        after = replace(before, absorption=absorption, scattering=scattering, uncertainty=worked.uncertainty)
    doubts = [] if after is None else list(worked.doubts)
    if after is not None:
        apart, other = (look(own).bead for own in (before, after))
        far = 0.0 if apart is None or other is None else float(delta_e(apart.lab, other.lab))
        if far > ANOTHER:
            doubts.append(
                say("quite another colour than before, dE {far}: is it the right field?", far=quantity(far, ".0f"))
            )
    problem = worked.problem
    if pair.found and after is None and not problem:
        problem = say("What was worked out cannot be read: work it out again.")
    return PairSeen(
        pair=pair,
        record=record,
        version=versions[0].version,
        before=before,
        after=after,
        uncertain_nm=tuple(worked.uncertain_nm),
        doubts=doubts,
        problem=problem,
    )


def take(connection: sqlite3.Connection, number: int, wanted: Collection[int] | None, *, at: str) -> int:
    """Make the profiles of these pairs the next versions, or of all that are sure; returns how many. Raises NotFound,
    InvalidInput."""
    seen = see(connection, number)
    chosen = [one for one in seen.pairs if (one.sure if wanted is None else one.open and one.pair.number in wanted)]
    if not chosen:
        raise InvalidInput(say("There is no profile to use: no photo shows it, or it is in use already."), field="pair")
    beads = [look(one.after).bead for one in chosen if one.after is not None]
    with writing(connection):
        versions = paints.versions_of(connection, [one.pair.paint_id for one in chosen])
        for pair, bead in zip(chosen, beads, strict=True):
            if pair.after is None:
                continue
            version = keep_profile(
                connection,
                pair.after,
                paint_id=pair.pair.paint_id,
                source=say("shelf sheet {number}, pair {other_number}", number=number, other_number=pair.pair.number),
                at=at,
                uncertain_nm=pair.uncertain_nm,
                lab=None if bead is None else bead.lab.tolist(),
            )
            shelf_sheets.taken(
                connection, number, pair.pair.number, before=versions[pair.pair.paint_id][0].version, after=version
            )
    return len(chosen)


def undo(connection: sqlite3.Connection, number: int, *, at: str) -> tuple[int, list[str]]:
    """Take the whole sheet back; returns how many profiles, and the paints that were measured since and were left
    alone. Raises NotFound, InvalidInput."""
    back, left = 0, []
    with writing(connection):
        for pair in shelf_sheets.one(connection, number).pairs:
            if not pair.taken:
                continue
            shelf_sheets.undone(connection, number, pair.number)
            versions = {
                version.version: version.paint for version in paints.profile_versions(connection, pair.paint_id)
            }
            if max(versions) != pair.after or pair.before not in versions:
                left.append(paints.record(connection, pair.paint_id).full_name)
                continue
            source = say("as it was before shelf sheet {number}", number=number)
            keep_profile(connection, versions[pair.before], paint_id=pair.paint_id, source=source, at=at)
            back += 1
    if not back and not left:
        raise InvalidInput(say("Nothing of this sheet is in use: there is nothing to undo."), field="sheet")
    return back, left
