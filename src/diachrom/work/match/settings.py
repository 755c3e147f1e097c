"""How a target is matched, and what was kept of that."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from pydantic import BaseModel, Field, TypeAdapter

from diachrom.core.film.surface import Surfaced
from diachrom.core.match.pourable import CLOSENESS, Wish
from diachrom.core.match.search import MOST_DROPS, MOST_PAINTS
from diachrom.core.mix import sound
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.errors import InvalidInput
from diachrom.store import kept
from diachrom.words import listed, quantity, quantity_range, say

MOST_DILUTION = 0.9
LEAST_ML, MOST_ML = 0.05, 1000.0


@dataclass(frozen=True)
class Settings(Surfaced):
    """How a target is matched."""

    ground: str = "white"
    film_um: float = 8.0
    coats: int = 2
    clear_coat: bool = True
    satin: bool = False  # where it is not cleared
    max_paints: int = 4
    max_drops: int = 24
    dilution: float = 0.3
    left_out: tuple[int, ...] = ()  # bottles
    kept_in: tuple[int, ...] = ()  # bottles that every mix holds
    open_first: bool = False
    closeness: str = "side-by-side"
    needed_ml: float = 0.6  # that will be sprayed
    special: bool = False  # primers, flakes and light of their own are taken like any paint

    @property
    def wish(self) -> Wish:
        """What is wished of a mix."""
        return Wish(CLOSENESS[self.closeness], self.special)

    def checked(self) -> "Settings":
        """Raises InvalidInput, naming the field."""
        if not sound.THINNEST_UM <= self.film_um <= THICKEST_COAT_UM:
            raise InvalidInput(
                say(
                    "A coat is {range}, not {film}.",
                    range=quantity_range(sound.THINNEST_UM, THICKEST_COAT_UM, "g", "µm"),
                    film=quantity(self.film_um, "g"),
                ),
                field="film_um",
            )
        for key, words, most in (
            ("coats", say("Coats"), MOST_COATS),
            ("max_paints", say("Bottles"), MOST_PAINTS),
            ("max_drops", say("Drops"), MOST_DROPS),
        ):
            if not 1 <= getattr(self, key) <= most:
                raise InvalidInput(
                    say("{words}: 1 to {most}, not {value}.", words=words, most=most, value=getattr(self, key)),
                    field=key,
                )
        if self.closeness not in CLOSENESS:
            raise InvalidInput(
                say("How close: {closeness}; not '{given}'.", closeness=listed(CLOSENESS), given=self.closeness[:40]),
                field="closeness",
            )
        if not 0 <= self.dilution <= MOST_DILUTION:
            raise InvalidInput(
                say("Thinned by 0 to 90 %, not {dilution} %.", dilution=quantity(100 * self.dilution, "g")),
                field="dilution",
            )
        if not LEAST_ML <= self.needed_ml <= MOST_ML:
            raise InvalidInput(
                say(
                    "For {range}, not {ml}.",
                    range=quantity_range(LEAST_ML, MOST_ML, "g", "ml"),
                    ml=quantity(self.needed_ml, "g"),
                ),
                field="needed_ml",
            )
        if len(self.kept_in) > self.max_paints:
            held = say("{count} bottles are in every mix", count=len(self.kept_in))
            raise InvalidInput(
                say("{held}, but a mix may hold {max_paints}.", held=held, max_paints=self.max_paints),
                field="max_paints",
            )
        return self


USUAL = Settings()


class KeptSettings(BaseModel):
    """What is kept of settings, each within its bounds."""

    ground: str = USUAL.ground
    film_um: kept.Number = Field(USUAL.film_um, ge=sound.THINNEST_UM, le=THICKEST_COAT_UM)
    coats: kept.Whole = Field(USUAL.coats, ge=1, le=MOST_COATS)
    clear_coat: bool = USUAL.clear_coat
    satin: bool = USUAL.satin
    max_paints: kept.Whole = Field(USUAL.max_paints, ge=1, le=MOST_PAINTS)
    max_drops: kept.Whole = Field(USUAL.max_drops, ge=1, le=MOST_DROPS)
    dilution: kept.Number = Field(USUAL.dilution, ge=0, le=MOST_DILUTION)
    left_out: tuple[kept.RowNumber, ...] = ()
    kept_in: tuple[kept.RowNumber, ...] = ()
    open_first: bool = USUAL.open_first
    closeness: str = USUAL.closeness
    needed_ml: kept.Number = Field(USUAL.needed_ml, ge=LEAST_ML, le=MOST_ML)
    special: bool = USUAL.special


KEPT = TypeAdapter(KeptSettings)


def settings_of(values: Mapping[str, object], *, there: Callable[[Sequence[int]], set[int]]) -> Settings:
    """What was kept of them, as far as it can be meant."""
    held, _ = kept.pruned(KEPT, dict(values), KeptSettings())
    settings = Settings(**vars(held))
    known = there((*settings.left_out, *settings.kept_in))
    left_out, kept_in = (tuple(one for one in given if one in known) for given in (settings.left_out, settings.kept_in))
    return replace(
        settings,
        ground=settings.ground if sound.is_ground(settings.ground) else USUAL.ground,
        closeness=settings.closeness if settings.closeness in CLOSENESS else USUAL.closeness,
        left_out=left_out,
        kept_in=kept_in[: settings.max_paints],
    )
