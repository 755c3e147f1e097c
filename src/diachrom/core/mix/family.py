"""A family of one hue: light, middle and dark from one recipe, poured one after the other from one cup.

Nothing can be taken out of a cup but by pouring some of it off. So the first of the family is made in the amount that
all of them begin with; what it needs is poured off, drops are added to the rest, and so on. The steps from one to the
next are equal to the eye, and the hue is kept; of the two ways, from light to dark and back, the one is taken that
needs less paint.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations, product

import numpy as np

from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import Paint
from diachrom.core.light import words
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import hue_difference, lch
from diachrom.core.mix.fast_predictor import FastPredictor
from diachrom.core.mix.mixes import Parts, exact_labs, special, volumes_of
from diachrom.core.mix.where import Where, facing
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.words import listed, quantity, say

SMALLEST_STEP, LARGEST_STEP = 3.0, 30.0  # dE
MOST_ML = 50.0  # of each
MOST_ADDED, ADDED = 2.5, 20  # of the cup's own drops: how many at most, and how many numbers of them are tried
MOST_BESIDE, BESIDE = 0.5, 6  # of a second bottle, that keeps the hue
NEARBY = 3  # drops around the best that are tried in the end
STRONG = 24  # bottles that are tried as the first
TASTE = 0.3  # of the cup, in which they are put in order
HUE_WEIGHT = 1.0  # of a step off the hue, beside one too long or too short
CHROMA_WEIGHT = 0.05  # light and dark are what is wanted, not strong and dull
UNEVEN_ML = 0.2  # of paint that an even step is worth, per dE
SHORT_ML = 0.02  # less than a drop
FAR_OFF = 0.5  # of a step: beyond, there is no such family on this shelf
GROWTH_WEIGHT = 1.0  # dE that a cup must gain by an addition as large as itself
TRIES = 6  # sizes of the first cup
LEFT_SHARE = 0.05  # of the paint, that may be left at the end without trying a smaller cup


@dataclass(frozen=True, eq=False)
class Member:
    """One of the family, as the cup stands when it is poured off."""

    name: str  # "light", "middle", "dark"
    added: tuple[tuple[int, int], ...]  # (place among the paints, drops) into what was left
    cup_ml: float  # in the cup before some of it is poured off
    taken_ml: float
    volumes: Floats  # (paint,) ml in the cup by then
    lab: Floats  # (3,)
    step: float  # dE from the one before, 0 for the first
    words: str  # how it differs from the one before


@dataclass(frozen=True, eq=False)
class Family:
    members: Sequence[Member]
    given_off: float  # dE of the one that the recipe is, from the recipe
    poured_ml: float  # of paint, for all of them
    left_ml: float  # in the cup at the end

    @property
    def uneven(self) -> float:
        """How far the steps differ, in dE."""
        steps = [member.step for member in self.members[1:]]
        return max(steps) - min(steps) if steps else 0.0


@dataclass(frozen=True)
class _Way:
    """In which order the three are made, and where among them the recipe stands."""

    names: Sequence[str]
    needs_ml: Sequence[float]
    place: int
    step: float
    darker: bool

    @classmethod
    def of(cls, needs_ml: Sequence[float], step: float, given: int, *, darker: bool) -> "_Way":
        """The way from one member to the next."""
        order = list(range(len(NAMES)))[:: 1 if darker else -1]
        return cls([NAMES[index] for index in order], [needs_ml[at] for at in order], order.index(given), step, darker)

    def start_ml(self, grows: Sequence[float]) -> float:
        """Of the first cup, so that each has what it needs and nothing is left."""
        left = 0.0
        for need, grow in zip(reversed(self.needs_ml[1:]), reversed(grows), strict=True):
            left = (need + left) / (1 + grow)
        return self.needs_ml[0] + left


class FamilyBuilder:
    """A shelf and a recipe to make a family from."""

    def __init__(
        self, paints: Sequence[Paint], drop_ml: Sequence[float], recipe: Sequence[tuple[int, int]], where: Where
    ) -> None:
        """`recipe` is (place among the paints, drops) each. Raises EmptyCup for one without a colour."""
        if not any(drops and not paints[at].thins for at, drops in recipe):
            raise EmptyCup(say("making a family of it"))
        self.paints, self.drop_ml, self.where = paints, np.asarray(drop_ml, dtype=np.float64), where
        self.base = np.zeros(len(paints))
        for index, drops in recipe:
            self.base[index] += drops * self.drop_ml[index]
        self.looks = FastPredictor(where, paints)
        self.own = [at for at, drops in recipe if drops and not paints[at].thins]
        self.able = self._able()
        self.front = facing(where.views)

    def _able(self) -> list[int]:
        """No flakes, no light of its own and no dye into a mix that has none."""
        paints = [self.paints[index] for index in self.own]
        inside, dyed = {one.name for one in paints}, any(one.kind == "candy" for one in paints)

        def fits(one: Paint) -> bool:
            return not (one.thins or special(one) or (KINDS[one.kind].dye and not dyed))

        return [at for at, one in enumerate(self.paints) if one.name in inside or fits(one)]

    def family(self, *, needs_ml: Sequence[float], step: float, given: str) -> Family:
        """The recipe as the `given` one of light, middle and dark; the way that takes less paint.

        Raises InvalidInput, also where no bottle leads there.
        """
        if not SMALLEST_STEP <= step <= LARGEST_STEP:
            raise InvalidInput(
                say(
                    "A step is dE {smallest_step} to {largest_step}, not {step}.",
                    smallest_step=quantity(SMALLEST_STEP, "g"),
                    largest_step=quantity(LARGEST_STEP, "g"),
                    step=quantity(step, "g"),
                ),
                field="step",
            )
        if len(needs_ml) != len(NAMES) or not all(0 < one <= MOST_ML for one in needs_ml):
            raise InvalidInput(say("Each of them is 0 to {most}.", most=quantity(MOST_ML, "g", "ml")), field="ml")
        if given not in NAMES:
            raise InvalidInput(
                say("The recipe is one of {names}, not '{given}'.", names=listed(NAMES), given=given[:20]),
                field="given",
            )
        families = [
            self._one_way(_Way.of(needs_ml, step, NAMES.index(given), darker=darker)) for darker in (True, False)
        ]
        ways = [family for family in families if family is not None]
        if not ways:
            raise InvalidInput(
                say(
                    "No bottle on the shelf makes steps of dE {step} from it in its hue: try a smaller step.",
                    step=quantity(step, "g"),
                ),
                field="step",
            )
        return min(ways, key=lambda one: one.poured_ml + UNEVEN_ML * (one.uneven + one.given_off))

    def _one_way(self, way: _Way) -> Family | None:
        """All three in one direction: once to see how much each takes, then in whole drops."""
        plan = self._plan(way)
        if plan is None:
            return None
        first, grows, bottles = plan
        start, best = way.start_ml(grows), None
        for _ in range(TRIES):
            # In whole drops, never less than is needed in all; at least one of what must be in it.
            volumes = first * start / first.sum()
            drops = np.floor(volumes / self.drop_ml)
            for index in self.own:
                drops[index] = max(1, drops[index])
            while drops @ self.drop_ml < volumes.sum() - 1e-9:
                drops[int(np.argmax(volumes - drops * self.drop_ml))] += 1
            whole = np.asarray(drops * self.drop_ml)
            family = self._poured(whole, way, bottles)
            if family is None:
                break
            short = max(need - member.cup_ml for need, member in zip(way.needs_ml, family.members, strict=True))
            if short > SHORT_ML:
                start += short
                continue
            best = family if best is None or family.poured_ml < best.poured_ml else best
            if family.left_ml < LEFT_SHARE * family.poured_ml:
                break
            start = max(start / 2, start - family.left_ml / (1 + grows[0]) / (1 + grows[1]))
        return best

    def _plan(self, way: _Way) -> tuple[Floats, list[float], list[tuple[int, ...]]] | None:
        """The first of them (paint,) ml; by how much the rest of the cup grows at each turn after it, and by which
        bottles. None where nothing leads there."""
        first = self.base
        for _ in range(way.place):  # the recipe is not the first: look for the one that comes before it
            back = self._step(first, way.step, darker=not way.darker)
            if back is None:
                return None
            first = first + back
        grows: list[float] = []
        bottles: list[tuple[int, ...]] = []
        cup = first
        for turn in range(1, len(NAMES)):
            more = self._turn(cup, turn, way)
            if more is None:
                return None
            grows.append(float(more.sum() / cup.sum()))
            bottles.append(tuple(np.flatnonzero(more).tolist()))
            cup = (cup + more) * cup.sum() / (cup + more).sum()
        return first, grows, bottles

    def _turn(self, cup: Floats, turn: int, way: _Way, *, of: Sequence[int] = ()) -> Floats | None:
        """What comes into the cup at a turn: a step on, or back to the recipe where it is the recipe's turn."""
        if turn == way.place:
            # (paint,) ml of the recipe's own paints that bring the cup to its colour.
            wanted = self._labs(self.base[None])[0]
            many = self._counts(cup, MOST_ADDED, ADDED)
            pool = of or self.own
            tries: list[Parts] = [((index, drops),) for index in pool for drops in many]
            tries += [((one, a), (two, b)) for one, two in combinations(pool, 2) for a in many for b in many]
            more, off = self._best(cup, tries, lambda seen: delta_e(seen, wanted))
            return more if off < SMALLEST_STEP else None
        return self._step(cup, way.step, darker=way.darker, of=of)

    def _poured(self, cup: Floats, way: _Way, bottles: Sequence[tuple[int, ...]]) -> Family | None:
        """From the first cup on, whole drop by whole drop, with the bottles of each turn."""
        members: list[Member] = []
        poured, added = float(cup.sum()), cup
        for turn, (need, name) in enumerate(zip(way.needs_ml, way.names, strict=True)):
            if turn:
                more = self._turn(cup, turn, way, of=bottles[turn - 1])
                if more is None:  # so small a cup may want other bottles
                    more = self._turn(cup, turn, way)
                if more is None:
                    return None
                added, cup = more, cup + more
                poured += float(added.sum())
            # `before` is the Lab of the one that was made before it.
            before = members[-1].lab if members else None
            seen, whole = self._lab(cup), float(cup.sum())
            drops = np.rint(added / self.drop_ml).astype(int)
            member = Member(
                name=name,
                added=tuple((index, int(drops[index])) for index in np.flatnonzero(drops).tolist()),
                cup_ml=whole,
                taken_ml=min(need, whole),
                volumes=cup,
                lab=seen,
                step=0.0 if before is None else float(delta_e(before, seen)),
                words="" if before is None else words.difference(before, seen),
            )
            members.append(member)
            cup = cup * (1 - member.taken_ml / member.cup_ml)
        off = float(delta_e(members[way.place].lab, self._lab(self.base)))
        return Family(members, off, poured, float(cup.sum()))

    def _lab(self, volumes: Floats) -> Floats:
        return np.asarray(exact_labs(self.paints, volumes[None] / volumes.sum(), self.where)[0, self.front])

    def _labs(self, rows: Floats) -> Floats:
        return self.looks.of_volumes(rows)[:, self.front]

    def _counts(self, cup: Floats, most: float, how_many: int) -> list[int]:
        """Numbers of drops to try beside this cup."""
        largest = max(how_many, most * cup.sum() / float(np.median(self.drop_ml)))
        return sorted({round(one) for one in np.geomspace(1, largest, how_many)})

    def _best(self, cup: Floats, tries: Sequence[Parts], cost: Callable[[Floats], Floats]) -> tuple[Floats, float]:
        """The best additions (paint,) ml, and what they cost; what lies around the best is tried too."""
        found = (np.zeros(len(self.paints)), np.inf)
        for _ in range(2):
            added = volumes_of(tries, self.drop_ml)
            costs = cost(self._labs(cup + added)) + GROWTH_WEIGHT * added.sum(axis=1) / cup.sum()
            best = int(np.argmin(costs))
            if costs[best] < found[1]:
                found = (added[best], float(costs[best]))
            around = [range(max(1, drops - NEARBY), drops + NEARBY + 1) for _, drops in tries[best]]
            tries = [tuple(zip([index for index, _ in tries[best]], some, strict=True)) for some in product(*around)]
        return found

    def _step(self, cup: Floats, step: float, *, darker: bool, of: Sequence[int] = ()) -> Floats | None:
        """(paint,) ml that bring the cup one step down or up in its own hue; None where nothing does.

        `of` are the bottles to do it with; without them all are tried, with the recipe's own beside.
        """
        now = self._labs(cup[None])[0]
        order = of or self._leading(cup, float(now[0]), darker=darker)
        if not order:
            return None
        many, few = self._counts(cup, MOST_ADDED, ADDED), self._counts(cup, MOST_BESIDE, BESIDE)
        tries: list[Parts] = [((one, drops),) for one in order for drops in many]
        tries += [
            ((one, drops), (two, beside))
            for one in order
            for two in (of or self.own)
            if two != one
            for drops in many
            for beside in few
        ]

        def cost(seen: Floats) -> Floats:
            off = np.hypot(delta_e(seen, now) - step, HUE_WEIGHT * hue_difference(seen, now))
            off = off + CHROMA_WEIGHT * np.abs(lch(seen)[:, 1] - lch(now)[1])
            return np.where((seen[:, 0] < now[0]) == darker, off, np.inf)

        more, _ = self._best(cup, tries, cost)
        if not more.any():
            return None
        seen = self._labs((cup + more)[None])[0]
        return more if abs(float(delta_e(seen, now)) - step) <= FAR_OFF * step else None

    def _leading(self, cup: Floats, lightness: float, *, darker: bool) -> list[int]:
        """The bottles of which a share into the cup leads down, or up, the farthest first."""
        some = max(1, round(TASTE * cup.sum() / float(np.median(self.drop_ml))))
        seen = self._labs(cup + volumes_of([((index, some),) for index in self.able], self.drop_ml))[:, 0]
        way = lightness - seen if darker else seen - lightness
        return [self.able[row] for row in np.argsort(-way) if way[row] > 0][:STRONG]


NAMES = ("light", "middle", "dark")
