"""The OpenAPI description: every property in words with its unit, two examples a document, where it is served."""

import re
from copy import copy
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi
from fastapi.responses import Response
from fastapi.routing import APIRoute

SPECTRUM = "36 values from 380 to 730 nm in steps of 10"
REFLECTANCE = f"{SPECTRUM}: shares of the light from 0 to 1, in air, mirror part excluded"
LAB = "L*, a*, b* under D65 and the 2 degree observer"
# What a property is, wherever it stands; where two of a name differ, by its document.
WORDS = {
    "absorbs_nm": "peak of its absorption, nm",
    "absorption": f"{SPECTRUM}: 1/µm of wet film",
    "angles": "aspecular, degrees, in the order of what is answered",
    "at": "a time, as 2026-03-31T10:00:00+00:00",
    "baits": "how many baits",
    "black": "the bare black of the card",
    "bottle": "a bottle's number",
    "bottles": "in the order in which they came",
    "clear_coat": "it is cleared",
    "coats": "whole number of coats",
    "contrast_ratio": "Y over black by Y over white, 0 to 1; 1 hides",
    "cup": "the top layer's mix, infinitely thick",
    "customer": "whom it is for",
    "decay": "how it fades: (1 + minutes / half_minutes) to the power of minus this",
    "diffuse": "seen without direction: directional-hemispherical, mirror part excluded",
    "drop_ml": "volume of a drop, ml",
    "drops": "whole number of drops",
    "emits_nm": "peak of what it gives back, nm",
    "emits_width_nm": "standard deviation of what it gives back, nm",
    "error": "what is wrong, a sentence",
    "evaluated": "mixes that were looked at",
    "fault": "chipped, tacky, faded, flash, bled, came-back",
    "faults": "what was told of later",
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
    "key": "by which a press names it",
    "kind": "one of opaque, transparent, candy, pearl, metallic, shift, fluorescent, glow, glitter, ink, primer,"
    " reducer, medium",
    "lab": LAB,
    "layer": "a plan's layer",
    "layers": "bottom first",
    "let_down": "the paint once more, mixed with a white one",
    "line": "its number",
    "lines": "what is ordered",
    "log": "in the order in which they were entered",
    "max_drops": "whole number of drops in a cup",
    "max_paints": "whole number of paints in a cup",
    "name": "in words",
    "note": "in words",
    "number": "by which it is named",
    "order": "an order's number",
    "orders": "in the order in which they came",
    "over_black": "the film over the card's black",
    "over_white": "the film over the card's white",
    "parts": "what is in it, by drops",
    "plan": "a plan's number",
    "plans": "in the order in which they came",
    "pours": "what goes into the cup",
    "price": "in the bench's currency",
    "quantum_yield": "share of the light taken that it gives back, 0 to 1",
    "radiance_factor": f"{SPECTRUM}: 1 is a perfect white; more where flakes mirror or dyes shine",
    "recipes": "best first",
    "reflectance": REFLECTANCE,
    "scattering": f"{SPECTRUM}: 1/µm of wet film, reduced by its forward part",
    "seconds": "time that it took, s",
    "session": "a session's number",
    "sessions": "in the order in which they began",
    "sparkle": "few and large: they are seen one by one",
    "spread_cause": "what it comes from most, in words: the coat's thickness, a paint's drops, a paint's profile",
    "spread_delta_e": "nine of ten sprayings stay within it, CIEDE2000",
    "srgb": "#rrggbb",
    "step": "the key of a step",
    "strength_per_um": "1/µm of wet film",
    "timers": "what dries meanwhile",
    "value": "a figure of it",
    "version": "whole number, from 1",
    "wavelengths": "nm",
    "what": "which of its kind",
    "white": "the bare white of the card",
    "white_drops": "whole number of drops of the white paint",
    "white_paint": "the profile of the white paint",
    "wish": "what was asked for",
    "words": "told to people",
}
# The files that go out: what each is called, and what it is.
FILES = {
    "/files/shelf.{suffix}": (
        "shelf_file",
        "The shelf: csv, xlsx, json, gpl, ase, cgats or cxf",
        ("text/csv", "application/json", "application/octet-stream", "text/plain", "application/xml"),
    ),
    "/files/bench.zip": ("bench_file", "The whole bench, which an empty folder takes", ("application/zip",)),
    "/shelf/shopping.csv": ("shopping_file", "What is to be bought", ("text/csv",)),
    "/plan/{number}/document.json": ("plan_file", "A plan's document", ("application/json",)),
    "/plan/{number}/picture.png": ("plan_picture", "A bait as it will be", ("image/png",)),
    "/plan/{number}/picture.svg": ("plan_drawing", "The same at its true size", ("image/svg+xml",)),
    "/plan/{number}/card.{kind}": ("plan_card", "A card to show, png or svg", ("image/png", "image/svg+xml")),
    "/orders/{number}/calendar.ics": ("order_calendar", "An order's evenings", ("text/calendar",)),
    "/log/{number}/page.html": ("log_page", "A finished bait's page, for its customer", ("text/html",)),
}
KEY = {
    "type": "http",
    "scheme": "bearer",
    "description": "a key made at On the network; none is needed on the bench's own machine",
}
KRITT = {"paint": "torv-kritt", "drops": 1}
WHITE = {"number": 1, "what": "paint", "source": "grunn-hvit"}
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
    "/api/bottles/{number}/ledger": {
        "a spill": {"kind": "spilled", "ml": 1.5, "note": "over the mat"},
        "what a scale says": {"kind": "corrected", "left_ml": 21.5},
    },
    "/api/recipes": {
        "by a bottle's number": {
            "name": "Char, belly",
            "parts": [{"bottle": 4, "drops": 6}, {"bottle": 5, "drops": 1}],
        },
        "by its paint": {"name": "Char, back", "parts": [{"paint": "torv-sot", "drops": 4}], "ground": "black"},
    },
    "/api/recipes/{number}": {
        "a coat more": {"name": "Char, belly", "parts": [{"bottle": 4, "drops": 6}], "coats": 3},
        "over foil": {"name": "Char, belly", "parts": [{"bottle": 4, "drops": 6}], "ground": "silver-foil"},
    },
    "/api/plans": {
        "a blank": {"format": "diachrom-plan", "version": 2, "name": "A char"},
        "a layer of white": {"format": "diachrom-plan", "version": 2, "layers": [WHITE]},
    },
    "/api/plans/{number}": {
        "renamed and empty": {"format": "diachrom-plan", "version": 2, "name": "Begun anew"},
        "a layer of white": {"format": "diachrom-plan", "version": 2, "layers": [WHITE]},
    },
    "/api/sessions/{number}/press": {
        "go on after a pause": {"kind": "resume"},
        "a step back": {"kind": "back", "value": "1"},
    },
    "/api/log": {
        "a bait of last year": {"name": "Perch, 90 mm", "day": "2025-11-02", "baits": 2, "price": 18},
        "one of today": {"name": "Perch, 90 mm", "customer": "the harbour shop", "minutes": 75},
    },
    "/api/guess": {
        "a blue pearl": {"kind": "pearl", "srgb": "#9ab0e0", "seen": "black-glance"},
        "an opaque that hides": {"kind": "opaque", "srgb": "#445533", "hides": 0.9},
    },
}


_OUT = [re.compile(re.sub(r"\\{\w+\\}", "[^/]+", re.escape(path))) for path in FILES]


def goes_out(path: str) -> bool:
    """Whether a file goes out there, or this description itself."""
    return path == "/openapi.json" or any(known.fullmatch(path) for known in _OUT)


class FileAnswer(Response):
    """Bytes, whatever they are of."""

    media_type = None


def describe(app: FastAPI) -> None:
    """Put it in the place of what the framework makes by itself."""

    def made() -> dict[str, Any]:
        if not app.openapi_schema:
            app.openapi_schema = _described(app)
        return app.openapi_schema

    app.openapi = made  # type: ignore[method-assign]


def _described(app: FastAPI) -> dict[str, Any]:
    routes = {route.path: route for route in app.routes if isinstance(route, APIRoute)}
    files = [_as_file(routes[path], routes["/api/paints"]) for path in FILES]
    told = get_openapi(
        title=app.title,
        version=app.version,
        routes=[*app.routes, *files],
        summary="Mix lure paint by drops and see it as it will be sprayed",
        description="Lengths in µm, coefficients in 1/µm of wet film, volumes in ml, wavelengths in nm.",
        servers=[{"url": "/", "description": "this bench"}],
    )
    told["components"]["securitySchemes"] = {"key": KEY}
    told["security"] = [{}, {"key": []}]
    for schema in told["components"]["schemas"].values():
        for name, own in schema.get("properties", {}).items():
            if "description" not in own and name in WORDS:
                own["description"] = WORDS[name]
    for path, examples in EXAMPLES.items():
        body = told["paths"][path]["post"]["requestBody"]["content"]["application/json"]
        body["examples"] = {name: {"summary": name, "value": value} for name, value in examples.items()}
    return told


def _as_file(route: APIRoute, refusing: APIRoute) -> APIRoute:
    """A route of the pages as the description has it: refused as the other is."""
    own = copy(route)
    own.operation_id, own.summary, media = FILES[route.path]
    forms = {"application/json": {"type": "object"}, "text": {"type": "string"}}
    binary = {"type": "string", "format": "binary"}
    content = {one: {"schema": forms.get(one) or forms.get(one.partition("/")[0], binary)} for one in media}
    own.include_in_schema, own.response_class = True, FileAnswer
    own.responses = {**refusing.responses, 200: {"description": "the file", "content": content}}
    own.response_fields = refusing.response_fields
    return own
