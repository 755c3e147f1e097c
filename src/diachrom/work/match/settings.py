"""How a target is matched, and what was kept of that."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from diachrom.core.film.surface import Surfaced
from diachrom.core.match.pourable import CLOSENESS, Wish
from diachrom.core.match.search import MOST_DROPS, MOST_PAINTS
from diachrom.core.mix import sound
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.errors import InvalidInput

MOST_DILUTION = 0.9


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
    special: bool = False  # primers, flakes and light of their own are taken like any paint

    @property
    def wish(self) -> Wish:
        """What is wished of a mix."""
        return Wish(CLOSENESS[self.closeness], self.special)

    def checked(self) -> "Settings":
        """Raises InvalidInput, naming the field."""
        if not sound.THINNEST_UM <= self.film_um <= THICKEST_COAT_UM:
            raise InvalidInput(
                f"A coat is {sound.THINNEST_UM:g} to {THICKEST_COAT_UM:.0f} µm, not {self.film_um:g}.", field="film_um"
            )
        for key, words, most in (
            ("coats", "Coats", MOST_COATS),
            ("max_paints", "Bottles", MOST_PAINTS),
            ("max_drops", "Drops", MOST_DROPS),
        ):
            if not 1 <= getattr(self, key) <= most:
                raise InvalidInput(f"{words}: 1 to {most}, not {getattr(self, key)}.", field=key)
        if self.closeness not in CLOSENESS:
            raise InvalidInput(f"How close: {', '.join(CLOSENESS)}; not {self.closeness[:40]!r}.", field="closeness")
        if not 0 <= self.dilution <= MOST_DILUTION:
            raise InvalidInput(f"Thinned by 0 to 90 %, not {100 * self.dilution:g} %.", field="dilution")
        if len(self.kept_in) > self.max_paints:
            held = f"{len(self.kept_in)} bottles are in every mix"
            raise InvalidInput(f"{held}, but a mix may hold {self.max_paints}.", field="max_paints")
        return self


def settings_of(values: Mapping[str, object], *, there: Callable[[Sequence[int]], set[int]]) -> Settings:
    """What was kept of them, as far as it can be meant."""
    usual = Settings()
    closeness = values.get("closeness")
    ground, dilution = values.get("ground"), sound.number(values.get("dilution"), 0, MOST_DILUTION)

    def bottles_of(key: str) -> tuple[int, ...]:
        given = values.get(key)
        numbers = [sound.whole(one, 0, sound.LARGEST_NUMBER) for one in given] if isinstance(given, list) else []
        known = there([number for number in numbers if number is not None])
        return tuple(one for one in numbers if one in known and one is not None)

    settings = Settings(
        ground=ground if isinstance(ground, str) and sound.is_ground(ground) else usual.ground,
        film_um=sound.number(values.get("film_um"), sound.THINNEST_UM, THICKEST_COAT_UM) or usual.film_um,
        coats=sound.whole(values.get("coats"), 1, MOST_COATS) or usual.coats,
        clear_coat=bool(values.get("clear_coat", usual.clear_coat)),
        satin=bool(values.get("satin", usual.satin)),
        max_paints=sound.whole(values.get("max_paints"), 1, MOST_PAINTS) or usual.max_paints,
        max_drops=sound.whole(values.get("max_drops"), 1, MOST_DROPS) or usual.max_drops,
        dilution=usual.dilution if dilution is None else dilution,
        left_out=bottles_of("left_out"),
        kept_in=bottles_of("kept_in"),
        open_first=bool(values.get("open_first", usual.open_first)),
        closeness=closeness if isinstance(closeness, str) and closeness in CLOSENESS else usual.closeness,
        special=bool(values.get("special", usual.special)),
    )
    return replace(settings, kept_in=settings.kept_in[: settings.max_paints])
