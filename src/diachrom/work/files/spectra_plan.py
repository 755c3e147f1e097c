"""Spectra over white and over black become profiles: of paints on the shelf, and of such as are new to it."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import Paint
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.profiles.card_fit import Bare, CardFilm
from diachrom.core.profiles.contrast_card import CARD_UM, UNSURE, as_computed, from_card
from diachrom.core.profiles.guess import guess
from diachrom.errors import BadFile
from diachrom.exchange.sample import Sample
from diachrom.store import paints, shelf_history
from diachrom.store.paints import PaintRecord
from diachrom.words import listed, quantity, say
from diachrom.work.files.inventory import Progress
from diachrom.work.files.inventory_preview import RowOutcome
from diachrom.work.profiles.contrast_cards import can_be_carded
from diachrom.work.shelf.guessing import to_guess
from diachrom.work.shelf.keeping import keep_profile, put_bottle, put_paint

USUAL_SIZE = {"size_ml": 30.0}


@dataclass(frozen=True, eq=False)
class Own:
    """What a file tells of one paint: over white and black where it has both, else one spectrum."""

    paint_id: str  # "" of one that is new
    name: str
    white: Sample
    black: Sample | None


@dataclass(frozen=True, eq=False)
class SpectraPlan:
    """Spectra that make profiles of paints on the shelf, or new paints of a kind."""

    own: Sequence[Own]
    kind: str
    bare: tuple[Sample, Sample] | None
    fates: Sequence[RowOutcome]
    notes: Sequence[str]

    def write(self, connection: sqlite3.Connection, name: str, *, at: str, progress: Progress) -> None:
        """Write what is new. Inside `writing`."""
        if not self.own:
            raise BadFile(
                name, say("it holds no paint over white and black, and none that is new; nothing was imported.")
            )
        new = [one for one in self.own if not one.paint_id]
        colours = [lab(one.white.reflectance, under=light("D65")) for one in new]
        told = [to_guess(one.name, self.kind, colour) for one, colour in zip(new, colours, strict=True)]
        guessed = dict(zip((one.name for one in new), guess(told) if told else [], strict=True))
        with shelf_history.step(connection, say("importing {name}", name=name), at=at) as recorder:
            for done, own in enumerate(self.own, start=1):
                paint_id = own.paint_id
                if not paint_id:
                    paint_id = put_paint(connection, recorder, PaintRecord("", "", own.name, self.kind), None)
                    put_bottle(connection, recorder, paint_id, USUAL_SIZE, at=at, note="imported")
                old = guessed[own.name] if own.name in guessed else paints.profile(connection, paint_id)
                if own.black is None or self.bare is None:
                    keep_profile(
                        connection,
                        old,
                        paint_id=paint_id,
                        source=say("guessed from a spectrum of {name}", name=name[:120]),
                        at=at,
                    )
                else:
                    film = CardFilm(CARD_UM, own.white.reflectance, own.black.reflectance)
                    bare = Bare(self.bare[0].reflectance, self.bare[1].reflectance)
                    profile, source, uncertain_nm = _told(old, film, bare, name, computed=own.white.computed)
                    keep_profile(
                        connection, profile, paint_id=paint_id, source=source, at=at, uncertain_nm=uncertain_nm
                    )
                progress(done, len(self.own))


def _told(old: Paint, film: CardFilm, bare: Bare, name: str, *, computed: bool) -> tuple[Paint, str, tuple[float, ...]]:
    """A paint as one film tells it, where it came from, and the bands that it does not tell. What a film that takes all
    the light cannot tell stays what it was."""
    card = from_card([film], bare, kind=old.kind)
    sure = card.uncertainty <= UNSURE
    if not sure:
        card = from_card([film], bare, kind=old.kind, before=old)
    uncertainty = card.uncertainty if sure else old.uncertainty
    new = replace(old, absorption=card.absorption, scattering=card.scattering, uncertainty=uncertainty)
    if computed:  # how sure it is does not grow by being written down
        new = as_computed(film, bare, near=new)
    kept = "" if sure else ", " + say("its strength as before: the film was too thick to measure it")
    return new, say("spectra of {name}{kept}", name=name[:120], kept=kept), card.uncertain_nm


def plan(connection: sqlite3.Connection, samples: Sequence[Sample], *, kind: str) -> SpectraPlan:
    """What would become of spectra; a paint that is not on the shelf yet is new there, of that kind."""
    by_name = {one.name.casefold(): one for one in samples}
    bare = (by_name.get("bare white"), by_name.get("bare black"))
    records = {one.full_name.casefold(): one for one in paints.every_record(connection) if not one.retired}
    owns: list[Own] = []
    fates: list[RowOutcome] = []
    for row, one in enumerate(samples, start=1):
        called, _, field = one.name.rpartition(", over ") if ", over " in one.name.casefold() else (one.name, "", "")
        paint = called.casefold()
        black = by_name.get(f"{paint}, over black")
        paired = None not in bare and f"{paint}, over white" in by_name and black is not None
        found, fate = _one(records.get(paint), one, (called, field.casefold()), black if paired else None, kind=kind)
        if found is not None and found.name.casefold() in [other.name.casefold() for other in owns]:
            found, fate = None, say("left out: it has the name of another")
        owns += [found] if found is not None else []
        fates.append(RowOutcome(row, one.name, fate, listed(one.notes, "; ")))
    notes = [say("no profile comes of it")] if not owns else []
    if any(one.black is not None for one in owns):
        notes.append(say("taken for {card} of wet film under clear", card=quantity(CARD_UM, ".0f", "µm")))
    if any(not one.paint_id for one in owns):
        notes.append(say("what is new is taken for {words} paints in bottles of 30 ml", words=KINDS[kind].words))
    notes += sorted({note for one in samples for note in one.notes})
    whole = (bare[0], bare[1]) if bare[0] is not None and bare[1] is not None else None
    return SpectraPlan(owns, kind, whole, fates, notes)


def _one(
    record: PaintRecord | None, one: Sample, named: tuple[str, str], black: Sample | None, *, kind: str
) -> tuple[Own | None, str]:
    """What becomes of a spectrum, in words too. `black` is there when the paint has both, and both bare are there."""
    called, field = named
    if one.name.casefold() in ("bare white", "bare black"):
        return None, say("the bare card")
    if record is not None and not can_be_carded(record.kind):
        return None, say("left out: a drawdown card cannot describe its kind")
    if field:
        if black is None:
            return None, say("left out: it needs the paint over white and over black, and both bare")
        if record is None and not can_be_carded(kind):
            return None, say("left out: a drawdown card cannot describe {words} paints", words=KINDS[kind].words)
        fate = (
            say("new profile of {full_name}", full_name=record.full_name)
            if record is not None
            else say("new paint, {words}", words=KINDS[kind].words)
        )
        return (Own(record.id if record else "", called, one, black) if field == "white" else None), fate
    if record is not None:
        return None, say("left out: it needs the paint over white and over black, and both bare")
    return Own("", called, one, None), say(
        "new paint, {words}, a guess from the colour of its spectrum", words=KINDS[kind].words
    )
