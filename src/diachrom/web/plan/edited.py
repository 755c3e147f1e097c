"""The layer that is worked on, as its form shows it."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.bait.mask import Field
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import MASK, UNMASK, WHATS, Layer, Plan
from diachrom.web.kit.choices import Choice
from diachrom.web.plan.layer_view import LayerView
from diachrom.words import capitalized, listed, quantity, say
from diachrom.work.kit.airbrushes import Airbrush
from diachrom.work.plan import hand_work


@dataclass(frozen=True)
class FieldView:
    """A figure of a mask as it is typed."""

    key: str
    words: str
    unit: str
    value: str
    least: float
    most: float


@dataclass(frozen=True)
class EditedLayer:
    seen: LayerView
    layer: Layer
    sprayed: bool
    paints: bool
    masks: bool  # it puts a mask on
    unmasks: bool
    brushed: bool  # it can be laid by hand
    strokes: Sequence[Choice]
    worn: str  # what lies on the bait meanwhile, in words
    on: Sequence[Choice]  # masks that it may take off
    fields: Sequence[FieldView]
    random: bool
    moves: bool  # its mask has a place on the bait
    note: str
    lands: str  # what is to be said of where it lands
    edges: str  # of its region, in words
    ends: Sequence[tuple[str, str, float]]  # the same to be typed: key, words, mm
    box: dict[str, float]
    softness_mm: float
    airbrush: str  # in the hand, in words
    differs: str  # what this layer wants otherwise


def edited_layer(layer: Layer, view: LayerView, plan: Plan, lands: str, mine: Airbrush) -> EditedLayer:
    """A layer with all that its form asks for."""
    way, surface = MASKS[layer.mask.kind], plan.blank.surface()
    box, girth = layer.edges(plan.blank.form.landmarks), surface.girth_mm
    return EditedLayer(
        seen=view,
        layer=layer,
        sprayed=WHATS[layer.what].sprayed,
        paints=WHATS[layer.what].paint,
        masks=layer.what == MASK,
        unmasks=layer.what == UNMASK,
        brushed=layer.what != "wash" and (WHATS[layer.what].paint or WHATS[layer.what].takes),
        strokes=[Choice(str(at), hand_work.words(one, surface)) for at, one in enumerate(layer.strokes, start=1)],
        worn=listed(_mask_words(one) for one in plan.worn(layer.number)),
        on=[
            *(Choice(str(one.number), _mask_words(one)) for one in plan.worn(layer.number)),
            Choice("", say("all masks")),
        ],
        fields=[_field(field, getattr(layer.mask, field.key)) for field in way.fields],
        random=way.random,
        moves=layer.mask.kind in ("net", "comb", "bars", "stencil", "dagger", "rays"),
        note=way.note,
        lands=lands,
        edges=say(
            "{u0} to {u1} % from nose to tail, {v0} to {v1} % from spine to belly",
            u0=quantity(100 * box.u0, ".0f"),
            u1=quantity(100 * box.u1, ".0f"),
            v0=quantity(200 * box.v0, ".0f"),
            v1=quantity(200 * box.v1, ".0f"),
        ),
        ends=[
            ("nose_from", say("From the nose"), box.u0 * surface.length_mm),
            ("nose_to", say("to"), box.u1 * surface.length_mm),
            ("spine_from", say("From the spine"), box.v0 * girth),
            ("spine_to", say("to"), box.v1 * girth),
        ],
        box={"u0": box.u0, "u1": box.u1, "v0": box.v0, "v1": box.v1},
        softness_mm=layer.softness_mm,
        airbrush=say("{name}: {words}", name=mine.name or say("My airbrush"), words=mine.words),
        differs=listed(f"{words} {value}" for words, value in mine.differs(layer)),
    )


def _mask_words(mask: Layer) -> str:
    return mask.name or capitalized(MASKS[mask.mask.kind].words)


def _field(field: Field, value: float) -> FieldView:
    scale = 100 if field.unit == "%" else 1 / field.times
    told = quantity(scale * value, ".0f" if field.unit == "%" else "g" if field.times == 1 else ".3g")
    return FieldView(field.key, field.words, field.unit, told, least=scale * field.least, most=scale * field.most)
