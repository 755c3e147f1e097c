"""Plans as a painter keeps them: steps, versions, two windows, documents, what is brought, and what is refused."""

import io
import json
import re
from dataclasses import replace

import numpy as np
import pytest
from everything import everything
from PIL import Image
from starlette.testclient import TestClient

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.document import written
from diachrom.core.bait.mask import Mask
from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.regions import Box
from diachrom.errors import BadFile, InvalidInput, NotFound
from diachrom.exchange import drawings
from diachrom.store import plans as kept
from diachrom.store import recipes
from diachrom.store.connection import writing
from diachrom.store.plan_documents import read
from diachrom.web.app import create_app
from diachrom.work.kit import bench_settings
from diachrom.work.kit.opened import opened
from diachrom.work.plan import bringing, here, painting, pictures, plans, sources

AT = "2026-11-26T10:00:00+00:00"
SVG = b'<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="60mm" viewBox="0 0 120 60">%s</svg>'


@pytest.fixture
def store(bench):
    with opened(bench) as store:
        yield store


def test_every_step_is_undone_and_done_again_and_a_saved_version_never_changes(store):
    number = plans.new(store, Blank("minnow", 110, state="foil-silver", foil_on="sides"), at=AT)
    belly = plans.layer_of(store, "paint", "torv-kritt")
    plans.change(store, number, lambda plan: plan.with_layer(belly).named(name="Mine", note=""), did="belly", at=AT)
    assert plans.save(store, number, at=AT) == plans.Saved(1, True)
    assert plans.save(store, number, at=AT) == plans.Saved(1, False)
    first = plans.version(store, number, 1).document
    plans.change(
        store, number, lambda plan: plan.changed(1, lambda one: plans.in_region(one, "belly")), did="region", at=AT
    )
    plans.change(store, number, lambda plan: plan.copied(1), did="a copy", at=AT)
    assert plans.version(store, number, 1).document == first
    assert [one.region for one in plans.now(store, number).plan.layers] == ["belly", "belly"]
    assert plans.undo(store, number, at=AT) == "a copy"
    assert plans.undo(store, number, at=AT) == "region"
    assert plans.now(store, number).plan == first
    assert plans.undo(store, number, back=False, at=AT) == "region"
    assert plans.save(store, number, at=AT).version == 2
    told = plans.differences(first, plans.version(store, number, 2).document)
    assert told == ["layer 1 (a paint): region"]
    plans.take_up(store, number, 1, at=AT)
    assert plans.now(store, number).plan == first


def test_two_windows_on_one_plan_each_change_what_they_name(bench):
    with opened(bench) as one, opened(bench) as other:
        number = plans.now(one, 1).number
        plans.now(other, number)
        plans.change(
            one, number, lambda plan: plan.changed(1, lambda layer: plans.in_region(layer, "head")), did="x", at=AT
        )
    with opened(bench) as other:
        plans.change(other, number, lambda plan: plan.without(2), did="y", at=AT)
        stands = plans.now(other, number).plan
        assert stands.layers[0].region == "head"
        with pytest.raises(NotFound, match="Layer 2 is no longer on this plan"):
            plans.change(other, number, lambda plan: plan.without(2), did="z", at=AT)


def test_layers_go_to_other_places_and_numbers_stay_theirs(store):
    def numbers():
        return [one.number for one in plans.now(store, 1).plan.layers]

    before = numbers()
    plans.change(store, 1, lambda plan: plan.moved(before[0], 2), did="x", at=AT)
    assert numbers() == [*before[1:3], before[0], *before[3:]]
    plans.change(store, 1, lambda plan: plan.moved(before[0], -5), did="x", at=AT)
    assert numbers() == before


def test_a_document_goes_out_and_comes_back_equal_with_the_stencils_that_it_needs(store, tmp_path):
    plan = plans.now(store, 2).plan
    told = plans.document(store, plan)
    assert [key for key, _ in told["stencils"]] == ["maze"]
    number, problem = bringing.plan(store, "x.json", json.dumps(told).encode(), at=AT)
    assert problem == ""
    brought = plans.now(store, number).plan
    assert brought.layers == plan.layers
    assert brought.blank == plan.blank
    assert read(written(brought)) == (brought, "")
    for wrong, words in (
        (b"{", "no JSON"),
        (b"[]", "no plan of a bait"),
        (b'{"format": "diachrom-plan", "version": 9}', "newer version"),
        (b"\x89PNG\r\n", "PNG picture"),
    ):
        before = everything(store)
        with pytest.raises(BadFile, match=words):
            bringing.plan(store, "x.json", wrong, at=AT)
        assert everything(store) == before


def test_what_was_noticed_of_a_file_is_told_on_the_page_to_which_it_leads(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        plain = b'<svg xmlns="http://www.w3.org/2000/svg" width="96" height="48"><path d="M0,0 L96,0 96,48 Z"/></svg>'
        files, into = {"drawing": ("wedge.svg", plain)}, {"kind": "stencil", "plan": "1", "layer": "3"}
        page = client.post("/plan/drawings", files=files, data=into).text
        assert "wedge is here. It is 25.4 mm long. Its size has no unit" in page
        document = json.loads(client.get("/plan/2/document.json").content)
        document["layers"][1] = "?"
        page = client.post("/plan/bring", files={"document": ("p.json", json.dumps(document).encode())}).text
        assert "Layer 2 cannot be read and is left out." in page


def test_a_layer_whose_recipe_is_gone_says_so_and_the_rest_is_shown(store):
    with writing(store):
        standing = kept.now(store, 1)
        gone = Layer(0, "recipe", "recipe:999:1")
        kept.append(store, standing, standing.plan.with_layer(gone), did="x", at=AT)
    plan = plans.now(store, 1).plan
    laid = painting.laid(store, plan.layers)
    assert "no longer exists" in laid[-1].problem
    assert not any(one.problem for one in laid[:-1])
    seen, _ = painting.painted_bait(store, plan, cells=(60, 24))
    assert np.isfinite(seen.factors).all()
    assert pictures.image(store, plan, width=120)[:4] == b"\x89PNG"


def test_a_mask_that_covers_all_or_nothing_is_said(store):
    plan = plans.now(store, 1).plan
    free = Layer(1, region="flank", origin="side")
    assert painting.lands(store, plan, free) == ""
    assert "None of it lands" in painting.lands(
        store, plan, replace(free, box=Box(0.3, 0.7, 0.44, 0.5), origin="above", soft_mm=0.5)
    )
    closed = replace(free, mask=Mask("stencil", size_mm=30, stencil="none"))
    assert "None of it lands" in painting.lands(store, plan, closed)
    assert "covers nothing" in painting.lands(store, plan, replace(free, mask=replace(closed.mask, turned=True)))
    assert painting.lands(store, plan, replace(free, mask=Mask("net", 3.0, 0.5))) == ""


@pytest.mark.parametrize(
    ("drawn", "words"),
    [
        (b"", "it is empty"),
        (SVG % b"", "no closed outline"),
        (SVG % b'<path d="M0,0 L50,0 50,50"/>', "an outline is open"),
        (SVG % b'<path d="M0,0 L50,50 50,0 0,50 Z"/>', "crosses itself"),
        (SVG % b"<script>x()</script>", "holds 'script'"),
        (SVG % b'<path onclick="x()" d="M0,0 L5,0 5,5 Z"/>', "scripts or links"),
        (SVG % b'<a href="http://x"><path d="M0,0 L5,0 5,5 Z"/></a>', "holds 'a'"),
        (b"<svg" + b" " * 50_000_000, "at most 2 MB"),
        (b"<html/>", "no SVG drawing"),
        (b'<!DOCTYPE x [<!ENTITY a "b">]><svg>&a;</svg>', "no SVG drawing"),
    ],
)
def test_a_drawing_that_is_none_is_refused_with_a_sentence_and_nothing_is_kept(store, drawn, words):
    before = everything(store)
    with pytest.raises(BadFile, match=words):
        bringing.drawing(store, "stencil", "x.svg", drawn, at=AT)
    assert everything(store) == before


def test_drawings_come_in_mm_from_inches_too_and_an_own_blank_and_stencil_paint_a_bait(store):
    inches = SVG.replace(b"120mm", b"2in").replace(b"60mm", b"1in").replace(b"120 60", b"2 1")
    inches = inches % b'<rect width="1" height="1"/>'
    found = drawings.read("x.svg", inches)
    assert found.width_mm == pytest.approx(25.4)
    assert "in" in found.noticed
    ellipse = b'<ellipse id="side" cx="60" cy="15" rx="60" ry="12"/><ellipse id="back" cx="60" cy="45" rx="60" ry="6"/>'
    key = bringing.drawing(store, "blank", "own.svg", SVG % ellipse, at=AT)
    shape = sources.shape_of(store, key)
    surface = Blank(length_mm=120.0, own=shape).surface()
    assert surface.corners[..., 2].max() == pytest.approx(12, rel=0.03)
    assert surface.corners[..., 1].max() == pytest.approx(6, rel=0.03)
    number = plans.new(store, Blank(length_mm=120.0, own=shape), at=AT)
    plans.change(
        store, number, lambda plan: plan.with_layer(plans.layer_of(store, "paint", "torv-sot")), did="x", at=AT
    )
    stencil = bringing.drawing(store, "stencil", "s.svg", SVG % b'<rect x="40" y="20" width="20" height="20"/>', at=AT)
    bringing.through_it(store, number, 1, stencil, at=AT)
    seen, _ = painting.painted_bait(store, plans.now(store, number).plan, cells=(60, 24))
    assert 0.02 < (seen.films_um[0] > 1).mean() < 0.6


def test_a_place_is_told_by_the_exact_stack_and_as_the_picture_has_it(store):
    plan = plans.now(store, 1).plan
    told = here.here(store, plan, 0.5, 0.02)
    assert [one.place for one in told.layers][:1] == [2]
    assert told.layers[0].film_um > 10
    assert told.most.startswith(("Layer", "No further coat"))
    assert told.spread > 0
    seen, _ = painting.painted_bait(store, plan)
    from bait.painting import labs

    from diachrom.core.light.difference import delta_e

    exact, shown = told.seen.lab, labs(seen)[120, 1]
    assert delta_e(exact, shown) < 1.5  # a satin or cleared surface and a diffuse view of the same stack


def test_pictures_are_as_large_as_asked_clear_around_the_bait_and_an_svg_has_its_true_size(store):
    plan = plans.now(store, 1).plan
    image = Image.open(io.BytesIO(pictures.image(store, plan, width=300)))
    assert image.width == 300
    assert image.getpixel((0, 0))[3] == 0
    assert image.getpixel((150, image.height // 2))[3] == 255
    drawn = pictures.as_svg(store, plan)
    wide = float(re.search(rb'width="([\d.]+)mm"', drawn)[1])
    bill = max(-u for one in plan.blank.form.fittings for u, _ in one.points)
    assert wide == pytest.approx(110 * (1 + bill + 2 * 0.04), abs=0.1)
    with pytest.raises(InvalidInput, match="seen from"):
        pictures.image(store, plan, side="moon")


def test_a_bill_lies_across_thin_from_the_side_and_wide_from_below(store):
    squat = plans.now(store, 9).plan

    def at_its_tip(side):
        image = Image.open(io.BytesIO(pictures.image(store, squat, side=side, width=600)))
        there = np.asarray(image)[..., 3] > 128
        return there[:, np.flatnonzero(there.any(axis=0))[4]].sum()

    assert at_its_tip("belly") == at_its_tip("back") > 6 * at_its_tip("left") > 0
    assert plans.now(store, 3).plan.blank.form.fittings[0].plate
    own = replace(squat, blank=replace(squat.blank, own=squat.blank.form))
    assert read(written(own))[0].blank.own.fittings == own.blank.form.fittings


def test_the_demo_has_eight_plans_or_more_made_of_its_own_recipes_and_every_one_can_be_seen(store):
    listed = bringing.listed(store)
    assert len(listed) >= 8
    numbers = set(recipes.numbers(store))
    for one in listed:
        laid = painting.laid(store, one.now.plan.layers)
        assert not any(layer.problem for layer in laid)
        used = {int(layer.source.split(":")[1]) for layer in one.now.plan.layers if layer.source.startswith("recipe:")}
        assert used
        assert used <= numbers
    assert [one.now.plan.name for one in bringing.listed(store, "candy foil wrasse")] == ["Cuckoo wrasse"]


def test_where_a_bench_reads_inches_sizes_are_turned_and_names_stay(bench):
    with opened(bench) as store:
        bench_settings.change(store, {"units": "imperial"})
        plans.change(store, 1, lambda plan: plan.named(name="Bars of 4 mm", note=""), did="x", at=AT)
        plans.change(
            store, 1, lambda plan: plan.changed(1, lambda one: replace(one, name="Net 3 mm, 110 mm")), did="x", at=AT
        )
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        page = client.get("/plan/1?layer=3").text
    assert "Bars of 4 mm" in page
    assert "Net 3 mm, 110 mm" in page
    assert "minnow, 110 mm" not in page
    assert re.search(r"minnow, 4\.3\d? in", page)


def test_versions_of_a_plan_that_was_never_saved_say_so(client):
    made = client.post("/plan/new", data={"shape": "minnow"}, follow_redirects=False).headers["location"]
    assert f'href="{made}/versions"' in client.get(made).text
    assert "Nothing is saved yet" in client.get(f"{made}/versions").text


@pytest.mark.parametrize("odd", [[[]], {}, [["before"]], None, 7])
def test_a_document_whose_eyes_are_nothing_of_the_kind_is_read_without_them(odd):
    found, said = read({"format": "diachrom-plan", "eyes": odd, "blank": {"eyes": odd}})
    assert (found.eyes, said) == (Plan().eyes, "")


def test_a_wash_asks_for_its_paint_and_a_layer_goes_beneath_the_last_clear_coats_alone(store, client):
    answer = client.post("/plan/1/layers", data={"what": "wash"}, headers={"HX-Request": "true"})
    assert answer.status_code == 422
    assert "A wash is of a paint" in answer.text
    plan = Plan().with_layer(Layer(0, "clear")).with_layer(Layer(0, "paint", "torv-sot"))
    assert plan.beneath_clear == 2
    twice = plan.with_layer(Layer(0, "clear")).with_layer(Layer(0, "clear"))
    assert twice.beneath_clear == 2
    assert Plan().beneath_clear == 0


@pytest.mark.parametrize(
    ("accepts", "packed"),
    [("gzip, br", True), ("*", True), ("identity", False), ("gzip;q=0, *", False), ("GZIP;q=0.5", True), ("", False)],
)
def test_answers_are_packed_only_for_those_who_ask_for_it(client, accepts, packed):
    for path in ("/plan/lights", "/plan/1/skin?rough=1"):
        with client.stream("GET", path, headers={"Accept-Encoding": accepts}) as answer:
            raw = b"".join(answer.iter_raw())
        assert (answer.headers.get("content-encoding") == "gzip") == packed == raw.startswith(b"\x1f\x8b")
        assert answer.headers["vary"] == "Accept-Encoding"
        assert answer.headers["cache-control"] in ("max-age=86400", "no-store")
