"""What comes in: a file is read and shown first, and written only after a yes, all of it or nothing."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom.core.film.paint import KINDS, Paint
from diachrom.core.profiles.card_fit import Bare, CardFilm
from diachrom.core.profiles.contrast_card import CARD_UM, UNSURE, from_card
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import palettes, sheets
from diachrom.exchange.sample import Sample
from diachrom.exchange.spectra import read_spectra, too_light_for_black
from diachrom.store import paints, uploads
from diachrom.store.connection import writing
from diachrom.work.files import bundle, inventory
from diachrom.work.files.inventory import Progress
from diachrom.work.files.inventory_preview import CellError, Preview, RowFate, preview
from diachrom.work.profiles.contrast_cards import can_be_carded
from diachrom.work.shelf.keeping import keep_profile


@dataclass(frozen=True, eq=False)
class Read:
    """A file as it was read: what would become of it, and how to write it."""

    name: str
    what: str  # in words
    fates: Sequence[RowFate]
    errors: Sequence[CellError]
    notes: Sequence[str]
    _plan: "Preview | bundle.BundlePlan | SpectraPlan"
    question: str = ""  # to be answered before it is written

    def write(self, connection: sqlite3.Connection, *, at: str, progress: Progress = lambda done, total: None) -> None:
        """Inside `writing`. Raises InvalidInput when there are errors."""
        if self.errors:
            raise InvalidInput(f"{self.name} has {len(self.errors)} errors; nothing was written.", field="file")
        if self.question:
            raise InvalidInput(self.question, field="values")
        if isinstance(self._plan, Preview):
            inventory.apply(connection, self._plan, name=self.name, at=at, progress=progress)
        elif isinstance(self._plan, bundle.BundlePlan):
            bundle.apply(connection, self._plan, name=self.name, at=at, progress=progress)
        else:
            self._plan.write(connection, self.name, at=at, progress=progress)


def read(
    connection: sqlite3.Connection, name: str, content: bytes, *, kind: str = "transparent", values: str = ""
) -> Read:
    """Read a file by what it is; a palette's colours are taken for paints of `kind`, the values of spectra for what
    they are said to be. Raises BadFile, InvalidInput."""
    if kind not in KINDS:
        raise InvalidInput(f"There is no kind of paint called '{kind[:20]}'.", field="kind")
    start = content.lstrip(b"\xef\xbb\xbf \t\r\n")[:200]
    if start.startswith(b"{"):
        found = bundle.plan(connection, bundle.read(name, content))
        return Read(name=name, what="paints, bottles and recipes", fates=found.fates, errors=(), notes=(), _plan=found)
    if start.startswith((palettes.ASE, palettes.GPL.encode())):
        sheet = inventory.palette_rows(palettes.read_palette(name, content), kind)
        return _table(connection, name, sheet, "a palette")
    if start.startswith(b"<") or b"BEGIN_DATA" in content[:200_000]:
        plan = _spectra(connection, read_spectra(name, content, values))
        question = too_light_for_black(plan.bare[1]) if plan.bare and not values else ""
        return Read(
            name=name, what="spectra", fates=plan.fates, errors=(), notes=plan.notes, _plan=plan, question=question
        )
    return _table(connection, name, sheets.read_sheet(name, content), "an inventory")


def _table(connection: sqlite3.Connection, name: str, sheet: sheets.Table, what: str) -> Read:
    found = preview(connection, name, sheet)
    notes = list(found.notes)
    if found.unknown_columns:
        notes.append(f"columns that are not kept: {', '.join(found.unknown_columns[:10])}")
    return Read(name=name, what=what, fates=found.fates, errors=found.errors, notes=notes, _plan=found)


@dataclass(frozen=True, eq=False)
class SpectraPlan:
    """Pairs of spectra over white and black that make a profile of a paint on the shelf."""

    pairs: Sequence[tuple[str, Sample, Sample]]  # paint's id, over white, over black
    bare: tuple[Sample, Sample] | None
    fates: Sequence[RowFate]
    notes: Sequence[str]

    def write(self, connection: sqlite3.Connection, name: str, *, at: str, progress: Progress) -> None:
        if self.bare is None or not self.pairs:
            raise BadFile(name, "it holds no paint of this shelf over white and black; nothing was written.")
        for done, (paint_id, white, black) in enumerate(self.pairs, start=1):
            old = paints.profile(connection, paint_id)
            film = CardFilm(CARD_UM, white.reflectance, black.reflectance)
            bare = Bare(self.bare[0].reflectance, self.bare[1].reflectance)
            profile, source, uncertain_nm = _told(old, film, bare, name)
            keep_profile(connection, profile, paint_id=paint_id, source=source, at=at, uncertain_nm=uncertain_nm)
            progress(done, len(self.pairs))


def _told(old: Paint, film: CardFilm, bare: Bare, name: str) -> tuple[Paint, str, tuple[float, ...]]:
    """A paint as one film tells it, where it came from, and the bands that it does not tell. What a film that takes all
    the light cannot tell stays what it was."""
    found = from_card([film], bare, kind=old.kind)
    sure = found.uncertainty <= UNSURE
    if not sure:
        found = from_card([film], bare, kind=old.kind, before=old)
    uncertainty = found.uncertainty if sure else old.uncertainty
    new = replace(old, absorption=found.absorption, scattering=found.scattering, uncertainty=uncertainty)
    kept = "" if sure else ", its strength as before: the film was too thick to tell it"
    return new, f"spectra of {name[:120]}{kept}", found.uncertain_nm


def _spectra(connection: sqlite3.Connection, samples: Sequence[Sample]) -> SpectraPlan:
    by_name = {one.name.casefold(): one for one in samples}
    bare = (by_name.get("bare white"), by_name.get("bare black"))
    records = {one.full_name.casefold(): one for one in paints.every_record(connection) if not one.retired}
    pairs, fates = [], []
    for row, one in enumerate(samples, start=1):
        paint, _, field = one.name.casefold().rpartition(", over ")
        record = records.get(paint)
        if one.name.casefold() in ("bare white", "bare black"):
            fate = "the bare card"
        elif record is None:
            fate = "left out: no paint of that name is on the shelf"
        elif not can_be_carded(record.kind):
            fate = "left out: a contrast card cannot describe its kind"
        elif None in bare or f"{paint}, over white" not in by_name or f"{paint}, over black" not in by_name:
            fate = "left out: it takes the paint over white and over black, and both bare"
        else:
            fate = f"new profile of {record.full_name}"
            if field == "white":
                pairs.append((record.id, one, by_name[f"{paint}, over black"]))
        fates.append(RowFate(row, one.name, fate, "; ".join(one.notes)))
    notes = [f"taken for {CARD_UM:.0f} µm of wet film under clear"] if pairs else ["no profile comes of it"]
    whole = (bare[0], bare[1]) if bare[0] is not None and bare[1] is not None else None
    return SpectraPlan(pairs, whole, fates, notes)


def keep(connection: sqlite3.Connection, name: str, content: bytes, *, kind: str, at: str) -> int:
    """Keep a file that was read, until a yes; returns its number. Raises what reading it raises."""
    read(connection, name, content, kind=kind)
    with writing(connection):
        return uploads.keep_file(connection, name=name, content=content, at=at)


def waiting(connection: sqlite3.Connection, number: int) -> uploads.WaitingFile:
    """A file that was read and waits for a yes. Raises NotFound."""
    return uploads.file(connection, number)
