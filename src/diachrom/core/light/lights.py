"""The CIE 1931 2-degree observer and the lights a bait is looked at in; spectra to tristimulus values.

A light is named by its key: one of the table, or `green-lake@8` (daylight 8 m down), or `dark@5` (5 minutes after the
light went out).
"""

from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.tables import table
from diachrom.core.light.water import DEEPEST_M, WATERS, Water
from diachrom.errors import InvalidInput, UnknownLight
from diachrom.words import quantity, say, say_count

LONGEST_DARK_MIN = 60.0
NO_POWER = 1e-6  # of the strongest band
# The cones' coordinates of CAT16 [li2017].
CONES = np.array([[0.401288, 0.650173, -0.051461], [-0.250268, 1.204414, 0.045854], [-0.002079, 0.048952, 0.953127]])
ADAPTED = 0.5  # of the way from daylight to the light under water
DIMMING = 0.15  # power of the light with which brightness falls: a thousandth of it leaves a third
SEEN_FROM_M = 0.5  # from bait to eye, through the water


@dataclass(frozen=True, eq=False)
class Light:
    """A light: its key, its words, and the weights that turn radiance factors into tristimulus values."""

    key: str
    words: str
    power: Floats  # (band,) relative: the radiance of the perfect diffuser
    observer: Floats  # (band, 3) from radiance, in units of `power`, to tristimulus values
    white: Floats  # (3,) what the eye takes for white
    water: Water | None = None
    veil: Floats | None = None  # (3,) tristimulus values of what the water between bait and eye adds
    dark_minutes: float | None = None  # since the light went out

    @property
    def weights(self) -> Floats:
        """(band, 3) from radiance factors to tristimulus values."""
        return self.power[:, None] * self.observer

    def factor(self, radiance: Floats) -> Floats:
        """Radiance factors (..., band) of radiances; 0 in bands in which the light has no power to speak of."""
        lit = self.power > NO_POWER * self.power.max()
        return np.divide(radiance, self.power, out=np.zeros_like(radiance), where=lit)


WORDS = {
    "D65": say("daylight"),
    "D50": say("warm daylight"),
    "A": say("light bulb"),
    "led-warm": say("warm LED"),
    "led-cool": say("cool LED"),
    "overcast": say("overcast sky"),
    "black-light": say("black light"),
}


@cache
def _observer() -> Floats:
    matching = table("observer.csv")
    return np.stack([matching["x"], matching["y"], matching["z"]], axis=-1)  # (band, 3)


def _adapted(key: str, words: str, power: Floats, water: Water | None = None) -> Light:
    """A light that the eye adapts to: its own white is white."""
    observer = _observer() / (power @ _observer()[:, 1])
    return Light(key=key, words=words, power=power, observer=observer, white=power @ observer, water=water)


@cache
def all_lights() -> dict[str, Light]:
    """The lights of the table; those under water and in the dark are made as they are asked for."""
    lights = {key: _adapted(key, WORDS[key], power) for key, power in table("lights.csv").items()}
    # A lamp near 385 nm. The eye does not adapt to it: what all of it made into green light would be is white.
    power = np.exp(-(((WAVELENGTHS_NM - 385) / 8) ** 2) / 2) + 1e-6
    scale = 1 / (power.sum() * 385 / 555)
    black_light = Light("black-light", WORDS["black-light"], power, scale * _observer(), _daylight().white)
    return lights | {"black-light": black_light}


def _under_water(key: str, water: Water, metres: float) -> Light:
    """Daylight at a depth, as an eye sees by it that has come half of the way from daylight.

    In the cones' own coordinates [li2017] the eye takes for white what lies between daylight's and that of the depth;
    brightness follows the light as a low power of it. On the way to the eye the water takes its share and adds its own.
    """
    day = _daylight()
    power = day.power * np.exp(-water.attenuation * metres)
    left = max(float(power @ _observer()[:, 1]), 1e-300)
    luminance = left / float(day.power @ _observer()[:, 1])
    observer = _observer() / left
    own, whole = CONES @ (power @ observer), CONES @ day.white
    adapted = own**ADAPTED * whole ** (1 - ADAPTED) if luminance > 1e-290 else whole
    matched = np.linalg.inv(CONES) @ np.diag(whole / adapted) @ CONES  # what an adapted eye makes of it
    seen = observer @ matched.T * luminance**DIMMING
    through = np.exp(-water.attenuation * SEEN_FROM_M)
    veil = (power * (1 - through) * water.own_reflectance) @ seen
    return Light(
        key=key,
        words=say("{metres} down in {words}", metres=quantity(metres, "g", "m"), words=water.words),
        power=power,
        observer=through[:, None] * seen,
        white=day.white,
        water=water,
        veil=veil,
    )


def _daylight() -> Light:
    return _adapted("D65", WORDS["D65"], table("lights.csv")["D65"])


@lru_cache(maxsize=256)
def light(key: str) -> Light:
    """The light called `key`. Raises UnknownLight, and InvalidInput for a depth or a time out of range."""
    found = all_lights().get(key)
    if found is not None:
        return found
    name, _, amount_text = key.partition("@")
    if name not in WATERS and name != "dark":
        raise UnknownLight(key, [*all_lights(), *(f"{water}@metres" for water in WATERS), "dark@minutes"])
    most = LONGEST_DARK_MIN if name == "dark" else DEEPEST_M
    try:
        amount = float(amount_text)
    except ValueError:
        amount = -1.0
    if not 0 <= amount <= most:
        unit = "minutes" if name == "dark" else "metres"
        raise InvalidInput(
            say(
                "The light '{key}' must name 0 to {most} {unit}, as in '{name}@5'.",
                key=key,
                most=quantity(most, "g"),
                unit=unit,
                name=name,
            ),
            field="light",
        )
    if name == "dark":
        day = _daylight()
        flat = np.ones(BANDS)
        words = (
            say_count(
                amount, "lights off, {amount} minute", "lights off, {amount} minutes", amount=quantity(amount, "g")
            )
            if amount
            else say("lights just off")
        )
        return Light(key, words, flat, _observer() / _observer()[:, 1].sum(), day.white, dark_minutes=amount)
    return _under_water(key, WATERS[name], amount)


def xyz(radiance_factor: Floats, *, under: Light) -> Floats:
    """Tristimulus values of radiance factors, Y = 1 for the light's white: (..., band) -> (..., 3) [cie15]."""
    return veiled(radiance_factor @ under.weights, under=under)


def xyz_of_radiance(radiance: Floats, *, under: Light) -> Floats:
    """Tristimulus values of radiances, in the units of the light's power: (..., band) -> (..., 3)."""
    return veiled(radiance @ under.observer, under=under)


def veiled(values: Floats, *, under: Light) -> Floats:
    """(..., 3) with what lies in the way to the eye."""
    return values if under.veil is None else values + under.veil


def against_water(radiance_factor: Floats, *, under: Light) -> float | None:
    """Contrast of a colour against the open water behind it, (Y - Yw) / Yw; None out of the water."""
    if under.water is None:
        return None
    behind = float(xyz(under.water.own_reflectance, under=under)[1])
    return (float(xyz(radiance_factor, under=under)[1]) - behind) / behind
