"""The cup under way, as a value: every change makes the next one. Bottles are numbers here."""

from dataclasses import dataclass, replace

from diachrom.core.film.grounds import ground
from diachrom.core.film.surface import Surfaced
from diachrom.core.light.lights import light
from diachrom.core.mix.advice import NOZZLES_MM
from diachrom.core.mix.cup import drop_volume, whole_drops
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.errors import BottleNotInCup, EmptyCup, InvalidInput
from diachrom.words import Quantity, quantity, say

LONGEST_NAME = 80
LONGEST_NOTE = 2000
MOST_BOTTLES = 40
RECIPE_GROUND = "recipe:"  # begins the key of a recipe as sprayed, with its number and version
ALWAYS_SHOWN = ("white", "silver-foil", "black")


@dataclass(frozen=True)
class Part:
    """Drops from one bottle, and the volume of its drop when they were counted."""

    bottle: int
    drops: int
    drop_ml: float


@dataclass(frozen=True)
class Draft(Surfaced):
    """What is in the cup and how it is meant to be sprayed."""

    parts: tuple[Part, ...] = ()
    name: str = ""
    note: str = ""
    ground: str = "white"
    film_um: float = 8.0
    coats: int = 2
    clear_coat: bool = True
    sealed: bool = False
    satin: bool = False  # where it is not cleared: most uncleared coats shine a little
    # How the bench is set up to look at it; not part of the recipe.
    own_ground: str = "grey"  # the strip's last column
    light: str = "D65"
    nozzle_mm: float = 0.3

    @property
    def drops(self) -> int:
        """Drops in all."""
        return sum(part.drops for part in self.parts)

    def part(self, bottle: int) -> Part:
        """Raises BottleNotInCup."""
        for part in self.parts:
            if part.bottle == bottle:
                return part
        raise BottleNotInCup(bottle)

    def with_bottle(self, bottle: int, *, drop_ml: float, paint: str = say("This bottle")) -> "Draft":
        """Put a bottle beside the cup and let its first drop fall; one that is there already gives another drop."""
        if any(part.bottle == bottle for part in self.parts):
            return self.with_drops(bottle, self.part(bottle).drops + 1, paint=paint)
        if len(self.parts) >= MOST_BOTTLES:
            raise InvalidInput(
                say("A cup takes at most {most_bottles} different bottles.", most_bottles=MOST_BOTTLES), field="bottle"
            )
        return replace(self, parts=(*self.parts, Part(bottle, 1, drop_volume(drop_ml, paint=paint))))

    def with_drops(self, bottle: int, drops: object, *, paint: str = say("This bottle")) -> "Draft":
        """Set the number of drops from a bottle in the cup. Raises BadDrops, BottleNotInCup."""
        old = self.part(bottle)
        new = replace(old, drops=whole_drops(drops, paint=paint))
        return replace(self, parts=tuple(new if part is old else part for part in self.parts))

    def without(self, bottle: int) -> "Draft":
        """Take a bottle and its drops away."""
        gone = self.part(bottle)
        return replace(self, parts=tuple(part for part in self.parts if part is not gone))

    def named(self, *, name: str, note: str) -> "Draft":
        """Raises InvalidInput for a name or a note that is too long; an empty name is only refused when saving."""
        return replace(
            self, name=checked_text("name", name, LONGEST_NAME), note=checked_text("note", note, LONGEST_NOTE)
        )

    def sprayed(self, *, film_um: float, coats: int, clear_coat: bool, sealed: bool, satin: bool) -> "Draft":
        """Change how it is meant to be sprayed. Raises InvalidInput."""
        if not 0.5 <= film_um <= THICKEST_COAT_UM:
            raise InvalidInput(
                say(
                    "A coat must be 0.5 to {thickest_coat} thick, not {film}.",
                    thickest_coat=quantity(THICKEST_COAT_UM, ".0f", "µm"),
                    film=quantity(film_um, "g"),
                ),
                field="film_um",
            )
        if not 1 <= coats <= MOST_COATS:
            raise InvalidInput(
                say("Coats must be 1 to {most_coats}, not {coats}.", most_coats=MOST_COATS, coats=coats), field="coats"
            )
        return replace(self, film_um=film_um, coats=coats, clear_coat=clear_coat, sealed=sealed, satin=satin)

    def over(self, ground_key: str) -> "Draft":
        """Look at it over a ground, or over a recipe as sprayed ("recipe:14:3"); it becomes the strip's own column
        when it is not one of those that are always there. Raises UnknownGround."""
        if not ground_key.startswith(RECIPE_GROUND):
            ground_key = ground(ground_key).key
        own = self.own_ground if ground_key in ALWAYS_SHOWN else ground_key
        return replace(self, ground=ground_key, own_ground=own)

    def looked_at(self, *, light_key: str, nozzle_mm: float) -> "Draft":
        """Choose the light and the nozzle. Raises UnknownLight and InvalidInput."""
        if nozzle_mm not in NOZZLES_MM:
            raise InvalidInput(
                say(
                    "There is no nozzle of {size}; known: {sizes}.",
                    size=quantity(nozzle_mm, "g", "mm"),
                    sizes=Quantity(NOZZLES_MM, "g", "mm", "and"),
                ),
                field="nozzle_mm",
            )
        return replace(self, light=light(light_key).key, nozzle_mm=nozzle_mm)

    def kept(self) -> "Draft":
        """What drafts are compared by, and a recipe keeps: not how the bench is set up, no bottle without a drop."""
        return Draft(
            parts=tuple(part for part in self.parts if part.drops),
            name=self.name.strip(),
            note=self.note.strip(),
            ground=self.ground,
            film_um=self.film_um,
            coats=self.coats,
            clear_coat=self.clear_coat,
            sealed=self.sealed,
            satin=self.satin,
        )

    def to_save(self) -> "Draft":
        """The draft as a recipe keeps it: a name, no empty lines, at least one drop. Raises InvalidInput."""
        if not self.name.strip():
            raise InvalidInput(say("Give the recipe a name before saving it."), field="name")
        if not self.drops:
            raise EmptyCup(say("saving it"))
        return self.kept()


def checked_text(field: str, text: str, longest: int) -> str:
    """Text typed by a person, without control characters. Raises InvalidInput when it is too long."""
    if len(text) > longest:
        raise InvalidInput(
            say(
                "The {field} has {count} characters; at most {longest} fit on a label.",
                field=field,
                count=len(text),
                longest=longest,
            ),
            field=field,
        )
    return "".join(character for character in text if character.isprintable() or character in "\n\t")
