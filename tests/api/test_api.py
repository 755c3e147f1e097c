"""The predict document over HTTP and on the command line: the same answer, and every bad one refused by name."""

import json

import numpy as np
import pytest
from command_line import diachrom
from starlette.testclient import TestClient

from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import hex_to_lab
from diachrom.web.app import create_app
from diachrom.work.api import predicting
from diachrom.work.kit import documents

CLEAR = [0.0] * 36
GREY = {"name": "grey", "kind": "opaque", "absorption": [0.05] * 36, "scattering": [0.4] * 36}
CHAR = {
    "ground": "white",
    "layers": [
        {"parts": [{"paint": "rav-gull", "drops": 6}, {"paint": "rav-nype", "drops": 2}], "film_um": 8, "coats": 2}
    ],
    "clear_coat": True,
}


@pytest.fixture(scope="module")
def client(filled):
    with TestClient(create_app(filled), base_url="http://127.0.0.1") as client:
        yield client


def command(content, folder, *arguments):
    given = content if isinstance(content, bytes) else json.dumps(content)
    run = diachrom("predict", "-", "--data", folder, *arguments, input=given)
    return run.returncode, run.stdout, run.stderr


def test_the_answer_has_every_part_and_the_command_line_gives_the_same(client, filled):
    answer = client.post("/api/predict", json=CHAR).raise_for_status().json()
    assert answer["wavelengths"] == list(range(380, 731, 10))
    assert answer["angles"] == [15, 25, 45, 75, 110]
    assert [len(row) for row in answer["radiance_factor"]] == [36] * 5
    assert len(answer["lab"]) == len(answer["srgb"]) == len(answer["in_gamut"]) == 5
    assert answer["diffuse"]["lab"][0] > answer["cup"]["lab"][0]
    assert 0 < answer["contrast_ratio"] < 0.5
    assert answer["spread_delta_e"] > 0
    status, printed, _ = command(CHAR, filled)
    assert status == 0
    assert json.loads(printed) == answer


def test_profiles_given_in_place_need_no_shelf(tmp_path):
    document = {
        "layers": [{"parts": [{"paint": GREY, "drops": 1}], "film_um": 30}],
        "ground": {"reflectance": [0.5] * 36},
    }
    status, printed, _ = command(document, tmp_path / "nowhere")
    assert status == 0
    answer = json.loads(printed)
    assert answer["cup"]["lab"] == pytest.approx(answer["diffuse"]["lab"], abs=3)
    assert not (tmp_path / "nowhere").exists()


def test_a_paint_on_the_shelf_falls_with_its_own_bottles_drop(client):
    def ask(**drop):
        parts = [{"paint": "rav-gull", "drops": 1, **drop}, {"paint": GREY, "drops": 1, "drop_ml": 0.05}]
        return client.post("/api/predict", json={"layers": [{"parts": parts}]}).json()["diffuse"]["lab"]

    assert ask() == ask(drop_ml=0.045)
    assert ask() != ask(drop_ml=0.06)


def test_foil_has_a_glance_and_a_turned_away_side(client):
    answer = client.post("/api/predict", json=CHAR | {"ground": "silver-foil"}).json()
    assert answer["lab"][0][0] > answer["lab"][-1][0] + 20


@pytest.mark.parametrize(
    "paint", ["perlemor-blaa", "malm-solv", "nordlys-fiol", "glo-oransje", "morild-gronn", "lykt-rod"]
)
@pytest.mark.parametrize("ground", ["white", "holo-foil", "clear-body", "glitter"])
def test_every_kind_of_paint_is_answered_over_every_kind_of_ground(client, paint, ground):
    document = {"ground": ground, "layers": [{"parts": [{"paint": paint, "drops": 3}], "coats": 2}]}
    answer = client.post("/api/predict", json=document).raise_for_status().json()
    values = [value for row in answer["radiance_factor"] for value in row] + [*answer["diffuse"]["radiance_factor"]]
    assert all(0 <= value < 60 for value in values)


def test_a_candy_seals_or_bleeds(client):
    def over_candy(sealed):
        layers = [
            {"parts": [{"paint": "lykt-rod", "drops": 1}, {"paint": "tynn-medium", "drops": 2}], "sealed": sealed},
            {"parts": [{"paint": "torv-kritt", "drops": 1}], "film_um": 14},
        ]
        answer = client.post("/api/predict", json={"layers": [one | {"droplet_um": 0} for one in layers]})
        return answer.json()["diffuse"]["lab"]

    assert over_candy(sealed=False)[1] > over_candy(sealed=True)[1] + 6


def test_lights_under_water_and_in_the_dark_are_answered(client):
    shown = {
        light: client.post("/api/predict", json=CHAR | {"light": light}).json()["diffuse"]["lab"]
        for light in ("D65", "tea-stained@2", "turbid@20", "black-light", "dark@5")
    }
    assert shown["dark@5"] == pytest.approx([0, 0, 0], abs=1e-6)
    assert len({tuple(point) for point in shown.values()}) == 5


def part(**changes):
    return CHAR | {"layers": [{"parts": [{"paint": "rav-gull", "drops": 6} | changes]}]}


def profile(**changes):
    return part(paint=GREY | changes)


def flaky(**changes):
    return profile(flake={"material": "pearl", "cover_per_um": 0.05, "thickness_nm": 120} | changes)


def shining(**changes):
    dye = {"absorbs_nm": 520, "strength_per_um": 0.2, "emits_nm": 600, "quantum_yield": 0.5}
    return profile(fluorescence=dye | changes)


BAD = [
    (part(drops=-1), "layers.0.parts.0.drops", "greater than or equal to 0, not -1"),
    (part(drops=2.5), "layers.0.parts.0.drops", "not 2.5"),
    (part(drops=501), "layers.0.parts.0.drops", "less than or equal to 500, not 501"),
    (part(drops=10**40), "layers.0.parts.0.drops", "500"),
    (part(drops=None), "layers.0.parts.0.drops", "integer"),
    (part(drops=float("nan")), "layers.0.parts.0.drops", "finite"),
    (part(drops=0), "layers.0.parts", "The cup is empty"),
    (part(paint="no-such"), "layers.0.parts.0.paint", "no paint with the id 'no-such'"),
    (CHAR | {"layers": [{"parts": [{"paint": "rav-gull"}]}]}, "layers.0.parts.0.drops", "is missing"),
    (CHAR | {"layers": [{"parts": []}]}, "layers.0.parts", "at least 1"),
    ({"ground": "white"}, "layers", "is missing"),
    (profile(absorption=[-0.1] * 36), "layers.0.parts.0.paint.absorption.0", "greater than or equal to 0"),
    (profile(scattering=[float("nan")] * 36), "layers.0.parts.0.paint.scattering.0", "finite"),
    (profile(absorption=[0.1] * 35), "layers.0.parts.0.paint.absorption", "at least 36"),
    (profile(kind="varnish"), "layers.0.parts.0.paint.kind", "opaque"),
    (profile(colour="red"), "layers.0.parts.0.paint.colour", "is not a field"),
    (CHAR | {"ground": "chrome"}, "ground", "no ground called 'chrome'"),
    (CHAR | {"ground": {"reflectance": [1.5] * 36}}, "ground.reflectance.0", "less than or equal to 1"),
    (CHAR | {"light": "sodium"}, "light", "no light called 'sodium'"),
    (CHAR | {"angles": [170]}, "angles.0", "less than or equal to 160"),
    (CHAR | {"layers": CHAR["layers"] * 60}, "layers", "at most 40"),
    (CHAR | {"clear_coat": "perhaps"}, "clear_coat", "boolean"),
    (flaky(cover_per_um=3.0), "layers.0.parts.0.paint.flake.cover_per_um", "less than or equal to 2"),
    (flaky(material="glass"), "layers.0.parts.0.paint.flake.material", "aluminium"),
    (flaky(thickness_nm=5000), "layers.0.parts.0.paint.flake.thickness_nm", "1000"),
    (shining(quantum_yield=1.2), "layers.0.parts.0.paint.fluorescence.quantum_yield", "less than or equal to 1"),
    (shining(quantum_yield=float("nan")), "layers.0.parts.0.paint.fluorescence.quantum_yield", "not nan"),
    (profile(bleeds=2), "layers.0.parts.0.paint.bleeds", "less than or equal to 1"),
    (CHAR | {"light": "green-lake@40"}, "light", "0 to 20 metres"),
    (
        CHAR | {"layers": [{"parts": CHAR["layers"][0]["parts"], "film_um": 200, "coats": 50}]},
        "film_um",
        "at most 5000",
    ),
]


@pytest.mark.parametrize(("document", "field", "says"), BAD)
def test_a_bad_document_is_refused_with_its_field(client, document, field, says):
    answer = client.post("/api/predict", content=json.dumps(document), headers={"content-type": "application/json"})
    assert answer.status_code == (404 if "no-such" in says else 422)
    assert answer.json()["field"] == field
    assert says in answer.json()["error"]


@pytest.mark.parametrize("at", [0, 7, 9, 17])
def test_the_command_line_refuses_in_one_line_with_status_2(filled, at):
    document, field, says = BAD[at]
    status, printed, error = command(document, filled)
    assert (status, printed) == (2, "")
    assert error.count("\n") == 1
    assert field in error
    assert says in error


@pytest.mark.parametrize("content", [b'{"layers": [', b"", b"\xff\xfe\x00", b"[]", b'"white"'])
def test_broken_json_is_said(client, filled, content):
    answer = client.post("/api/predict", content=content, headers={"content-type": "application/json"})
    assert answer.status_code in (400, 422)
    assert answer.json()["error"].strip()
    status, _, error = command(content, filled)
    assert status == 2
    assert error.count("\n") == 1


def test_a_body_over_one_megabyte_is_refused_with_and_without_a_length(client):
    big = b'{"layers": "' + b"x" * 1_000_100 + b'"}'
    for content in (big, iter([big[:600_000], big[600_000:]])):
        answer = client.post("/api/predict", content=content, headers={"content-type": "application/json"})
        assert answer.status_code == 413
        assert "1 MB" in answer.json()["error"]


def test_a_file_that_is_not_there_and_a_folder_without_data_are_named(tmp_path):
    run = diachrom("predict", tmp_path / "none.json")
    assert run.returncode == 2
    assert "none.json cannot be read" in run.stderr
    status, _, error = command(CHAR, tmp_path)
    assert status == 2
    assert "diachrom migrate" in error


def test_the_documents_are_described_for_other_programs(client):
    described = client.get("/openapi.json").json()
    assert {"PredictRequest", "PredictAnswer", "GivenProfile", "Refusal"} <= set(described["components"]["schemas"])
    assert set(described["paths"]["/api/predict"]["post"]["responses"]) >= {"200", "400", "404", "413", "422"}


def card_of(client, paint, **changes):
    """A drawdown card as an outside reader would see it, from the API's own predictions."""
    part = {"paint": paint, "drops": 1}
    fields = {}
    for key in ("white", "black"):
        for name, layers in ((f"over_{key}", [{"parts": [part], "film_um": 12}]), (key, [])):
            answer = client.post("/api/predict", json={"ground": key, "layers": layers}).json()
            fields[name] = {"reflectance": answer["diffuse"]["radiance_factor"]}
    return fields | {"film_um": 12, "clear_coat": True, "kind": "transparent"} | changes


def test_a_profile_from_a_card_stands_in_for_the_paint(client):
    answer = client.post("/api/profile", json=card_of(client, "rav-fjord")).raise_for_status().json()
    assert answer["fit_delta_e"] < 0.3
    assert len(answer["absorption"]) == len(answer["scattering"]) == 36
    assert set(answer["uncertain_bands"]) <= set(range(380, 731, 10))
    assert answer["uncertainty"] >= 0.05  # the hand's own, as on the pages

    def seen(paint):
        layers = [{"parts": [{"paint": paint, "drops": 1}], "coats": 3, "droplet_um": 0}]
        return client.post("/api/predict", json={"layers": layers}).raise_for_status().json()["diffuse"]["lab"]

    assert seen(answer) == pytest.approx(seen("rav-fjord"), abs=0.6)  # as it is
    target = {"lab": seen("rav-fjord")}
    matched = client.post("/api/match", json={"target": target, "paints": [answer, "torv-kritt"], "film_um": 8})
    assert matched.raise_for_status().json()["recipes"]
    wrong = client.post("/api/predict", json={"layers": [{"parts": [{"paint": {**answer, "met": 1}, "drops": 1}]}]})
    assert (wrong.status_code, "is not a field" in wrong.text) == (422, True)


def test_colours_may_stand_for_spectra_on_the_command_line_too():
    document = {
        "over_white": {"srgb": "#c8541e"},
        "over_black": {"lab": [22, 12, 10]},
        "white": {"srgb": "#eeeeee"},
        "black": {"srgb": "#101010"},
        "film_um": 16,
    }
    run = diachrom("profile", "-", input=json.dumps(document))
    assert run.returncode == 0, run.stderr
    assert json.loads(run.stdout)["fit_delta_e"] < 5


@pytest.mark.parametrize(
    ("changes", "field", "says"),
    [
        ({"film_um": 0}, "film_um", "greater than or equal to 0.01"),
        ({"over_white": {"reflectance": [0.5] * 35}}, "over_white.reflectance", "at least 36"),
        ({"over_white": {"reflectance": [1.5] * 36}}, "over_white.reflectance.0", "less than or equal to 1"),
        ({"over_black": {"srgb": "orange"}}, "over_black.srgb", "pattern"),
        ({"black": {"lab": [1, 2]}}, "black.lab", "at least 3"),
        ({"white": {"srgb": "#000000"}, "black": {"srgb": "#ffffff"}}, "white", "are they swapped"),
        ({"kind": "gravy"}, "kind", "opaque"),
    ],
)
def test_a_bad_card_is_refused_with_its_field(client, changes, field, says):
    answer = client.post("/api/profile", json=card_of(client, "rav-gull", **changes))
    assert answer.status_code == 422
    assert answer.json()["field"] == field
    assert says in answer.json()["error"]


def test_a_match_is_answered_and_a_wrong_one_refused_as_on_the_command_line(client):
    answer = client.post("/api/match", json={"target": {"srgb": "#c85a28"}, "max_paints": 2, "max_drops": 8})
    assert answer.status_code == 200
    best = answer.json()["recipes"][0]
    assert best["delta_e"] < 3.5
    assert sum(part["drops"] for part in best["parts"]) <= 8
    wrong = client.post("/api/match", json={"target": {"srgb": "#c85a28"}, "max_paints": 9})
    assert (wrong.status_code, wrong.json()["field"]) == (422, "max_paints")
    assert client.post("/api/match", json={"target": {"srgb": "#c85a28"}, "paints": ["nobody"]}).status_code == 404


def test_a_step_card_with_a_let_down_tells_a_strong_paint_and_one_thick_film_does_not(client):
    def fields(layers):
        even = [one | {"droplet_um": 0} for one in layers]
        answers = [client.post("/api/predict", json={"ground": key, "layers": even}) for key in ("white", "black")]
        seen = [answer.raise_for_status().json()["diffuse"]["radiance_factor"] for answer in answers]
        return {f"over_{key}": {"reflectance": one} for key, one in zip(("white", "black"), seen, strict=True)}

    own = [{"paint": "torv-sot", "drops": 1}]
    white_part = client.post("/api/guess", json={"kind": "opaque", "srgb": "#f0f0ec"}).json()
    bare = {"white": fields([])["over_white"], "black": fields([])["over_black"], "kind": "opaque"}
    thick = {"film_um": 24, **fields([{"parts": own, "film_um": 24}])}
    one = client.post("/api/profile", json={**thick, **bare}).raise_for_status().json()
    assert one["uncertainty"] > 0.25
    assert len(one["saturated_bands"]) > 20
    steps = [{"film_um": um, **fields([{"parts": own, "film_um": um}])} for um in (2, 8, 24)]
    several = client.post("/api/profile", json={"films": steps, **bare}).raise_for_status().json()
    assert several["uncertainty"] < 0.1
    mixed = [{"paint": "torv-sot", "drops": 1, "drop_ml": 0.05}, {"paint": white_part, "drops": 9, "drop_ml": 0.05}]
    down = {"white_paint": white_part, "film_um": 8, **fields([{"parts": mixed, "film_um": 8}])}
    let_down = client.post("/api/profile", json={"films": [thick], "let_down": down, **bare}).raise_for_status().json()
    assert let_down["uncertainty"] < 0.25
    assert let_down["absorption"][20] == pytest.approx(several["absorption"][20], rel=0.15)


@pytest.mark.parametrize(
    ("document", "field"),
    [
        ({"kind": "pearl"}, "srgb"),
        ({"kind": "pearl", "srgb": "#9ab0e0", "lab": [50, 0, 0]}, "srgb"),
        ({"kind": "gold leaf", "srgb": "#9ab0e0"}, "kind"),
        ({"kind": "pearl", "srgb": "blue"}, "srgb"),
        ({"kind": "pearl", "srgb": "#9ab0e0", "seen": "from afar"}, "seen"),
        ({"kind": "opaque", "srgb": "#9ab0e0", "hides": 2}, "hides"),
    ],
)
def test_a_guess_of_nothing_is_refused_with_its_field(client, document, field):
    answer = client.post("/api/guess", json=document)
    assert answer.status_code == 422
    assert answer.json()["field"] == field


def test_a_guess_is_answered_with_a_profile_that_predicts_its_colour():
    run = diachrom("guess", "-", input=json.dumps({"kind": "pearl", "srgb": "#9ab0e0"}))
    answer = json.loads(run.stdout)
    assert answer["guess"] is True
    assert answer["uncertainty"] >= 0.3
    assert answer["met_delta_e"] < 4
    document = {
        "ground": "black",
        "layers": [{"parts": [{"paint": answer, "drops": 1}], "film_um": 8, "coats": 3}],
        "angles": [25],
    }
    seen = predicting.answer(documents.PredictRequest.model_validate(document), predicting.NO_SHELF)
    assert float(delta_e(np.array(seen.lab[0]), hex_to_lab("#9ab0e0"))) < 4


@pytest.mark.parametrize("surface", [True, False, {"sheen": 0.02}])
def test_a_surface_may_be_clear_matte_or_satin_and_a_mean_cosine_may_be_given(client, surface):
    dark = {"kind": "opaque", "absorption": [0.3] * 36, "scattering": [0.02] * 36, "anisotropy": 0.0}
    document = {"layers": [{"parts": [{"paint": dark, "drops": 1}], "coats": 3}], "clear_coat": surface}
    answer = client.post("/api/predict", json=document).raise_for_status().json()
    sheen = {True: 0.0, False: 0.04}.get(surface, 0.02) if isinstance(surface, bool) else 0.02
    glossy = client.post("/api/predict", json=document | {"clear_coat": True}).json()
    assert answer["diffuse"]["radiance_factor"][10] == pytest.approx(
        glossy["diffuse"]["radiance_factor"][10] + sheen, abs=1e-6
    )
    dark["anisotropy"] = 1.0
    refused = client.post("/api/predict", json=document)
    assert refused.status_code == 422
    assert refused.json()["field"].endswith("anisotropy")
