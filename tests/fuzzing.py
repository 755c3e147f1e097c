"""Requests that nobody means: every route, with every field that it takes, filled with whatever can be sent."""

import io
import json
import re

from awkward import ODD_GROUNDS, ODD_TEXTS
from PIL import Image

HUGE = (
    "9" * 5000,
    str(10**30),
    "-1",
    "0",
    "1",
    "22",
    "900",
    "1e-5",
    "5e-324",
    "nan",
    "inf",
    "-0",
    "1_0",
    "٣",
    "1,5",
    "½",
)
TEXTS = (
    *ODD_TEXTS[:6],
    *ODD_GROUNDS,
    *HUGE,
    "x" * 3000,
    "Rav Gull",
    "🐟\r\nSet-Cookie: a=b",
    "' OR 1=1 --",
    "{{7*7}}",
    "../../etc/passwd",
    "#c85a28",
    "50 20 30",
    "22x3-18x6",
    " " * 1400,
    "5\nab\ncd",
    "white",
    "recipe:14:1",
    "green-lake@8",
    "dark@5",
    "true",
    "percent",
)
PNG = io.BytesIO()
Image.new("RGB", (60, 40), (120, 90, 60)).save(PNG, "PNG")
FILES = (
    PNG.getvalue(),
    PNG.getvalue(),
    b"",
    b"\x00" * 50,
    b"BEGIN_DATA_FORMAT\n" + b"\n" * 60_000,
    b"PK\x03\x04junk",
    b'{"format": "diachrom-shelf", "version": 1}',
    b'{"format": "diachrom-shelf", "version": 1, "paints": [{"id": "..", "name": " "}]}',
    b"\x89PNG\r\n\x1a\n" + b"\x00" * 30,
    b"<a/>",
    b"name,kind\nTorv Sot,opaque\n",
    b"\n".join(b"%d 0.5" % nm for nm in range(380, 740, 10)),
    b"NUMBER_OF_SETS " + b"9" * 5000 + b"\nBEGIN_DATA_FORMAT\nSPEC_400\nEND_DATA_FORMAT\nBEGIN_DATA\n1\nEND_DATA\n",
    b"GIMP Palette\n1 2 3 x\n" + b" " * 20_000,
)


def routes(app):
    """(methods, path, names of its fields, names of its files) of every route."""
    for route in app.routes:
        if not hasattr(route, "dependant"):
            continue
        fields, files = set(), set()
        todo = [route.dependant]
        while todo:
            one = todo.pop()
            todo += one.dependencies
            for param in [*one.query_params, *one.body_params]:
                kind = str(getattr(param.field_info, "annotation", ""))
                (files if "UploadFile" in kind else fields).add(param.alias)
        yield sorted(route.methods), route.path, sorted(fields), sorted(files)


COMMON = ("ground", "coats", "film_um", "name", "line", "kind", "size_ml", "left_ml", "ml", "colour", "what", "drop_ul")


def document(random):
    """A JSON document for the API, nearly right."""
    part = {
        "paint": random.choice(["rav-gull", "odd-4", "..", "", {"absorption": [0.1] * 36, "scattering": [1e308] * 36}])
    }
    part["drops"] = random.choice([1, 0, -1, 10**30, "x", 2.5])
    layer = {"parts": [part], "film_um": random.choice([8, 5e-324, -1, 1e300]), "coats": random.choice([1, 0, 10**18])}
    whole = {
        "ground": random.choice(TEXTS),
        "layers": [layer] * random.choice([0, 1, 50]),
        "light": random.choice(TEXTS),
        "target": random.choice([{"lab": [1e300, 0, 0]}, {"srgb": "#c85a28"}, {"lab": ["x"]}, 7]),
        "film_um": random.choice([8, 0, "x"]),
        "paints": random.choice([["rav-gull"], [], 7, None]),
        "over_white": {"lab": [50, 0, 0]},
        "max_paints": random.choice([1, 99]),
    }
    keep = random.sample(sorted(whole), random.randrange(len(whole) + 1))
    text = json.dumps({key: whole[key] for key in keep})
    return random.choice([text, text[:-1], "[" * 3000, "", "null", text.replace("8", "NaN")])


def request(random, known):
    """(method, path, arguments for the client) of one request."""
    methods, path, fields, files = random.choice(known)
    method = random.choice([*methods, *methods, "POST", "PUT"]) if random.random() < 0.05 else random.choice(methods)
    path = re.sub(
        r"{\w+[^}]*}",
        lambda _: random.choice(["22", "900", "1", "10", "90", "rav-gull", "odd-4", "bare", *HUGE[:3]]),
        path,
    )
    names = [*fields, *random.sample(COMMON, 3)]
    values = {name: random.choice(TEXTS) for name in names if random.random() < 0.8}
    headers = random.choice([{}, {"HX-Request": "true"}])
    if path.startswith("/api/"):
        return (
            method,
            path,
            {"content": document(random).encode("utf-8", "replace"), "headers": {"content-type": "application/json"}},
        )
    if method == "GET":
        return method, path, {"params": {key: value[:2000] for key, value in values.items()}, "headers": headers}
    if files and random.random() < 0.9:
        name = random.choice(["a.csv", "x" * 300, "", "a\nb", "🐟.xlsx", "shelf.json"])
        given = {"files": {one: (name, random.choice(FILES)) for one in files}}
        return method, path, {"data": values, "headers": headers, **given}
    return method, path, {"data": values, "headers": headers}
