"""Several colours of one bait together: the fewest bottles that bring each of them within the closeness wanted.

What single searches found are sets of bottles, each with how near it comes; one set a colour is chosen so that their
union is small, over all colours at once as far as a beam goes. Then each bottle is tried to be done without: a search
over those that are left finds mixes that the first ones did not keep.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from diachrom.core.match.judge import Match
from diachrom.core.match.search import Search
from diachrom.core.mix.together import together

BEAM = 3_000  # unions that are followed
OUT_OF_REACH = 2.0  # dE
ABOUT = 0.3  # dE beyond the nearest, of a colour that nothing brings near enough
Bottles = frozenset[int]  # places among the paints
Searcher = Callable[[int, Sequence[int]], Search]  # which colour, which paints it may take


@dataclass(frozen=True, eq=False)
class Palette:
    """A mix for each colour: its parts are places among all paints."""

    mixes: Sequence[Match]

    @property
    def bottles(self) -> Bottles:
        """The bottles that all its mixes take."""
        return _of(*self.mixes)


def fewest(
    count: int,
    search: Searcher,
    *,
    plain: Sequence[int],
    every: Sequence[int],
    closeness: float,
    first: Searcher | None = None,
) -> Iterator[Palette]:
    """The fewest paints that mix several colours, better and better.

    Parameters
    ----------
    count : colours.
    search : finds one of them out of given paints.
    plain : paints that are tried first.
    every : all, for colours that the plain ones do not reach.
    closeness : dE at which a colour counts as met.
    first : finds one of them in haste, for an answer to begin with.

    Returns
    -------
    the best palette so far, each time it is better.
    """
    if first is not None:
        yield Palette(together(lambda at: _nearest(_matches(first, at, plain)), range(count)))
    allowed, found = [plain] * count, together(lambda at: _matches(search, at, plain), range(count))
    for index, own in enumerate(found):
        so_far = _nearest(own).delta_e
        if len(every) > len(plain) and so_far > max(OUT_OF_REACH, closeness):
            wider = _matches(search, index, every)
            if _nearest(wider).delta_e < so_far - OUT_OF_REACH:
                allowed[index], found[index] = every, wider
    bottles = smallest_union([_near(own, closeness) for own in found])
    mixes = [_nearest([one for one in own if _of(one) <= bottles]) for own in found]
    yield Palette(mixes)
    limits = [max(closeness, one.delta_e) for one in mixes]
    for one in sorted(_of(*mixes), key=lambda own: sum(own in _of(mix) for mix in mixes)):
        left = _of(*mixes) - {one}
        if not left:
            continue
        tried = list(mixes)
        for index, mix in enumerate(mixes):
            if one in _of(mix):
                if not left.intersection(allowed[index]):
                    break
                tried[index] = _nearest(_matches(search, index, sorted(left.intersection(allowed[index]))))
                if tried[index].delta_e > limits[index]:
                    break
        else:
            mixes = tried
        yield Palette(mixes)


def smallest_union(choices: Sequence[Sequence[tuple[Bottles, float]]]) -> Bottles:
    """One set of each colour, so that few bottles are in any; among as few those that come nearer, dE in all."""
    states: dict[Bottles, float] = {frozenset(): 0.0}
    for sets in choices:
        unions: dict[Bottles, float] = {}
        for so_far, far in states.items():
            for own, more in sets:
                union = so_far | own
                unions[union] = min(unions.get(union, float("inf")), far + more)
        states = dict(sorted(unions.items(), key=lambda item: (len(item[0]), item[1]))[:BEAM])
    return min(states, key=lambda one: (len(one), states[one]))


def _matches(search: Searcher, at: int, some: Sequence[int]) -> list[Match]:
    """The best for a colour of some paints, by their places among all."""
    *_, mixes = search(at, some).steps()
    return [replace(one, parts=tuple((some[own], drops) for own, drops in one.parts)) for one in mixes.matches]


def _of(*mixes: Match) -> Bottles:
    return frozenset(index for mix in mixes for index, _ in mix.parts)


def _nearest(matches: Sequence[Match]) -> Match:
    return min(matches, key=lambda one: one.delta_e)


def _near(matches: Sequence[Match], closeness: float) -> list[tuple[Bottles, float]]:
    """Those that are near enough; where none is, those that come about as near as the nearest."""
    nearest = _nearest(matches).delta_e
    enough = closeness if nearest <= closeness else nearest + ABOUT
    return [(_of(one), one.delta_e) for one in matches if one.delta_e <= enough]
