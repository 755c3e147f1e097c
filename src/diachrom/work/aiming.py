"""The target on the bench: where it comes from, how it is matched, what comes nearest, what the next drop would do."""

import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace

import numpy as np

from diachrom.core.light.bands import BANDS, Floats
from diachrom.core.light.lab import lab, lch
from diachrom.core.light.lights import light
from diachrom.core.light.screen import shown
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.core.mixing.cup import Cup
from diachrom.core.mixing.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.core.mixing.matching import MOST_DROPS, MOST_PAINTS
from diachrom.core.mixing.prediction import Colour
from diachrom.errors import InvalidInput
from diachrom.exchange.photos import Spot
from diachrom.exchange.spectra import Sample
from diachrom.instruments import truth
from diachrom.store import bottles, paints, recipes, targets
from diachrom.store.connection import writing
from diachrom.store.targets import Target
from diachrom.work import picking
from diachrom.work.carding import typed_colour
from diachrom.work.contents import contents, cup_of
from diachrom.work.cup import columns_of, strip_of
from diachrom.work.devices import Devices
from diachrom.work.looks import look
from diachrom.work.over import called, over

TARGETS_SHOWN = 24
D65 = light("D65")


@dataclass(frozen=True)
class Settings:
    """How a target is matched."""

    ground: str = "white"
    film_um: float = 8.0
    coats: int = 2
    clear_coat: bool = True
    max_paints: int = 4
    max_drops: int = 24
    dilution: float = 0.3
    left_out: tuple[int, ...] = ()  # bottles

    def checked(self) -> "Settings":
        """Raises InvalidInput, naming the field."""
        if not 0 < self.film_um <= THICKEST_COAT_UM:
            raise InvalidInput(f"A coat is 0 to {THICKEST_COAT_UM:.0f} µm, not {self.film_um:g}.", field="film_um")
        for key, words, most in (
            ("coats", "Coats", MOST_COATS),
            ("max_paints", "Bottles", MOST_PAINTS),
            ("max_drops", "Drops", MOST_DROPS),
        ):
            if not 1 <= getattr(self, key) <= most:
                raise InvalidInput(f"{words}: 1 to {most}, not {getattr(self, key)}.", field=key)
        if not 0 <= self.dilution <= 0.9:
            raise InvalidInput(f"Thinned by 0 to 90 %, not {100 * self.dilution:g} %.", field="dilution")
        return self


def aim(connection: sqlite3.Connection) -> tuple[Target | None, Settings]:
    """The target on the bench, and how it is matched."""
    found, values = targets.aim(connection)
    known = {key: value for key, value in values.items() if key in Settings.__dataclass_fields__}
    settings = Settings(**known)  # type: ignore[arg-type]
    return found, replace(settings, left_out=tuple(settings.left_out))


def set_up(connection: sqlite3.Connection, settings: Settings) -> None:
    """Say how it is matched. Raises InvalidInput, UnknownGround, RecipeNotFound."""
    settings.checked()
    over(connection, settings.ground)
    with writing(connection):
        targets.set_up(connection, asdict(settings))


def leave_out(connection: sqlite3.Connection, bottle: int) -> None:
    """Match without this bottle, or with it again. Raises BottleNotFound."""
    own = bottles.one(connection, bottle).id
    with writing(connection):
        _, settings = aim(connection)
        out = [one for one in settings.left_out if one != own]
        if len(out) == len(settings.left_out):
            out.append(own)
        targets.set_up(connection, asdict(replace(settings, left_out=tuple(out))))


def _add(
    connection: sqlite3.Connection, name: str, source: str, point: Floats, spectrum: Floats | None, *, at: str
) -> int:
    if not np.isfinite(point).all():
        raise InvalidInput("That is no colour.", field="target")
    values = None if spectrum is None else spectrum.tolist()
    with writing(connection):
        number = targets.add(connection, name=name[:80], source=source, lab=point.tolist(), reflectance=values, at=at)
        targets.aim_at(connection, number)
    return number


def typed(connection: sqlite3.Connection, text: str, name: str, *, at: str) -> int:
    """A target as typed: "#rrggbb", or L a b. Raises InvalidInput."""
    point, form = typed_colour(text)
    return _add(connection, name.strip() or text.strip(), f"typed as {form}", point, None, at=at)


def from_sample(connection: sqlite3.Connection, sample: Sample, name: str, *, at: str) -> int:
    """A target out of a spectral file."""
    values = sample.reflectance
    return _add(connection, name.strip() or sample.name, "a spectral file", lab(values, under=D65), values, at=at)


def from_photo(connection: sqlite3.Connection, spot: Spot, name: str, photo: str, *, at: str) -> int:
    """A spot of a photo; several make a palette."""
    return _add(connection, name.strip() or photo, f"the photo {photo}{picking.caution(spot)}", spot.lab, None, at=at)


def read_bait(connection: sqlite3.Connection, devices: Devices, key: str, number: int, *, at: str) -> int:
    """A bait that was painted by a recipe, under the colour reader: what really lies there, read as a device reads.

    Raises RecipeNotFound, InstrumentError; nothing is kept of a reading that failed.
    """
    saved = recipes.version(connection, number)
    draft = saved.draft
    held = contents(connection, draft)
    pours = [
        replace(pour, paint=truth.of_paint(held.shelf[part.bottle].bottle.paint_id, pour.paint))
        for part, pour in zip(draft.parts, cup_of(held).pours, strict=True)
    ]
    column = strip_of(Cup(pours), draft, [over(connection, draft.ground)]).columns[0]
    true = column.after(draft.coats).diffuse.radiance_factor
    with devices.reader(key) as reader:
        reader.device.under = np.clip(true, 0, 1)
        values = reader.client.read()
        words = reader.words
    return _add(
        connection, f"Bait of {called(saved)}", f"read by {words.lower()}", lab(values, under=D65), values, at=at
    )


def from_recipe(connection: sqlite3.Connection, number: int, *, at: str) -> int:
    """A recipe as it is sprayed. Raises RecipeNotFound."""
    saved = recipes.version(connection, number)
    draft = saved.draft
    strip = strip_of(cup_of(contents(connection, draft)), draft, columns_of(connection, draft))
    column = strip.column(draft.ground)
    colour = column.after(draft.coats).diffuse
    where = "under clear" if draft.clear_coat else "matte"
    source = f"recipe {number}, version {saved.version}, on {column.over.words}, {where}"
    return _add(connection, called(saved), source, colour.lab, np.clip(colour.radiance_factor, 0, 1), at=at)


def from_paint(connection: sqlite3.Connection, paint_id: str, *, at: str) -> int:
    """A paint by itself, as its bead shows it. Raises PaintNotFound, InvalidInput."""
    record, bead = paints.record(connection, paint_id), look(paints.profile(connection, paint_id)).bead
    if bead is None:
        raise InvalidInput(f"{record.full_name} has no colour.", field="paint")
    source = "the paint, three light coats on white"
    return _add(connection, record.full_name, source, bead.lab, np.clip(bead.radiance_factor, 0, 1), at=at)


def choose(connection: sqlite3.Connection, number: int) -> None:
    """Put a target on the bench. Raises NotFound."""
    with writing(connection):
        targets.aim_at(connection, targets.one(connection, number).id)


def take_away(connection: sqlite3.Connection, number: int) -> None:
    with writing(connection):
        targets.take_away(connection, number)


def spectrum_of(target: Target) -> Floats:
    """(band,), smooth where only a colour is known."""
    if target.reflectance is not None:
        return np.array(target.reflectance)
    return smooth_reflectance(np.array(target.lab), under=D65)


def point(target: Target) -> Floats:
    """(3,)"""
    return np.array(target.lab)


def colour_of(values: Sequence[float]) -> Colour:
    """A Lab as a colour that a page can show."""
    own = np.array(values, dtype=np.float64)
    lightness, chroma, hue = lch(own).tolist()
    return Colour(np.zeros(BANDS), own, (lightness, chroma, hue), shown(own)[0])
