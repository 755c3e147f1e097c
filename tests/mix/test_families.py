"""A family of the cup on the bench, and as recipes."""

import pytest
from starlette.testclient import TestClient

from diachrom.core.light.difference import delta_e
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.store import recipes
from diachrom.web.app import create_app
from diachrom.work.mix import cup, families
from diachrom.work.mix.families import WantedFamily

AT = "2026-11-25T10:00:00+00:00"


def test_each_of_a_family_is_kept_as_a_recipe_that_looks_like_it(store):
    wanted = WantedFamily("middle", 8.0, (1.0, 1.0, 1.0))
    seen = families.see(store, wanted)
    numbers = families.save(store, wanted, at=AT)
    assert len(set(numbers)) == 3
    for number, one in zip(numbers, seen.members, strict=True):
        saved = recipes.version(store, number).draft
        assert saved.name == f"Autumn char, belly, {one.member.name}"
        assert saved.note.startswith("One of a family poured from one cup: light - middle - dark.")
        column = one.strip.column(saved.ground)
        assert delta_e(column.after(saved.coats).diffuse.lab, one.member.lab) < 2.0


def test_an_empty_cup_and_a_mix_without_a_name_have_no_family(store):
    cup.call_it(store, name="", note="", at=AT)
    with pytest.raises(InvalidInput, match="Name the mix first"):
        families.save(store, WantedFamily(), at=AT)
    before = recipes.count(store)
    cup.start_new(store, at=AT)
    with pytest.raises(EmptyCup):
        families.see(store, WantedFamily())
    assert recipes.count(store) == before


def test_the_page_shows_them_in_the_order_of_pouring_and_says_what_cannot_be(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        page = client.get("/family?given=dark&step=4").text
        assert page.count('class="family-member"') == 3
        assert "The steps are even; the dark one" in page
        for query, why in (
            ("light=much", "is no number"),
            ("dark=0", "0 to 50 ml"),
            ("step=300", "A step is dE 3 to 30"),
            ("given=pale", "not &#39;pale&#39;"),
        ):
            assert why in client.get(f"/family?{query}").text
        answer = client.post("/family/save", data={"given": "light"}, headers={"Sec-Fetch-Site": "same-origin"})
        assert answer.url.path.startswith("/recipes/")
