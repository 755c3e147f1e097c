"""Paints and their profiles. A profile is never overwritten; the highest version counts."""

import json
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass, fields
from typing import Annotated

import numpy as np
from pydantic import Field, TypeAdapter

from diachrom.core.film.flakes import Flake
from diachrom.core.film.kinds import KINDS, ODD_KIND
from diachrom.core.film.paint import LIGHT, Fluorescence, Glow, Paint, checked, of_before, unknown_paint
from diachrom.core.mix import sound
from diachrom.errors import PaintNotFound
from diachrom.store import kept
from diachrom.store.memory import cached, cached_many
from diachrom.store.said import keep_said, read_said
from diachrom.words import say

FARTHEST, DEAREST = 1000.0, 1e9  # what a Lab and a price stay within
WAVELENGTHS = TypeAdapter(list[Annotated[kept.Number, Field(gt=0, le=2000)]])  # nm
MADE_HERE = "Own mix"  # the line of what was mixed at this bench and kept


@dataclass(frozen=True)
class PaintRecord:
    """A paint as it is written on the shelf, beside its profile."""

    id: str
    line: str
    name: str
    kind: str
    pigments: str = ""
    note: str = ""
    discontinued: bool = False
    nozzle_mm: float | None = None
    pressure_bar: float | None = None
    needs_under: str = ""
    needs_in: str = ""
    needs_over: str = ""
    thinner: str = ""
    price: float | None = None  # of a bottle, in the painter's own money
    density: float | None = None  # g/ml
    retired: bool = False
    merged_into: str | None = None
    recipe: int | None = None  # what an own mix was made from
    version: int | None = None

    @property
    def full_name(self) -> str:
        """Line and name."""
        return f"{self.line} {self.name}".strip()


_COLUMNS = [field.name for field in fields(PaintRecord)]
_PAINTS = f"SELECT {', '.join(_COLUMNS)} FROM paint "


def _record(row: sqlite3.Row) -> PaintRecord:
    kept = {
        "kind": row["kind"] if row["kind"] in KINDS else ODD_KIND,
        "price": sound.number(row["price"], 0, DEAREST),
        "discontinued": bool(row["discontinued"]),
        "retired": bool(row["retired"]),
    }
    return PaintRecord(**{**dict(row), **kept})


def record(connection: sqlite3.Connection, paint_id: str) -> PaintRecord:
    """Raises PaintNotFound."""
    return records(connection, [paint_id])[paint_id]


def records(connection: sqlite3.Connection, paint_ids: Sequence[str]) -> dict[str, PaintRecord]:
    """Of several paints. Raises PaintNotFound."""
    paints = cached_many(connection, "paint records", paint_ids, lambda missing: _records(connection, missing))
    for paint_id in paint_ids:
        if paint_id not in paints:
            raise PaintNotFound(paint_id)
    return paints


def _records(connection: sqlite3.Connection, paint_ids: list[str]) -> dict[str, PaintRecord]:
    rows = connection.execute(
        _PAINTS + "WHERE id IN (SELECT value FROM json_each(:ids))", {"ids": json.dumps(paint_ids)}
    )
    return {row["id"]: _record(row) for row in rows}


@cached
def every_record(connection: sqlite3.Connection) -> list[PaintRecord]:
    """Every paint, retired ones too."""
    return [_record(row) for row in connection.execute(_PAINTS + "ORDER BY rowid")]


def named(connection: sqlite3.Connection, *, line: str, name: str) -> PaintRecord | None:
    """The paint of this name, whether the letters are large or small."""
    row = connection.execute(
        _PAINTS + "WHERE line = :line COLLATE NOCASE AND name = :name COLLATE NOCASE", {"line": line, "name": name}
    ).fetchone()
    return None if row is None else _record(row)


def made_of(connection: sqlite3.Connection, recipe: int, version: int) -> PaintRecord | None:
    """The paint that a version of a recipe is as a jar, whatever it is called; one on the shelf first."""
    row = connection.execute(
        _PAINTS
        + "WHERE recipe = :recipe AND version = :version AND merged_into IS NULL ORDER BY retired, rowid LIMIT 1",
        {"recipe": recipe, "version": version},
    ).fetchone()
    return None if row is None else _record(row)


def free_name(connection: sqlite3.Connection, *, line: str, name: str, beside: str = "") -> str:
    """The name, told apart from others of its line: by what stands beside it, then by a number."""
    tried = iter(
        (name, *((f"{name[:50]} {beside}",) if beside else ()), *(f"{name[:60]} ({n})" for n in range(2, 1000)))
    )
    return next(one for one in tried if named(connection, line=line, name=one) is None)


def add(connection: sqlite3.Connection, paint: PaintRecord) -> None:
    """Add a paint. Inside `writing`."""
    values = {**vars(paint), "discontinued": int(paint.discontinued), "retired": int(paint.retired)}
    connection.execute(
        f"INSERT INTO paint ({', '.join(_COLUMNS)}) VALUES ({', '.join(':' + name for name in _COLUMNS)})", values
    )


def change(connection: sqlite3.Connection, paint_id: str, **values: object) -> None:
    """Set columns of a paint."""
    names = [name for name in _COLUMNS if name in values and name != "id"]
    if names:
        put = ", ".join(f"{name} = :{name}" for name in names)
        connection.execute(f"UPDATE paint SET {put} WHERE id = :paint", {**values, "paint": paint_id})


def has_id(connection: sqlite3.Connection, paint_id: str) -> bool:
    """Whether there is a paint of this id."""
    return connection.execute("SELECT 1 FROM paint WHERE id = :id", {"id": paint_id}).fetchone() is not None


_PROFILES = """
    SELECT paint.id, trim(paint.line || ' ' || paint.name) AS name, paint.kind,
           absorption, scattering, uncertainty, optics
    FROM paint JOIN paint_profile ON paint_profile.paint_id = paint.id
    WHERE paint_profile.version = (SELECT max(p.version) FROM paint_profile AS p WHERE p.paint_id = paint.id)
"""


def _profile(row: sqlite3.Row) -> Paint:
    """As it is kept; one that cannot be read counts as clear, and says so."""
    kind = row["kind"] if row["kind"] in KINDS else ODD_KIND
    found = sound.parse_or_default(_read, row, None)
    try:
        if kind != row["kind"]:
            raise ValueError(say("there is no kind '{row}'", row=row["kind"][:20]))
        if found is None:
            raise ValueError(say("it cannot be read"))
        return checked(found)
    except (ValueError, TypeError) as error:
        why = str(error) if isinstance(error, ValueError) else "it holds something that is not a number"
        problem = f"its profile cannot be used, {why[:80]}: it counts as clear until it is measured or guessed again"
        return unknown_paint(row["name"], kind, problem)


def _read(row: sqlite3.Row) -> Paint:
    """Raises one of UNREADABLE."""
    absorption, scattering = (np.array(json.loads(row[key]), dtype=np.float64) for key in ("absorption", "scattering"))
    optics = json.loads(row["optics"])
    found = Paint(
        name=row["name"],
        kind=row["kind"],
        absorption=absorption,
        scattering=scattering,
        uncertainty=row["uncertainty"],
        flake=Flake(**optics["flake"]) if "flake" in optics else None,
        fluorescence=Fluorescence(**optics["fluorescence"]) if "fluorescence" in optics else None,
        glow=Glow(**optics["glow"]) if "glow" in optics else None,
        bleeds=optics.get("bleeds", 0.0),
        anisotropy=optics.get("anisotropy"),
        even=optics.get("even") is True,
    )
    return found if optics.get("light") == LIGHT else of_before(found)


def profile(connection: sqlite3.Connection, paint_id: str) -> Paint:
    """The newest profile of a paint. Raises PaintNotFound."""
    return profiles(connection, [paint_id])[paint_id]


def profiles(connection: sqlite3.Connection, paint_ids: Iterable[str]) -> dict[str, Paint]:
    """The newest profiles of these paints. Raises PaintNotFound."""
    return cached_many(connection, "profiles", paint_ids, lambda missing: _newest_profiles(connection, missing))


def _newest_profiles(connection: sqlite3.Connection, paint_ids: list[str]) -> dict[str, Paint]:
    rows = connection.execute(
        _PROFILES + "AND paint.id IN (SELECT value FROM json_each(:ids))", {"ids": json.dumps(paint_ids)}
    )
    paints = {row["id"]: _profile(row) for row in rows}
    return paints | {
        paint_id: _missing(record(connection, paint_id)) for paint_id in paint_ids if paint_id not in paints
    }


def _missing(own: PaintRecord) -> Paint:
    return unknown_paint(own.full_name, own.kind, "it has no profile: it counts as clear until one is made")


def all_profiles(connection: sqlite3.Connection) -> dict[str, Paint]:
    """The newest profile of every paint, by the paint's id."""
    paints = {row["id"]: _profile(row) for row in connection.execute(_PROFILES)}
    return paints | {own.id: _missing(own) for own in every_record(connection) if own.id not in paints}


@dataclass(frozen=True, eq=False)
class ProfileVersion:
    """One version of a paint's profile: what it says, where it came from, where it is doubtful."""

    version: int
    at: str
    source: str
    paint: Paint
    uncertain_nm: tuple[float, ...]


def profile_versions(connection: sqlite3.Connection, paint_id: str) -> list[ProfileVersion]:
    """Every profile that a paint ever had, newest first; one in its place where it has none. Raises PaintNotFound."""
    return versions_of(connection, [paint_id])[paint_id]


def versions_of(connection: sqlite3.Connection, paint_ids: Iterable[str]) -> dict[str, list[ProfileVersion]]:
    """The same of several paints. Raises PaintNotFound."""
    wanted = list(paint_ids)
    rows = connection.execute(
        "SELECT paint.id, trim(paint.line || ' ' || paint.name) AS name, paint.kind, absorption, scattering,"
        " uncertainty, optics, paint_profile.version, at, source, uncertain_nm"
        " FROM paint JOIN paint_profile ON paint_profile.paint_id = paint.id"
        " WHERE paint.id IN (SELECT value FROM json_each(:ids)) ORDER BY paint_profile.version DESC",
        {"ids": json.dumps(wanted)},
    )
    found: dict[str, list[ProfileVersion]] = {one: [] for one in wanted}
    for row in rows:
        given = kept.read(WAVELENGTHS, row["uncertain_nm"], [])
        version = ProfileVersion(row["version"], row["at"], read_said(row["source"]), _profile(row), tuple(given))
        found[row["id"]].append(version)
    for key in (key for key, versions in found.items() if not versions):
        found[key] = [ProfileVersion(0, "", "none was kept", _missing(record(connection, key)), ())]
    return found


@dataclass(frozen=True)
class Newest:
    """What a search wants to know of a paint's newest profile."""

    uncertainty: float
    lab: tuple[float, float, float] | None  # None where it was not computed yet


def newest(connection: sqlite3.Connection) -> dict[str, Newest]:
    """Of every paint, by its id."""
    rows = connection.execute(
        """
        SELECT newest.paint_id, newest.uncertainty, l, a, b
        FROM paint_profile AS newest LEFT JOIN paint_colour USING (paint_id, version)
        WHERE newest.version = (SELECT max(version) FROM paint_profile WHERE paint_id = newest.paint_id)
        """
    )
    return {key: Newest(uncertainty, sound.triple(lab, FARTHEST)) for key, uncertainty, *lab in rows}


def keep_colour(connection: sqlite3.Connection, paint_id: str, lab: tuple[float, float, float]) -> None:
    """Remember the colour of a paint's newest profile."""
    connection.execute(
        "INSERT OR REPLACE INTO paint_colour (paint_id, version, l, a, b)"
        " SELECT :id, max(version), :l, :a, :b FROM paint_profile WHERE paint_id = :id",
        {"id": paint_id, "l": lab[0], "a": lab[1], "b": lab[2]},
    )


def add_profile(
    connection: sqlite3.Connection,
    paint: Paint,
    *,
    paint_id: str,
    source: str,
    at: str,
    uncertain_nm: Sequence[float] = (),
) -> int:
    """Append a profile as the paint's next version; returns the version."""
    # What a paint has beside its coefficients, as JSON.
    parts = {"flake": paint.flake, "fluorescence": paint.fluorescence, "glow": paint.glow}
    optics: dict[str, object] = {key: asdict(part) for key, part in parts.items() if part is not None}
    if optics.keys() & {"fluorescence", "glow"}:
        optics["light"] = LIGHT
    if paint.anisotropy is not None:
        optics["anisotropy"] = paint.anisotropy
    if paint.even:
        optics["even"] = True
    if paint.bleeds:
        optics["bleeds"] = paint.bleeds
    row = connection.execute(
        "INSERT INTO paint_profile (paint_id, version, absorption, scattering, uncertainty, optics, source, at,"
        " uncertain_nm) SELECT :id, coalesce(max(version), 0) + 1, :absorption, :scattering, :uncertainty, :optics,"
        " :source, :at, :uncertain_nm"
        " FROM paint_profile WHERE paint_id = :id RETURNING version",
        {
            "id": paint_id,
            "absorption": json.dumps(paint.absorption.tolist()),
            "scattering": json.dumps(paint.scattering.tolist()),
            "uncertainty": paint.uncertainty,
            "optics": json.dumps(optics),
            "source": keep_said(source),
            "at": at,
            "uncertain_nm": json.dumps(list(uncertain_nm)),
        },
    ).fetchone()
    return int(row["version"])
