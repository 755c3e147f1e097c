"""The OpenAPI description: every property in words with its unit, two examples a document, where it is served."""

from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

SPECTRUM = "36 values from 380 to 730 nm in steps of 10"
REFLECTANCE = f"{SPECTRUM}: shares of the light from 0 to 1, in air, mirror part excluded"
LAB = "L*, a*, b* under D65 and the 2 degree observer"
# What a property is, wherever it stands; where two of a name differ, by its document.
WORDS = {
    "absorption": f"{SPECTRUM}: 1/µm of wet film",
    "scattering": f"{SPECTRUM}: 1/µm of wet film, reduced by its forward part",
    "absorbs_nm": "peak of its absorption, nm",
    "angles": "aspecular, degrees, in the order of what is answered",
    "black": "the bare black of the card",
    "coats": "whole number of coats",
    "contrast_ratio": "Y over black by Y over white, 0 to 1; 1 hides",
    "cup": "the top layer's mix, infinitely thick",
    "decay": "how it fades: (1 + minutes / half_minutes) to the power of minus this",
    "diffuse": "seen without direction: directional-hemispherical, mirror part excluded",
    "drop_ml": "volume of a drop, ml",
    "drops": "whole number of drops",
    "emits_nm": "peak of what it gives back, nm",
    "emits_width_nm": "standard deviation of what it gives back, nm",
    "error": "what is wrong, a sentence",
    "evaluated": "mixes that were looked at",
    "field": "the place in the document that is at fault",
    "film_um": "one coat, µm wet",
    "films": "a step card: the same paint at several films, thinnest first",
    "flake": "pearl, metal or colour-shift flakes in it",
    "fluorescence": "a dye in it that gives light back",
    "glow": "a powder in it that stores light",
    "ground": "what it lies on: white, black, grey, silver-foil, holo-foil, clear-body, or a reflectance",
    "guess": "true: nobody has measured it",
    "half_minutes": "minutes after which its fading has its form",
    "id": "what other documents name it by",
    "in_gamut": "whether a screen can show it; if not, srgb is the greyed colour that it can",
    "in_stock_ml": "left in all its bottles, ml",
    "kind": "one of opaque, transparent, candy, pearl, metallic, shift, fluorescent, glow, glitter, ink, primer,"
    " reducer, medium",
    "lab": LAB,
    "layers": "bottom first",
    "let_down": "the paint once more, mixed with a white one",
    "max_drops": "whole number of drops in a cup",
    "max_paints": "whole number of paints in a cup",
    "name": "in words",
    "over_black": "the film over the card's black",
    "over_white": "the film over the card's white",
    "parts": "what is in it, by drops",
    "quantum_yield": "share of the light taken that it gives back, 0 to 1",
    "radiance_factor": f"{SPECTRUM}: 1 is a perfect white; more where flakes mirror or dyes shine",
    "recipes": "best first",
    "reflectance": REFLECTANCE,
    "seconds": "time that it took, s",
    "sparkle": "few and large: they are seen one by one",
    "spread_cause": "what it comes from most, in words: the coat's thickness, a paint's drops, a paint's profile",
    "spread_delta_e": "nine of ten sprayings stay within it, CIEDE2000",
    "srgb": "#rrggbb",
    "strength_per_um": "1/µm of wet film",
    "wavelengths": "nm",
    "white": "the bare white of the card",
    "white_drops": "whole number of drops of the white paint",
    "white_paint": "the profile of the white paint",
}
KRITT = {"paint": "torv-kritt", "drops": 1}
GREY = {"reflectance": [0.4] * 36}
EXAMPLES: dict[str, dict[str, Any]] = {
    "/api/predict": {
        "two coats on white": {"ground": "white", "layers": [{"parts": [{"paint": "rav-gull", "drops": 4}, KRITT]}]},
        "a pearl over black, at three angles": {
            "ground": "black",
            "layers": [{"parts": [{"paint": "perlemor-blaa", "drops": 1}], "film_um": 8, "coats": 3}],
            "angles": [15, 45, 110],
        },
    },
    "/api/match": {
        "a colour on white": {"target": {"srgb": "#c85a28"}, "ground": "white", "max_paints": 3, "max_drops": 12},
        "a spectrum, by these paints": {"target": GREY, "paints": ["torv-kritt", "torv-sot"], "order": "nearest"},
    },
    "/api/profile": {
        "one film": {
            "over_white": {"reflectance": [0.6] * 36},
            "over_black": {"reflectance": [0.2] * 36},
            "white": {"reflectance": [0.85] * 36},
            "black": {"reflectance": [0.02] * 36},
            "film_um": 12,
            "clear_coat": True,
            "kind": "opaque",
        },
        "by colours": {
            "over_white": {"srgb": "#d0a070"},
            "over_black": {"lab": [40, 10, 12]},
            "white": {"srgb": "#f4f4f4"},
            "black": {"srgb": "#141414"},
            "film_um": 12,
            "clear_coat": True,
            "kind": "transparent",
        },
    },
    "/api/adjust": {
        "too yellow": {"parts": [{"paint": "rav-gull", "drops": 4}, KRITT], "verdict": "too yellow"},
        "two things at once": {
            "parts": [{"paint": "rav-gull", "drops": 4}, KRITT],
            "verdict": ["too light", "not bright enough"],
            "coats": 3,
        },
    },
    "/api/batch": {
        "a fifth of a millilitre": {"parts": [{"paint": "rav-gull", "drops": 4}, KRITT], "ml": 0.2},
        "no more than that": {"parts": [{"paint": "rav-gull", "drops": 4}, KRITT], "ml": 0.2, "may_change": True},
    },
    "/api/read-list": {
        "three bottles": {"text": "Olive green, 60 ml, opaque\nPearl white 2 oz\nGlow blue 50 g"},
        "in German": {"text": "Dunkelgrün\nPerlweiß 30 ml"},
    },
    "/api/guess": {
        "a blue pearl": {"kind": "pearl", "srgb": "#9ab0e0", "seen": "black-glance"},
        "an opaque that hides": {"kind": "opaque", "srgb": "#445533", "hides": 0.9},
    },
}


def describe(app: FastAPI) -> None:
    """Put it in the place of what the framework makes by itself."""

    def made() -> dict[str, Any]:
        if not app.openapi_schema:
            app.openapi_schema = _described(app)
        return app.openapi_schema

    app.openapi = made  # type: ignore[method-assign]


def _described(app: FastAPI) -> dict[str, Any]:
    told = get_openapi(
        title=app.title,
        version=app.version,
        routes=app.routes,
        summary="Mix lure paint by drops and see it as it will be sprayed",
        description="Lengths in µm, coefficients in 1/µm of wet film, volumes in ml, wavelengths in nm.",
        servers=[{"url": "/", "description": "this bench"}],
    )
    for schema in told["components"]["schemas"].values():
        for name, own in schema.get("properties", {}).items():
            if "description" not in own and name in WORDS:
                own["description"] = WORDS[name]
    for path, examples in EXAMPLES.items():
        body = told["paths"][path]["post"]["requestBody"]["content"]["application/json"]
        body["examples"] = {name: {"summary": name, "value": value} for name, value in examples.items()}
    return told
