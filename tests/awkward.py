# ruff: noqa: E501
"""A data folder full of rows that nobody could have written by the pages: each is allowed by its table."""

import json
import sqlite3
from contextlib import closing

from diachrom.store.connection import database

CURVE = json.dumps([0.1] * 36)
LONG = "Torv Sot med eit svaert langt namn som ingen kan lese paa ei flaske i regnet"
# What stands where a time, a day or a name is kept.
ODD_TEXTS = ("", "then", "2026-99-99", "0001-01-01T00:00:00+00:00", "9999-12-31T23:59:59+00:00", "a\0b", "<b>\ud7ff")
ODD_GROUNDS = ("mud", "", "recipe:", "recipe:9999:1", "recipe:14:3", "recipe:99999999999999999999:1", "recipe:x:y")
ODD_JSON = ("null", "[]", "{}", "7", '"x"', "[[1]]", '{"parts": 3}', '{"parts": [null, {"bottle": "x"}], "ground": 4}')
ODD_DRAFTS = (
    *ODD_JSON,
    json.dumps(
        {"parts": [{"bottle": 10**30, "drops": 1, "drop_ml": 0.05}, {"bottle": 999, "drops": 2, "drop_ml": 0.05}]}
    ),
    json.dumps({"parts": [{"bottle": 22, "drops": -5, "drop_ml": 0.05}, {"bottle": 23, "drops": 9, "drop_ml": 1e300}]}),
    json.dumps({"parts": [{"bottle": 22, "drops": 9, "drop_ml": 0.05}], "film_um": 5e-324, "coats": 10**18, "name": 5}),
    json.dumps({"parts": [{"bottle": 22, "drops": 9, "drop_ml": 0.05}], "film_um": 200, "coats": 50, "ground": "mud"}),
    json.dumps(
        {
            "parts": [{"bottle": 22, "drops": 9, "drop_ml": 0.05}],
            "light": "moon",
            "nozzle_mm": "x",
            "ground": "recipe:14:1",
        }
    ),
)
ODD_PROFILES = (
    ("[" + ",".join(["1e308"] * 36) + "]", CURVE, "{}"),
    (json.dumps(["x"] * 36), CURVE, "{}"),
    (json.dumps([-1.0] * 36), CURVE, "{}"),
    (json.dumps([None] * 36), CURVE, "{}"),
    (CURVE, CURVE, '{"flake": {"material": "cheese", "cover_per_um": 1}}'),
    (CURVE, CURVE, '{"flake": 3}'),
    (CURVE, CURVE, '{"fluorescence": {"absorbs_nm": 0}, "glow": [], "bleeds": "x"}'),
    (
        CURVE,
        CURVE,
        '{"glow": {"emits_nm": 520, "emits_width_nm": 0, "strength_per_um": 1e300, "decay": 1, "half_minutes": 0}}',
    ),
    (CURVE, CURVE, "[]"),
)


def spoil(folder):
    """Spoil a copy of the demo bench, table by table; returns the paints, bottles, recipes and cards to look at."""
    with closing(sqlite3.connect(database(folder), isolation_level=None)) as db:
        db.execute("PRAGMA foreign_keys = ON")
        _paints(db)
        _bottles(db)
        _recipes(db)
        _cups(db)
        _cards(db)
        _rest(db)
        _plans(db)
        _orders(db)
        _sessions(db)
        db.execute("UPDATE revision SET n = n + 1")


def _paints(db):
    for at, (absorption, scattering, optics) in enumerate(ODD_PROFILES):
        name = ("x" if at else "a\0b") + str(at)
        db.execute("INSERT INTO paint (id, line, name, kind) VALUES (?, 'Odd', ?, 'transparent')", [f"odd-{at}", name])
        db.execute(
            "INSERT INTO paint_profile (paint_id, version, absorption, scattering, uncertainty, optics, source, at)"
            " VALUES (?, 1, ?, ?, 0.1, ?, '', ?)",
            [f"odd-{at}", absorption, scattering, optics, ODD_TEXTS[at % len(ODD_TEXTS)]],
        )
        if at == 2:
            db.execute("INSERT INTO paint_colour VALUES (?, 1, 1e300, -1e300, 9e999)", [f"odd-{at}"])
    db.execute("INSERT INTO paint (id, line, name, kind, price) VALUES ('odd-kind', '', ?, 'varnish', 9e999)", [LONG])
    db.execute("INSERT INTO paint (id, line, name, kind) VALUES ('bare', 'No', 'profile', 'opaque')")
    db.execute("INSERT INTO paint (id, line, name, kind) VALUES ('a/b', 'Odd', '..', 'candy')")
    db.execute("INSERT INTO paint (id, line, name, kind) VALUES ('..', '', '<script>', 'pearl')")
    for paint in ("odd-kind", "a/b"):
        db.execute(
            "INSERT INTO paint_profile (paint_id, version, absorption, scattering, uncertainty, source, at, uncertain_nm)"
            " VALUES (?, 3, ?, ?, 1, '', '', '{\"a\": 1}')",
            [paint, CURVE, CURVE],
        )


def _bottles(db):
    paints = [row[0] for row in db.execute("SELECT id FROM paint WHERE line IN ('Odd', 'No', '')")]
    for at, paint in enumerate(paints):
        text = ODD_TEXTS[at % len(ODD_TEXTS)]
        size = (30.0, 1e300, 1e-300, 9e999)[at % 4]
        number = 900 + at
        db.execute(
            "INSERT INTO bottle (id, paint_id, size_ml, drop_ml, state, note, bought_on, opened_on, shaken_on, place)"
            " VALUES (?, ?, ?, 0.5, 'settled', ?, ?, ?, ?, ?)",
            [number, paint, size, text, text, text, text, text],
        )
        for ml in (1e300, 12.0, -(10.0**at)):
            db.execute(
                "INSERT INTO stock_entry (bottle_id, at, kind, ml, note) VALUES (?, ?, 'bought', ?, ?)",
                [number, text, ml, text],
            )
        db.execute(
            "INSERT INTO drop_weighing (bottle_id, at, drops, ml, source) VALUES (?, ?, 9000000000, 1e300, '')",
            [number, text],
        )
        db.execute(
            "INSERT INTO contrast_card (paint_id, at, film_um, coats, clear_coat) VALUES (?, ?, 1e300, 9000000000, 1)",
            [paint, text],
        )
        _on_a_sheet(db, paint, text)
        db.execute("INSERT OR REPLACE INTO setting (key, value) VALUES ('units', ?), ('moon', ?)", [text, text])
        for field in ("white", "black", "over_white", "over_black"):
            for curve in (json.dumps(["x"] * 36), json.dumps([1e300] * 36), json.dumps([0.5] * 36)):
                db.execute(
                    "INSERT INTO contrast_card_reading (card_id, field, at, source, reflectance)"
                    " VALUES ((SELECT max(id) FROM contrast_card), ?, ?, 'moon:light', ?)",
                    [field, text, curve],
                )


def _on_a_sheet(db, paint, text):
    for found in (text, "[]", json.dumps({"absorption": [1e300] * 36, "scattering": "x", "uncertainty": 7})):
        db.execute("INSERT INTO shelf_sheet (at, film_um, bare, photo) VALUES (?, 1e300, ?, ?)", [text, text, text])
        db.execute(
            "INSERT INTO shelf_sheet_pair (sheet_id, number, paint_id, fields, found, before, after)"
            " VALUES ((SELECT max(id) FROM shelf_sheet), 1, ?, ?, ?, -9, 900)",
            [paint, json.dumps([["white", 1, [1e300, "x", 0], 5], ["moon"], 7]), found],
        )


def _recipes(db):
    for at, ground in enumerate(ODD_GROUNDS):
        db.execute("INSERT INTO recipe (number) VALUES (?)", [90 + at])
        for version in (1, 2, 3):
            db.execute(
                "INSERT INTO recipe_version (recipe, version, name, note, ground, film_um, coats, clear_coat, at)"
                " VALUES (?, ?, ?, ?, ?, ?, ?, 1, ?)",
                [
                    90 + at,
                    version,
                    LONG if version == 1 else "x",
                    ODD_TEXTS[at],
                    f"recipe:{90 + at}:{version}" if version == 2 else ground,
                    (1e300, 5e-324, 200.0)[version - 1],
                    (2, 10**18, 50)[version - 1],
                    ODD_TEXTS[at],
                ],
            )
            for position, bottle in enumerate((900, 901 + at, 22), start=1):
                db.execute(
                    "INSERT INTO recipe_part VALUES (?, ?, ?, ?, 500, 0.5)", [90 + at, version, position, bottle]
                )
            story = ODD_JSON[at % len(ODD_JSON)]
            db.execute("INSERT INTO recipe_story VALUES (?, ?, ?)", [90 + at, version, story])
    db.execute("INSERT INTO recipe (number) VALUES (77)")  # without a version
    db.execute("INSERT INTO planned_mix VALUES (90, 1, 9e999, 'then')")
    db.execute("INSERT INTO planned_mix VALUES (91, 2, 1e-300, 'then')")


def _cups(db):
    """The cup on the bench becomes each of the odd ones in turn by `put_cup`; its batch has an odd plan."""
    db.execute("UPDATE cup_batch SET plan = '[7, {\"bottle\": 1}]', target = NULL")
    db.execute("UPDATE cup_step SET at = 'then', verdict = '[1]'")


def put_cup(folder, draft):
    """Let the cup on the bench be this."""
    with closing(sqlite3.connect(database(folder), isolation_level=None)) as db:
        db.execute("UPDATE cup_step SET draft = ? WHERE seq = (SELECT seq FROM cup)", [draft])


def _cards(db):
    for at, draft in enumerate(ODD_DRAFTS):
        number = 900 + at
        db.execute(
            "INSERT INTO test_card (id, at, draft, note) VALUES (?, ?, ?, ?)", [number, ODD_TEXTS[at % 7], draft, LONG]
        )
        for ground in ("white", "black", ODD_GROUNDS[at % len(ODD_GROUNDS)]):
            db.execute(
                "INSERT INTO test_card_patch (card_id, ground, coats) VALUES (?, ?, ?)", [number, ground, at % 3]
            )
            patch = db.execute("SELECT max(id) FROM test_card_patch").fetchone()[0]
            for lab in ('["x", 1, 2]', "[1e300, 0, 0]", "[50, 1, 2]", None):
                db.execute(
                    "INSERT INTO test_card_reading (patch, at, source, lab, predicted) VALUES (?, ?, '', ?, '[null, 1, 2]')",
                    [patch, ODD_TEXTS[at % 7], lab],
                )


def _layers(*some, **more):
    return json.dumps({"layers": [{"number": at, **one} for at, one in enumerate(some)], **more})


ODD_PLANS = (
    *ODD_JSON[:5],
    _layers(*({"what": "recipe", "source": f"recipe:{number}:1"} for number in (90, 91, 77, 9999, 10**30))),
    _layers(*({"what": "paint", "source": f"odd-{at}", "film_um": 200, "coats": 50} for at in range(8))),
    _layers(
        {"what": "moon"},
        {"what": "paint", "source": "a/b", "box": {"u0": 5, "u1": -1}},
        {"what": "paint", "source": "rav-gull", "through": {"kind": "stencil", "stencil": "own:999", "size_mm": 1e300}},
        {"what": "paint", "source": "rav-gull", "through": {"kind": "spots", "size_mm": 0.1, "gap_mm": 0.5}},
        {"what": "swab", "source": 7, "name": LONG * 3},
        {"what": "foil", "source": "mud"},
        *[{"what": "clear", "film_um": 200, "coats": 50}] * 60,
        blank={"shape": "moon", "length_mm": 1e300},
        reference=9999,
        stencils=[["x", [[[1e300, 0], [0, "y"]]]], 7],
    ),
    _layers(
        {"what": "paint", "source": "rav-gull", "through": {"kind": "stencil", "stencil": "x", "size_mm": 30}},
        blank={"own": {"outline": {"upper": [[0, 0], [0, 1]], "lower": [], "half": "x"}}, "length_mm": 80},
        light="moon@9",
        name="a\0b",
    ),
)


def _plans(db):
    for at, document in enumerate(ODD_PLANS):
        number, text = 90 + at, ODD_TEXTS[at % len(ODD_TEXTS)]
        db.execute("INSERT INTO plan (number, seq, opened) VALUES (?, ?, ?)", [number, 1 + at % 3, text])
        db.execute("INSERT INTO plan_step VALUES (?, 1, ?, ?, ?)", [number, text, text, document])
        db.execute("INSERT INTO plan_version VALUES (?, 1, 900, ?, 'x', ?, ?)", [number, text, text, document])
        db.execute("INSERT INTO drawing (kind, name, document, at) VALUES ('stencil', 'x', ?, ?)", [document, text])
        db.execute("INSERT INTO drawing (kind, name, document, at) VALUES ('blank', 'x', ?, ?)", [document, text])
    number = db.execute("SELECT max(id) FROM photo").fetchone()[0]
    if number is not None:
        for ends, zones in (("x", "{}"), ("[[1, 2], [1, 2]]", '[7, {"name": 3}]'), ("null", "[]")):
            db.execute("INSERT INTO reference (photo, ends, zones, at) VALUES (?, ?, ?, 'then')", [number, ends, zones])
            own = json.dumps({"reference": db.execute("SELECT max(id) FROM reference").fetchone()[0]})
            next_number = db.execute("SELECT max(number) + 1 FROM plan").fetchone()[0]
            db.execute("INSERT INTO plan (number, seq, opened) VALUES (?, 1, 'then')", [next_number])
            db.execute("INSERT INTO plan_step VALUES (?, 1, 'then', 'then', ?)", [next_number, own])


ODD_SCHEDULES = (
    *ODD_JSON,
    '{"format": 1}',
    '{"format": 1, "start": "then", "visits": []}',
    json.dumps(
        {
            "format": 1,
            "start": "2026-11-26T18:00:00+00:00",
            "ends": 10**9,
            "hands_end": -5,
            "bound": 0,
            "cleaning": 0,
            "proven": 1,
            "visits": [],
            "sequence": [],
            "mixes": {},
            "lines": {},
            "missed": [],
            "notes": [],
        }
    ),
)


def _orders(db):
    for at, schedule in enumerate(ODD_SCHEDULES):
        number, text = 90 + at, ODD_TEXTS[at % len(ODD_TEXTS)]
        own = [number, LONG, text, text, text, text, schedule]
        db.execute(
            "INSERT INTO bait_order (number, name, wish, due, starts, at, schedule) VALUES (?, ?, ?, ?, ?, ?, ?)", own
        )
        for plan in (90 + at % len(ODD_PLANS), 1):
            db.execute(
                "INSERT INTO order_line (bait_order, plan, version, ordered, baits) VALUES (?, ?, 1, 0, ?)",
                [number, plan, 500 * (at % 2)],
            )
        db.execute("INSERT INTO order_pin VALUES (?, 'x:y:9', ?)", [number, text])
        db.execute("INSERT INTO order_done VALUES (?, 999, 'x', -7, ?)", [number, text])
        db.execute("INSERT INTO order_need VALUES (?, 'odd-1', 1e300)", [number])
        db.execute(
            "INSERT INTO wait_seen (kind, waited_min, asked_min, dry, at) VALUES ('moon', 1e300, 1e-300, 1, ?)", [text]
        )
        db.execute(
            "INSERT INTO bait_stock (plan, version, count, at) VALUES (?, 1, ?, ?)",
            [90 + at % len(ODD_PLANS), 10**15 - 9 * at, text],
        )
    for key in ("bench_time", "drying"):
        db.execute(
            'INSERT OR REPLACE INTO setting (key, value) VALUES (?, \'{"hours": 7, "opaque": {"flash": "x"}}\')', [key]
        )


ODD_SCRIPTS = (
    *ODD_JSON,
    json.dumps({"steps": [{"key": "x", "kind": "moon", "words": LONG, "plan": 9999, "steps": 3, "pours": [[1]]}, 7]}),
    json.dumps(
        {
            "steps": [
                {"key": "x", "kind": "clear", "words": LONG, "plan": 93, "version": 1, "layer": 1, "steps": "x"},
                {
                    "key": "y",
                    "kind": "spray",
                    "words": "",
                    "plan": 1,
                    "version": 99,
                    "layer": 1,
                    "first": "x",
                    "last": 9e9,
                },
                {"key": "z", "kind": "eyes", "words": "", "eyes": 999, "dries_s": -5, "closes_s": "x", "notes": [7]},
            ],
            "before": 7,
        }
    ),
    json.dumps({"steps": [{"key": "x", "kind": "make", "words": "", "cautions": ["moon"], "figures": [["a", 1]]}]}),
)
ODD_STATES = (
    json.dumps(
        {
            "position": 0,
            "again": [{"at": 0, "of": "x", "key": "x+1"}, {"at": "x"}, 7],
            "facts": {"x": {"a_g": 1e300, "b_g": 0}},
            "moments": {"x": 1e300},
            "different": [
                {"kind": "different", "at": 1e300, "step": "x", "what": "coats", "value": "many"},
                {"what": 7},
            ],
            "slips": [{"kind": "slip", "at": "x", "step": "x", "what": "moon", "bait": 99}],
            "photos": [{"kind": "photo", "at": 1, "what": "top", "value": "99999"}],
            "leftovers": [{"kind": "left", "at": 1, "what": "moon", "value": "x"}],
            "timers": [{"key": "x", "words": LONG, "began": 0, "ends": 1e300, "baits": [0, 0, 0]}],
            "shift": 1e300,
        }
    ),
    '{"position": "x"}',
    '{"position": 7}',
    '{"timers": [{"key": "x"}]}',
    '{"drops": 3}',
    '{"slips": [[]]}',
    "[]",
)


def _sessions(db):
    for at, script in enumerate(ODD_SCRIPTS):
        own = [90 + at, LONG, ODD_TEXTS[at % len(ODD_TEXTS)], script, ODD_STATES[at % len(ODD_STATES)]]
        db.execute("INSERT INTO session (number, name, at, script, state) VALUES (?, ?, ?, ?, ?)", own)
        db.execute("INSERT INTO session_event VALUES (?, 1, 'then', ?)", [90 + at, script])
        for side in ("left", "right"):
            db.execute("INSERT INTO photo (at, name, width, height, picture) VALUES ('', 'x', 1, 1, ?)", [b"x"])
            marks = ('{"grey": [1, 1], "nose": [1e300, 1], "tail": [0, "1"]}', "[]", "null")[at % 3]
            db.execute(
                "INSERT INTO session_photo VALUES ((SELECT max(id) FROM photo), ?, ?, ?, ?)",
                [90 + at, side, 10**12, marks],
            )
    for at, told in enumerate(
        (*ODD_JSON, '{"layers": 7, "paint": [[1], ["x", 2, "y", "z"]], "colours": [], "facts": 3}')
    ):
        text = ODD_TEXTS[at % len(ODD_TEXTS)]
        db.execute(
            "INSERT INTO log_entry (number, at, session, line, plan, version, name, baits, minutes, told)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, 500, 1e300, ?)",
            [90 + at, text, 90 + at % 5, at, None if at % 2 else 90 + at % len(ODD_PLANS), at, LONG, told],
        )
        db.execute("INSERT INTO log_fault (entry, at, fault, note) VALUES (?, ?, 'moon', ?)", [90 + at, text, text])
    for at, text in enumerate(ODD_TEXTS):
        db.execute("INSERT INTO eye_stock (size_mm, kind, pairs) VALUES (?, ?, -9999)", [1 + at, text or "x"])
        db.execute(
            "INSERT INTO opened_tin (name, school, opened_on, sealed, keeps_days) VALUES (?, 'moon', ?, ?, 5000)",
            [LONG, text, text],
        )


def _rest(db):
    for views, labs in (("[null]", '[["x", 1, 2]]'), ("[15, 1e300]", "[[1,2,3],[1,2,3]]"), ("[null]", "[[1e300,0,0]]")):
        db.execute(
            "INSERT INTO target (at, name, source, views, labs) VALUES ('then', ?, '', ?, ?)", [LONG, views, labs]
        )
    db.execute(
        "INSERT INTO target (at, name, source, ground, views, labs, reflectance) VALUES ('', 'x', '', 'recipe:96:2',"
        " '[null]', '[[50,20,30]]', ?)",
        [json.dumps(["x"] * 36)],
    )
    db.execute(
        "UPDATE aim SET target_id = (SELECT max(id) FROM target), settings = ?",
        [
            json.dumps(
                {
                    "ground": "mud",
                    "film_um": "x",
                    "coats": 1e300,
                    "max_paints": None,
                    "left_out": [10**30, "x"],
                    "kept_in": [22, 900, 999],
                    "dilution": -4,
                    "max_drops": [1],
                }
            )
        ],
    )
    for document in (
        "{}",
        "[]",
        '{"drops": [7]}',
        '{"cards": "x", "profiles": [{}], "drops": [], "hand": [], "delta_e": []}',
        '{"cards": 1, "profiles": [], "drops": [{"bottle": 22, "before": 0.05, "after": 1e-300}],'
        ' "hand": [1, 2], "delta_e": [1, 2]}',
    ):
        db.execute("INSERT INTO learning (at, document) VALUES ('then', ?)", [document])
    for document, guess in (
        ("{}", None),
        ("[]", "[1]"),
        ('{"shelf": 1, "paints": [1], "sizes": ["x"], "drops": [1]}', "7"),
        ('{"shelf": "own", "paints": ["rav-gull"], "sizes": [0.05], "drops": [3]}', '["x"]'),
        ('{"shelf": "own", "paints": ["gone"], "sizes": [0.05], "drops": [3]}', "[2]"),
    ):
        db.execute(
            "INSERT INTO trainer_round (at, skill, level, document, guess, delta_e) VALUES ('', 'juggling', 9, ?, ?, 1e300)",
            [document, guess],
        )
    db.execute(
        "INSERT OR REPLACE INTO recipe_story VALUES (14, 1, ?)",
        ['[{"verdict": {"words": "too green", "source": "the stick", "lab": [1e300, 0, 0]}}]'],
    )
    db.execute("INSERT INTO overspray (at, on_baits_ml, stays_ml, used_ml) VALUES ('', 1e-300, 1e300, 9e999)")
    db.execute("INSERT INTO photo (id, at, name, width, height, picture) VALUES (900, '', ?, -5, 0, x'00')", [LONG])
    db.execute("INSERT INTO upload (id, at, name, content) VALUES (900, '', 'x', x'7b')")
    db.execute("INSERT INTO shelf_step (at, did) VALUES ('', ?)", [LONG])
    for noun, row_id, was in (
        ("bottle", "x", "[]"),
        ("stock_entry", "nine", "{}"),
        ("paint", "gone", '{"id": 1}'),
        ("paint_profile", "x", "[]"),
    ):
        db.execute(
            "INSERT INTO shelf_change (step, noun, row_id, was, became) VALUES ((SELECT max(id) FROM shelf_step), ?, ?, ?, '{}')",
            [noun, row_id, was],
        )
