"""What was solved and reckoned of a bait before, for the next look."""

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from threading import Lock

import numpy as np

from diachrom.core.bait.repainted import Before
from diachrom.core.film import cell_dots, cell_mirrors, cell_stacks
from diachrom.core.film.cell_clear_dots import Film
from diachrom.core.film.cell_dots import Curves, Followed, most_discs_um
from diachrom.core.film.cell_mirrors import MirrorTables
from diachrom.core.film.cell_stacks import Cells, FilmTable, MixTables
from diachrom.core.film.fast import Singles
from diachrom.core.film.grounds import Ground
from diachrom.core.film.paint import Mix
from diachrom.core.light.bands import Floats

MOST_FOLLOWED = 24_000_000  # bytes of what was seen of dots
MOST_BYTES = 60_000_000  # of what layers have made of their cells
TABLES_KEPT, FILMS_KEPT, LOOKS_KEPT = 48, 120, 3
THICKEST_UM = 400.0


@dataclass(frozen=True, eq=False)
class Tabled:
    """A mix in all its thicknesses, in dots of a size or even."""

    films: MixTables
    mirrors: MirrorTables
    droplet_um: float
    surfaced: dict[int, Film] = field(default_factory=dict)
    laid: dict[tuple[Ground, int], FilmTable] = field(default_factory=dict)

    @cached_property
    def dots(self) -> Curves:
        """How it is seen over what throws light about."""
        return cell_dots.curves(self.films, self.droplet_um)

    @cached_property
    def even(self) -> Curves:
        """The same as if it were even."""
        return cell_dots.curves(self.films, 0.0, (1,))

    def clear(self, which: int) -> Film:
        """Its discs over what keeps light in its place: for all light, or (1) for what met no particle."""
        if which not in self.surfaced:
            self.surfaced[which] = Film.of((self.films.whole, self.films.directed)[which], self.droplet_um)
        return self.surfaced[which]

    def on(self, ground: Ground, which: int) -> FilmTable:
        """What comes up under its surface on a bare ground that keeps light in its place: all, or (1) what met no
        particle."""
        key = ground, which
        if key not in self.laid:
            self.laid[key] = self.clear(which).on(cell_stacks.ground_rows(ground)[which])
        return self.laid[key]

    @cached_property
    def shone(self) -> Singles:
        """(level,) how many times as much light its dots make as an even film, over white."""
        return cell_dots.shone(self.films, self.droplet_um)


@dataclass(frozen=True, eq=False)
class Step:
    """What a layer has made of the cells on which it lies."""

    cells: Cells
    whole: Singles  # (cell, pair, band)
    mirroring: Cells
    directed: Singles  # (cell that mirrors, pair, band), of plans with flakes

    @property
    def nbytes(self) -> int:
        """What it takes to keep, bytes."""
        return self.cells.nbytes + self.whole.nbytes + self.mirroring.nbytes + self.directed.nbytes


@dataclass(eq=False)
class Kept:
    """What was asked for longest ago goes first."""

    tables: OrderedDict[bytes, Tabled] = field(default_factory=OrderedDict)
    steps: OrderedDict[bytes, Step] = field(default_factory=OrderedDict)
    films: OrderedDict[object, Floats] = field(default_factory=OrderedDict)
    dots: OrderedDict[bytes, Followed] = field(default_factory=OrderedDict)
    before: OrderedDict[int, Before] = field(default_factory=OrderedDict)  # by how many cells there are
    lock: Lock = field(default_factory=Lock)
    nbytes: int = 0  # of the steps
    reckoned: int = 0  # layers laid anew, in all

    def tabled(self, mix: Mix, most_um: float, digest: bytes, droplet_um: float) -> Tabled:
        """Tables of a mix up to a thickness, µm."""
        # Thickest films by powers of two, so that a little more of a paint is the same table.
        wanted = max(most_discs_um(most_um, droplet_um), 1.0)
        most = min(THICKEST_UM, 16.0 * 2.0 ** np.ceil(np.log2(wanted / 16.0)))
        key = digest + np.array([most, droplet_um]).tobytes()
        with self.lock:
            found = self.tables.get(key)
        if found is None:
            films = cell_stacks.tables(mix, most)
            found = Tabled(films, cell_mirrors.mirror_tables(mix, most, droplet_um), droplet_um)
        with self.lock:
            self.tables[key] = found
            self.tables.move_to_end(key)
            while len(self.tables) > TABLES_KEPT:
                self.tables.popitem(last=False)
        return found

    def film(self, key: object, make: Callable[[], Floats]) -> Floats:
        """A layer's film, laid before or now."""
        with self.lock:
            found = self.films.get(key)
        if found is None:
            found = make()
        with self.lock:
            self.films[key] = found
            self.films.move_to_end(key)
            while len(self.films) > FILMS_KEPT:
                self.films.popitem(last=False)
        return found

    def forget(self) -> None:
        """All that was seen; what mixes are stays known."""
        with self.lock:
            self.steps.clear()
            self.dots.clear()
            self.before.clear()
            self.nbytes = 0

    def followed(self, key: bytes) -> Followed | None:
        """What was seen of dots up to a layer, None where it is not known."""
        with self.lock:
            return self.dots.get(key)

    def follow(self, key: bytes, own: Followed) -> None:
        """Keep it, and let go of the oldest beyond the room."""
        with self.lock:
            self.dots[key] = own
            while sum(one.nbytes for one in self.dots.values()) > MOST_FOLLOWED and len(self.dots) > 1:
                self.dots.popitem(last=False)

    def seen_before(self, count: int) -> Before | None:
        """The bait that was last looked at in so many cells."""
        with self.lock:
            return self.before.get(count)

    def see(self, before: Before) -> None:
        """Keep what was looked at."""
        with self.lock:
            self.before[len(before.ground_at)] = before
            self.before.move_to_end(len(before.ground_at))
            while len(self.before) > LOOKS_KEPT:
                self.before.popitem(last=False)

    def step(self, key: bytes) -> Step | None:
        """A step that was reckoned before, None where it was not."""
        with self.lock:
            step = self.steps.get(key)
            if step is not None:
                self.steps.move_to_end(key)
            return step

    def keep(self, key: bytes, step: Step) -> None:
        """Keep a step, and let go of the oldest beyond the room."""
        with self.lock:
            self.reckoned += 1
            if key in self.steps:
                self.nbytes -= self.steps[key].nbytes
            self.steps[key] = step
            self.nbytes += step.nbytes
            while self.nbytes > MOST_BYTES and len(self.steps) > 1:
                self.nbytes -= self.steps.popitem(last=False)[1].nbytes
