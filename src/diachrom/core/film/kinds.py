"""The kinds of paint: one row each, with all that lists, forms, guesses, checks, schedules and papers ask of a kind.

A new kind is a row of `KINDS`. Its figures are usual ones of waterborne paint, not the truth of a bottle: the maker's
sheet comes first.
"""

from dataclasses import dataclass
from typing import Literal

from diachrom.core.film.flakes import Flake
from diachrom.words import say


@dataclass(frozen=True)
class Thinned:
    """How a kind is thinned: shares of the whole volume, for a 0.3 mm nozzle."""

    thin: float  # by a hand that sprays thin and many coats
    thick: float
    most: float  # beyond it the film breaks or crawls
    with_medium: bool = False  # a carrier, or it has no grip


@dataclass(frozen=True)
class Waits:
    """Minutes that a wet coat of `film_um` takes at 20 °C and 50 %: to its own next coat, to other paint, to clear."""

    film_um: float
    flash: int
    touch: int
    through: int


@dataclass(frozen=True)
class Keeping:
    """Days after which it wants shaking, months that it keeps, and its density."""

    shake_days: int | None  # None for what does not settle
    sealed_months: int
    opened_months: int
    density: float  # g/ml


@dataclass(frozen=True)
class Kind:
    """A kind of paint: how it is called, what it does to light and in a cup, and how it is treated."""

    key: str
    words: str
    note: str
    keeps: Keeping
    heard: tuple[str, ...]  # words of a bottle in a list that say this kind
    decides: int  # where words of several are heard the largest does: what a paint does, before what it is called
    other_tongues: str = ""  # words of it in tables from elsewhere, parted by bars
    colours: bool = True
    thins: bool = False  # counts as reducer or medium in a mix
    carries: bool = False  # gives a dye its grip
    dye: bool = False  # it bleeds into what is laid on it, and rests after it was mixed
    sheer: bool = False  # it only takes light away
    flakes: bool = False  # what it mirrors changes with the angle
    grains: bool = False  # particles that settle in the tip
    hides: bool = False  # pale ones hold white
    mirrors_metal: bool = False  # its flakes are seen over any ground
    guess: Literal["pigment", "flakes", "fluorescence", "glow", ""] = "pigment"  # how one is guessed from a colour
    tries: tuple[Flake, ...] = ()  # that a guess tries; the first is taken where no colour is known
    scattering: float | None = None  # 1/um at 550 nm, of one that a drawdown card describes; None where none can
    nozzle_mm: float = 0.0  # the smallest that it does not clog
    thinned: Thinned | None = None
    dries: Waits | None = None


_FAST = Waits(10, 4, 12, 720)

# In the order of lists.
KINDS = {
    kind.key: kind
    for kind in (
        Kind(
            "opaque",
            say("opaque"),
            note=say("hides what is beneath"),
            keeps=Keeping(21, 36, 24, 1.25),
            heard=("opaque", "solid", "cover"),
            decides=0,
            other_tongues="opak|deckend|solid|standard|couvrant|opaco|opaca|cubriente|coprente|dekkend|dekkende|tackande"
            "|peittava",
            hides=True,
            scattering=0.1,
            thinned=Thinned(0.35, 0.10, 0.60),
            dries=_FAST,
        ),
        Kind(
            "transparent",
            say("transparent"),
            note=say("lets the ground through; many coats veil it"),
            keeps=Keeping(42, 36, 24, 1.04),
            heard=("trans", "transparent", "transp", "translucent", "glaze"),
            decides=1,
            other_tongues="lasierend|translucent|transparente|trasparente|transparant|gjennomsiktig|lapikuultava",
            sheer=True,
            scattering=0.01,
            thinned=Thinned(0.25, 0.00, 0.55),
            dries=_FAST,
        ),
        Kind(
            "candy",
            say("candy dye"),
            note=say("never hides, only deepens"),
            keeps=Keeping(None, 24, 18, 1.02),
            heard=("candy", "kandy", "dye"),
            decides=4,
            other_tongues="candy dye|candylack|kandy|caramelo",
            dye=True,
            sheer=True,
            scattering=1e-4,
            thinned=Thinned(0.70, 0.50, 0.95, with_medium=True),
            dries=Waits(10, 6, 20, 720),
        ),
        Kind(
            "pearl",
            say("pearl"),
            note=say("one colour in the flash, another at the flop"),
            keeps=Keeping(7, 36, 24, 1.08),
            heard=("pearl", "pearlescent", "pearlized", "iridescent", "interference", "mica", "shimmer"),
            decides=5,
            other_tongues="pearlescent|perl|perle|perlglanz|perlmutt|interferenz|glimmer|nacre|perlado|perlato|parelmoer|perlemor|parlemor|helmiais",
            flakes=True,
            guess="flakes",
            tries=(
                *(Flake("pearl", 0.055, float(nm)) for nm in (50, *range(40, 166, 5))),
                *(Flake("rust", 0.055, float(nm)) for nm in range(30, 131, 10)),
            ),
            nozzle_mm=0.3,
            thinned=Thinned(0.15, 0.00, 0.35),
            dries=_FAST,
        ),
        Kind(
            "metallic",
            say("metallic"),
            note=say("bright in the flash, dark at the flop"),
            keeps=Keeping(7, 24, 12, 1.12),
            heard=("metallic", "metal"),
            decides=3,
            other_tongues="metal|metall|metallise|metalizado|metallizzato|metallisk|metalli",
            flakes=True,
            mirrors_metal=True,
            guess="flakes",
            tries=(Flake("aluminium", 0.07), Flake("bronze", 0.07), Flake("copper", 0.07)),
            nozzle_mm=0.3,
            thinned=Thinned(0.15, 0.00, 0.35),
            dries=_FAST,
        ),
        Kind(
            "shift",
            say("colour-shift"),
            note=say("its hue travels with the angle"),
            keeps=Keeping(7, 36, 24, 1.08),
            heard=("shift", "colour-shift", "color-shift", "chameleon", "flip"),
            decides=7,
            other_tongues="colour shift|color shift|colourshift|colorshift|chameleon|kameleon|kamaleon|flip flop"
            "|flipflop",
            flakes=True,
            guess="flakes",
            tries=(
                *(Flake("shift", 0.08, float(nm), 9.0) for nm in (400, *range(60, 521, 10))),
                *(Flake("silica", 0.08, float(nm), 9.0) for nm in range(150, 651, 10)),
            ),
            nozzle_mm=0.4,
            thinned=Thinned(0.10, 0.00, 0.30),
            dries=_FAST,
        ),
        Kind(
            "fluorescent",
            say("fluorescent"),
            note=say("brighter than white over white; hides little"),
            keeps=Keeping(21, 18, 12, 1.10),
            heard=("fluo", "fluor", "fluorescent", "flourescent", "neon", "dayglow", "dayglo"),
            decides=8,
            other_tongues="fluo|neon|day glow|dayglo|fluoreszierend|fluorescente|fluorescerend|fluoriserende",
            guess="fluorescence",
            thinned=Thinned(0.20, 0.05, 0.45),
            dries=Waits(10, 5, 15, 720),
        ),
        Kind(
            "glow",
            say("glow powder"),
            note=say("stores light and shines in the dark"),
            keeps=Keeping(3, 24, 12, 1.30),
            heard=("glow", "glows", "glowing", "phosphorescent", "luminous"),
            decides=9,
            other_tongues="glow in the dark|phosphorescent|nachleuchtend|luminescent|selvlysende|sjalvlysande"
            "|fosforescente",
            grains=True,
            guess="glow",
            nozzle_mm=0.5,
            thinned=Thinned(0.05, 0.00, 0.20, with_medium=True),
            dries=Waits(25, 10, 30, 1440),
        ),
        Kind(
            "glitter",
            say("glitter"),
            note=say("few large flakes that sparkle"),
            keeps=Keeping(3, 36, 24, 1.06),
            heard=("glitter", "sparkle", "flake", "flakes"),
            decides=6,
            other_tongues="glitzer|paillettes|purpurina|brokat",
            flakes=True,
            grains=True,
            mirrors_metal=True,
            guess="flakes",
            tries=(Flake("aluminium", 0.012, 0.0, 10.0, sparkle=True),),
            nozzle_mm=0.5,
            thinned=Thinned(0.05, 0.00, 0.20),
        ),
        Kind(
            "ink",
            say("ink"),
            note=say("very thin, strong, transparent: drops only"),
            keeps=Keeping(60, 36, 24, 1.03),
            heard=("ink",),
            decides=2,
            other_tongues="tinte|encre|tinta|inchiostro|inkt|blekk|black ink",
            sheer=True,
            scattering=2e-3,
            thinned=Thinned(0.30, 0.10, 0.70, with_medium=True),
            dries=Waits(5, 3, 8, 720),
        ),
        Kind(
            "primer",
            say("primer"),
            note=say("a ground for what follows"),
            keeps=Keeping(14, 24, 12, 1.35),
            heard=("primer", "grounding"),
            decides=10,
            other_tongues="grundierung|appret|imprimacion|grondverf|grunning|grundfarg|pohjamaali|base",
            hides=True,
            scattering=0.3,
            thinned=Thinned(0.25, 0.05, 0.45),
            dries=Waits(15, 8, 30, 720),
        ),
        Kind(
            "reducer",
            say("reducer"),
            note=say("no colour, thins the coat"),
            keeps=Keeping(None, 60, 36, 1.0),
            heard=("reducer", "thinner"),
            decides=12,
            other_tongues="thinner|verdunner|diluant|diluyente|tynner",
            colours=False,
            thins=True,
            guess="",
        ),
        Kind(
            "medium",
            say("medium"),
            note=say("no colour, keeps body and grip"),
            keeps=Keeping(90, 36, 24, 1.03),
            heard=("medium", "extender"),
            decides=11,
            other_tongues="binder|mischmedium|medio",
            colours=False,
            thins=True,
            carries=True,
            guess="",
        ),
    )
}

ODD_KIND = "transparent"  # what a paint of a kind that there is not is taken for
SURE = "opaque"  # whose figures are taken where a kind has none of its own


def keys(column: str) -> tuple[str, ...]:
    """Of the kinds of which a column is true: `keys("sheer")`."""
    return tuple(kind.key for kind in KINDS.values() if getattr(kind, column))
