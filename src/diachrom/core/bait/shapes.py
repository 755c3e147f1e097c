"""The family of blanks: outlines, landmarks, and what is fitted to them. Lengths are shares of the blank's own."""

from dataclasses import dataclass, replace

from diachrom.core.bait.fittings import Fitting, Points, bill, fin, paddle, propeller, tail
from diachrom.core.bait.outline import Outline
from diachrom.words import say


@dataclass(frozen=True)
class Landmarks:
    """Where on a blank its parts are: u from nose to tail, v from spine 0 to belly 0.5."""

    eye_u: float = 0.085
    eye_v: float = 0.19
    eye_size: float = 0.045  # across
    mouth_u: float = 0.05
    gill_u: float = 0.22
    tail_u: float = 0.90
    lateral_v: float = 0.235
    fins: tuple[tuple[float, float, float], ...] = ((0.27, 0.31, 0.075),)  # (u, v, length) of those painted on the skin


@dataclass(frozen=True)
class Shape:
    """A blank of the family."""

    key: str
    words: str
    outline: Outline
    usual_mm: float
    material: str = say("plastic")
    landmarks: Landmarks = Landmarks()
    fittings: tuple[Fitting, ...] = ()
    joints: tuple[float, ...] = ()
    scales: float = 0.0  # from scale to scale
    gill_plate: bool = True
    eye_sockets: bool = True
    metal_eyelets: tuple[tuple[float, float], ...] = ((0.0, 0.0), (1.0, 0.0))  # (u, height)

    @property
    def reliefs(self) -> tuple[str, ...]:
        """Keys of RELIEFS that it has."""
        fish = self.gill_plate and self.eye_sockets
        has = {"scales": self.scales > 0, "gill": self.gill_plate, "socket": self.eye_sockets}
        every = ("scales", "gill", "mouth", "nostril", "line", "socket", "fins")
        return tuple(key for key in every if has.get(key, fish))


def _ellipse(
    upper: float, lower: float, half: float, *, deepest: float = 0.4, tail: float = 0.25, power: float = 2.2
) -> Outline:
    """A fish's outline: deepest at a place, narrowing to a share of it before the tail."""

    def edge(size: float) -> Points:
        rows = [
            (0.0, 0.0),
            (0.06, 0.52 * size),
            (0.5 * deepest, 0.86 * size),
            (deepest, size),
            (0.5 + 0.5 * deepest, (0.62 + 0.1 * tail) * size),
            (0.93, max(tail, 0.12) * size),
            (0.985, 0.62 * max(tail, 0.12) * size),
            (1.0, 0.0),
        ]
        return tuple(rows)

    def turned(points: Points) -> Points:
        return tuple((u, -value) for u, value in points)

    return Outline(edge(upper), turned(edge(lower)), edge(half), power)


SHAPES = {
    shape.key: shape
    for shape in (
        Shape("minnow", say("minnow"), _ellipse(0.075, 0.085, 0.058), 110, fittings=(bill(),), scales=0.026),
        Shape(
            "long-minnow",
            say("long minnow"),
            _ellipse(0.050, 0.056, 0.042, deepest=0.35),
            140,
            fittings=(bill(long=0.09, down=0.05),),
            landmarks=Landmarks(eye_u=0.065, eye_size=0.034, gill_u=0.17, fins=((0.21, 0.32, 0.05),)),
            scales=0.020,
        ),
        Shape(
            "deep",
            say("deep-bodied"),
            _ellipse(0.155, 0.170, 0.075, deepest=0.42, tail=0.16),
            80,
            say("wood"),
            fittings=(
                bill(long=0.14, down=0.09, high=-0.07, form="coffin"),
                fin("dorsal", say("back fin"), (0.36, 0.66), base=0.135, height=0.06),
            ),
            landmarks=Landmarks(
                eye_u=0.11, eye_v=0.2, eye_size=0.06, gill_u=0.27, tail_u=0.9, fins=((0.33, 0.3, 0.1),)
            ),
            scales=0.034,
        ),
        Shape(
            "squat",
            say("squat"),
            _ellipse(0.20, 0.19, 0.17, deepest=0.42, tail=0.30),
            55,
            say("wood"),
            fittings=(bill(long=0.26, down=0.20, high=-0.08),),
            landmarks=Landmarks(
                eye_u=0.15, eye_v=0.18, eye_size=0.085, gill_u=0.33, tail_u=0.88, fins=((0.4, 0.3, 0.13),)
            ),
            scales=0.0,
        ),
        Shape(
            "needle",
            say("long and narrow"),
            _ellipse(0.030, 0.030, 0.026, deepest=0.55, tail=0.4, power=2.0),
            180,
            landmarks=Landmarks(
                eye_u=0.10, eye_size=0.022, mouth_u=0.085, gill_u=0.16, tail_u=0.94, fins=((0.18, 0.3, 0.03),)
            ),
            fittings=(tail(0.035, long=0.05),),
            scales=0.0,
        ),
        Shape(
            "glide",
            say("glide"),
            _ellipse(0.115, 0.120, 0.060, deepest=0.36, tail=0.30),
            150,
            say("resin"),
            joints=(0.52,),
            fittings=(tail(0.09), fin("dorsal", say("back fin"), (0.40, 0.56), base=0.105, height=0.05)),
            landmarks=Landmarks(eye_u=0.085, eye_size=0.042, gill_u=0.22, fins=((0.27, 0.33, 0.08),)),
            scales=0.026,
        ),
        Shape(
            "jointed-3",
            say("jointed in three"),
            _ellipse(0.085, 0.090, 0.055, deepest=0.33, tail=0.30),
            130,
            say("resin"),
            joints=(0.42, 0.70),
            fittings=(tail(0.075),),
            scales=0.024,
        ),
        Shape(
            "jointed-5",
            say("jointed in five"),
            _ellipse(0.080, 0.082, 0.050, deepest=0.28, tail=0.28),
            170,
            say("resin"),
            joints=(0.34, 0.51, 0.67, 0.82),
            fittings=(tail(0.07, long=0.11),),
            landmarks=Landmarks(eye_u=0.07, eye_size=0.034, gill_u=0.18, fins=((0.22, 0.33, 0.06),)),
            scales=0.020,
        ),
        Shape(
            "jerk",
            say("jerkbait"),
            _ellipse(0.105, 0.110, 0.075, deepest=0.45, tail=0.45, power=2.6),
            100,
            say("wood"),
            landmarks=Landmarks(eye_u=0.11, eye_size=0.05, gill_u=0.26, fins=((0.32, 0.3, 0.09),)),
        ),
        Shape(
            "pencil",
            say("pencil"),
            _ellipse(0.062, 0.060, 0.058, deepest=0.6, tail=0.5, power=2.0),
            95,
            gill_plate=False,
            landmarks=Landmarks(eye_u=0.10, eye_size=0.045, gill_u=0.24),
        ),
        Shape(
            "popper",
            say("popper"),
            replace(
                _ellipse(0.095, 0.090, 0.085, deepest=0.25, tail=0.3, power=2.0),
                upper=((0.0, 0.075), (0.02, 0.088), (0.25, 0.095), (0.6, 0.06), (0.93, 0.026), (1.0, 0.01)),
            ),
            70,
            gill_plate=False,
            landmarks=Landmarks(eye_u=0.13, eye_size=0.07, gill_u=0.3),
        ),
        Shape(
            "spoon-flat",
            say("spoon, flat"),
            Outline(
                ((0.0, 0.012), (0.3, 0.10), (0.65, 0.135), (0.9, 0.09), (1.0, 0.012)),
                ((0.0, -0.012), (0.3, -0.10), (0.65, -0.135), (0.9, -0.09), (1.0, -0.012)),
                ((0.0, 0.006), (0.1, 0.010), (0.9, 0.010), (1.0, 0.006)),
                3.0,
            ),
            60,
            say("metal"),
            gill_plate=False,
            eye_sockets=False,
        ),
        Shape(
            "spoon-six",
            say("spoon, six-sided"),
            Outline(
                ((0.0, 0.03), (0.08, 0.075), (0.85, 0.095), (1.0, 0.03)),
                ((0.0, -0.03), (0.08, -0.075), (0.85, -0.095), (1.0, -0.03)),
                ((0.0, 0.015), (0.08, 0.042), (0.85, 0.052), (1.0, 0.015)),
                1.5,
                facets=2,
            ),
            75,
            say("metal"),
            gill_plate=False,
            eye_sockets=False,
        ),
        Shape(
            "soft-minnow",
            say("soft minnow"),
            _ellipse(0.072, 0.078, 0.050, deepest=0.3, tail=0.18),
            100,
            say("soft plastic"),
            fittings=(tail(0.055, long=0.10, stuff="soft", painted=True),),
            scales=0.022,
            metal_eyelets=(),
        ),
        Shape(
            "wide-side",
            say("flat-sided"),
            _ellipse(0.125, 0.130, 0.040, deepest=0.4, tail=0.2, power=3.4),
            65,
            say("wood"),
            fittings=(bill(long=0.17, down=0.10, high=-0.06, form="coffin"),),
            landmarks=Landmarks(eye_u=0.11, eye_size=0.065, gill_u=0.27, fins=((0.33, 0.31, 0.09),)),
        ),
        Shape(
            "lipless",
            say("without a bill"),
            _ellipse(0.150, 0.150, 0.058, deepest=0.34, tail=0.2, power=2.6),
            70,
            landmarks=Landmarks(eye_u=0.10, eye_size=0.06, gill_u=0.26, fins=((0.32, 0.31, 0.09),)),
            scales=0.030,
            metal_eyelets=((0.27, 0.145), (1.0, 0.0)),
        ),
        Shape(
            "square-bill",
            say("square-billed"),
            _ellipse(0.155, 0.165, 0.120, deepest=0.38, tail=0.22, power=2.3),
            60,
            fittings=(bill(long=0.17, down=0.10, high=-0.07, form="square"),),
            landmarks=Landmarks(eye_u=0.13, eye_size=0.075, gill_u=0.3, fins=((0.37, 0.3, 0.11),)),
            scales=0.036,
        ),
        Shape(
            "paddle-tail",
            say("paddle-tailed"),
            _ellipse(0.085, 0.092, 0.070, deepest=0.26, tail=0.16),
            110,
            say("soft plastic"),
            fittings=(paddle(),),
            landmarks=Landmarks(eye_u=0.075, eye_size=0.042, gill_u=0.2, fins=((0.25, 0.32, 0.06),)),
            scales=0.022,
            metal_eyelets=(),
        ),
        Shape(
            "blade",
            say("blade"),
            Outline(
                ((0.0, 0.0), (0.04, 0.05), (0.35, 0.150), (0.7, 0.105), (0.93, 0.035), (1.0, 0.0)),
                ((0.0, 0.0), (0.04, -0.05), (0.35, -0.125), (0.7, -0.085), (0.93, -0.03), (1.0, 0.0)),
                ((0.0, 0.004), (0.1, 0.012), (0.9, 0.012), (1.0, 0.004)),
                3.0,
            ),
            55,
            say("metal"),
            landmarks=Landmarks(eye_u=0.12, eye_size=0.06, gill_u=0.27, fins=((0.33, 0.31, 0.09),)),
            metal_eyelets=((0.30, 0.15), (0.40, 0.152), (0.50, 0.143)),
        ),
        Shape(
            "jig-head",
            say("jig head"),
            _ellipse(0.34, 0.34, 0.33, deepest=0.45, tail=0.45),
            18,
            say("metal"),
            gill_plate=False,
            landmarks=Landmarks(eye_u=0.3, eye_v=0.22, eye_size=0.26, gill_u=0.48),
            metal_eyelets=((0.3, 0.33),),
        ),
        Shape(
            "propellers",
            say("with propellers"),
            _ellipse(0.072, 0.072, 0.070, deepest=0.45, tail=0.4),
            100,
            fittings=(propeller(-0.012), propeller(1.012)),
            landmarks=Landmarks(eye_u=0.12, eye_size=0.05, gill_u=0.26, fins=((0.32, 0.3, 0.07),)),
        ),
        Shape(
            "walker",
            say("walking bait"),
            _ellipse(0.080, 0.086, 0.078, deepest=0.5, tail=0.55, power=2.0),
            110,
            landmarks=Landmarks(eye_u=0.11, eye_size=0.05, gill_u=0.25, fins=((0.31, 0.3, 0.07),)),
            scales=0.024,
        ),
    )
}
