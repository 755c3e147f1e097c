"""The JSON documents that the command line and the HTTP API speak. Lengths in µm, coefficients in 1/µm of wet film."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Discriminator, Field, Tag, ValidationError

from diachrom.core.film.flakes import LARGEST_TILT_DEG, MATERIALS, MOST_COVER, SMALLEST_TILT_DEG, THICKEST_NM
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import MOST_PER_UM, USUAL_BLEED
from diachrom.core.film.phase import MOST_FORWARD
from diachrom.core.film.surface import MATTE, sheen_of
from diachrom.core.light.bands import BANDS
from diachrom.core.mix.cup import LARGEST_DROP_ML, MOST_DROPS, SMALLEST_DROP_ML, USUAL_DROP_ML
from diachrom.core.mix.layers import MOST_COATS, MOST_LAYERS, THICKEST_COAT_UM, THICKEST_DISC_UM
from diachrom.core.mix.prediction import ANGLES_DEG, LARGEST_ANGLE_DEG
from diachrom.words import say

Finite = Annotated[float, Field(allow_inf_nan=False)]
Coordinate = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]  # of L*, a*, b*
Coefficient = Annotated[float, Field(ge=0, le=MOST_PER_UM, allow_inf_nan=False)]
Reflectance = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Whole = Annotated[int, Field(ge=0, le=MOST_DROPS)]
Spectrum = Annotated[list[Coefficient], Field(min_length=BANDS, max_length=BANDS)]


class Document(BaseModel):
    model_config = ConfigDict(extra="forbid")


class FlakeProfile(Document):
    """The flakes in a paint."""

    material: Literal[tuple(MATERIALS)] = Field(description="what they are made of")  # type: ignore[valid-type]
    cover_per_um: float = Field(gt=0, le=MOST_COVER, description="area covered by those in 1 µm of wet film")
    thickness_nm: float | None = Field(
        default=None, ge=0, le=THICKEST_NM, description="of the oxide on a pearl, or of the spacer of a colour-shift"
    )
    tilt_deg: float = Field(default=6.0, ge=SMALLEST_TILT_DEG, le=LARGEST_TILT_DEG, description="how flat they lie")
    sparkle: bool = False


class FluorescenceProfile(Document):
    """A dye that gives light back."""

    absorbs_nm: float = Field(ge=300, le=700)
    absorbs_width_nm: float = Field(default=35, ge=0.1, le=200, description="standard deviation")
    strength_per_um: float = Field(gt=0, le=MOST_PER_UM, description="of its absorption at the peak")
    emits_nm: float = Field(ge=380, le=730)
    emits_width_nm: float = Field(default=22, gt=1, le=200)
    quantum_yield: float = Field(ge=0, le=1, description="photons made for photons absorbed")
    ultraviolet: float = Field(
        default=0.0, ge=0, le=1, description="of its absorption at the peak, what it takes in from 340 to 375 nm"
    )


class GlowProfile(Document):
    """A powder that stores light."""

    emits_nm: float = Field(ge=380, le=730)
    emits_width_nm: float = Field(default=35, gt=1, le=200)
    strength_per_um: float = Field(ge=0, le=1)
    decay: float = Field(default=1.0, gt=0, le=5)
    half_minutes: float = Field(default=1.0, ge=1e-3, le=600)


class Satin(Document):
    """An uncleared surface by what it sends into every direction: 0 is a gloss, 0.04 is matte."""

    sheen: float = Field(ge=0, le=round(MATTE, 6), description="a radiance factor")


def _surface_form(value: Any) -> str:
    return "satin" if isinstance(value, (dict, Satin)) else "cleared"


ClearCoat = Annotated[
    Annotated[bool, Tag("cleared")] | Annotated[Satin, Tag("satin")],
    Discriminator(_surface_form),
    Field(description="true, false for matte, or a satin's sheen"),
]


def sheen(given: bool | Satin) -> float:
    """Of a document's surface."""
    return given.sheen if isinstance(given, Satin) else sheen_of(clear_coat=given)


def _usual_bleed(value: Any) -> Any:
    return USUAL_BLEED if value is True else value


class Profile(Document):
    """A paint given in place: transport coefficients per band, 380 to 730 nm."""

    name: str = Field(default="paint given in place", max_length=200)
    kind: Literal[tuple(KINDS)] = "transparent"  # type: ignore[valid-type]
    absorption: Spectrum
    scattering: Spectrum
    uncertainty: float = Field(default=0.1, ge=0, le=1, description="relative, one standard deviation of its strength")
    flake: FlakeProfile | None = None
    fluorescence: FluorescenceProfile | None = None
    glow: GlowProfile | None = None
    bleeds: Annotated[float, BeforeValidator(_usual_bleed)] = Field(
        default=0.0, ge=0, le=1, description="share of its load that each coat above takes up; true for a usual one"
    )
    anisotropy: float | None = Field(
        default=None,
        ge=0,
        le=MOST_FORWARD,
        description="mean cosine of its scattering; without it the one that all pigments share",
    )
    version: Literal[1, 2] = Field(
        default=2,
        description="of what yield and glow mean: 1, in documents of before, 2.25 times of what leaves a film",
    )
    even: bool = Field(default=False, description="fitted as an even film: where the bench lays dots, it lays none")


TOLD = say("tells of the paint and is ignored here")


class GivenProfile(Profile):
    """A profile as a paint, with what the answers of profile and guess tell of it beside: that is ignored."""

    uncertain_bands: list[float] | None = Field(default=None, description=TOLD)
    saturated_bands: list[float] | None = Field(default=None, description=TOLD)
    fit_delta_e: float | None = Field(default=None, description=TOLD)
    guess: bool | None = Field(default=None, description=TOLD)
    met_delta_e: float | None = Field(default=None, description=TOLD)
    droplet_um: float | None = Field(default=None, description=TOLD)


def _paint_form(value: Any) -> str:
    return "profile" if isinstance(value, (dict, Profile)) else "id"


AnyPaint = Annotated[
    Annotated[str, Field(max_length=200), Tag("id")] | Annotated[GivenProfile, Tag("profile")],
    Discriminator(_paint_form),
]


DropletUm = Annotated[float, Field(ge=0, le=THICKEST_DISC_UM, allow_inf_nan=False)]


class Part(Document):
    """Drops of one paint."""

    paint: AnyPaint = Field(description="the id of a paint on the shelf, or a profile")
    drops: Whole
    drop_ml: float | None = Field(
        default=None,
        ge=SMALLEST_DROP_ML,
        le=LARGEST_DROP_ML,
        description=f"without it the bottle's own drop, or {USUAL_DROP_ML} ml for a profile given in place",
    )
    bottle: int | None = Field(default=None, description="as a recipe of the bench tells it; ignored here")


class Layer(Document):
    """Some coats of one mix."""

    parts: list[Part] = Field(min_length=1, max_length=100)
    film_um: float = Field(default=8.0, ge=0, le=THICKEST_COAT_UM, allow_inf_nan=False, description="wet, one coat")
    coats: int = Field(default=1, ge=1, le=MOST_COATS)
    sealed: bool = Field(default=False, description="what bleeds stays where it is")
    droplet_um: DropletUm | None = Field(
        default=None,
        description="thickness of a disc of mist once laid, um; 0 is an even film; without it the bench's own, and 0"
        " where a paint of the document is given in place",
    )


class GivenGround(Document):
    """A ground by its own internal, diffusing reflectance."""

    reflectance: Annotated[list[Reflectance], Field(min_length=BANDS, max_length=BANDS)]


def _ground_form(value: Any) -> str:
    return "given" if isinstance(value, (dict, GivenGround)) else "key"


AnyGround = Annotated[
    Annotated[str, Field(max_length=200), Tag("key")] | Annotated[GivenGround, Tag("given")],
    Discriminator(_ground_form),
]


class PredictRequest(Document):
    """A stack of coats on a ground, bottom layer first."""

    ground: AnyGround = "white"
    layers: list[Layer] = Field(max_length=MOST_LAYERS)
    clear_coat: ClearCoat = True
    light: str = Field(default="D65", max_length=200, description="a light, water@metres, or dark@minutes")
    angles: list[Annotated[Finite, Field(ge=0, le=LARGEST_ANGLE_DEG)]] = Field(
        default=list(ANGLES_DEG), max_length=181, description="aspecular, degrees"
    )

    def paint_ids(self) -> set[str]:
        """The paints that must be looked up on a shelf."""
        return {part.paint for layer in self.layers for part in layer.parts if isinstance(part.paint, str)}

    @property
    def of_shelf(self) -> bool:
        """Whether all of its paints are a shelf's."""
        return all(isinstance(part.paint, str) for layer in self.layers for part in layer.parts)


def _measured_form(value: Any) -> str:
    if isinstance(value, dict):
        return next((key for key in ("lab", "srgb") if key in value), "reflectance")
    return "lab" if isinstance(value, MeasuredLab) else "srgb" if isinstance(value, MeasuredHex) else "reflectance"


class MeasuredSpectrum(Document):
    reflectance: Annotated[list[Reflectance], Field(min_length=BANDS, max_length=BANDS)]


class MeasuredLab(Document):
    """A colour under D65; it is taken to be a smooth spectrum."""

    lab: Annotated[list[Coordinate], Field(min_length=3, max_length=3)]


class MeasuredHex(Document):
    srgb: str = Field(pattern="^#?[0-9a-fA-F]{6}$", description="#rrggbb")


Measured = Annotated[
    Annotated[MeasuredSpectrum, Tag("reflectance")]
    | Annotated[MeasuredLab, Tag("lab")]
    | Annotated[MeasuredHex, Tag("srgb")],
    Discriminator(_measured_form),
]


class Colour(Document):
    radiance_factor: list[float]
    lab: list[float]
    srgb: str
    in_gamut: bool


class PredictAnswer(Document):
    """Per angle: radiance_factor, lab, srgb, in_gamut, in the order of `angles`."""

    wavelengths: list[float]
    angles: list[float]
    radiance_factor: list[list[float]]
    lab: list[list[float]]
    srgb: list[str]
    in_gamut: list[bool]
    diffuse: Colour
    cup: Colour | None = Field(description="null when nothing in the top layer's mix colours")
    contrast_ratio: float
    spread_delta_e: float
    spread_cause: str


class Refusal(Document):
    """What is wrong, in a sentence, and where."""

    error: str
    field: str | None = None


_TAGS = {"id", "profile", "key", "given", "still", "turning", "cleared", "satin"}
IN_FIELD = "in_field"  # of what a document as a whole says wrong; its context names the field
_FORMS = {"reflectance", "lab", "srgb"}  # tags that are also the name of the field below them


def first_problem(problem: ValidationError | list[Any]) -> tuple[str, str]:
    """The first thing that is wrong with a document: (field, sentence)."""
    errors = problem.errors(include_url=False) if isinstance(problem, ValidationError) else problem
    error = errors[0]
    steps = [str(step) for step in error["loc"] if step not in _TAGS and step != "body"]
    place = [step for index, step in enumerate(steps) if step not in _FORMS or index == 0 or steps[index - 1] != step]
    field = ".".join(place) or "document"
    message = error["msg"]
    if error["type"] == IN_FIELD:
        return error["ctx"]["field"], f"{message}."
    given = error.get("input")
    match error["type"]:
        case "missing":
            return field, say("{field} is missing.", field=field)
        case "extra_forbidden":
            return field, say("{field} is not a field of this document.", field=field)
        case "json_invalid":
            return "document", say("The document is not valid JSON: {error}.", error=error["ctx"]["error"])
    shown = f", not {given!r}" if isinstance(given, (int, float, str, bool)) and len(repr(given)) < 60 else ""
    return field, f"{field}: {message[0].lower()}{message[1:]}{shown}."
