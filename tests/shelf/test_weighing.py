"""What is left by weight: the whole bottle less an empty one of its line and size, which is weighed once."""

import pytest

from diachrom.errors import BottleNotFound, InvalidInput
from diachrom.store import bottles, settings
from diachrom.store.connection import writing
from diachrom.work.shelf import droppers, weighing

AT = "2026-12-02T10:00:00+00:00"


def test_what_is_left_is_its_weight_by_its_density_and_the_empty_bottle_is_known_for_all_like_it(store):
    own, like, other = (bottles.one(store, number) for number in (22, 23, 4))
    assert (own.line, own.size_ml) == (like.line, like.size_ml) != (other.line, other.size_ml)
    assert weighing.empty_g(store, own) is None
    density = droppers.see(store, 22).density
    weighing.left_by_weight(store, 22, grams=14.2 + 12.5 * density, empty=14.2, at=AT)
    assert bottles.one(store, 22).left_ml == pytest.approx(12.5)
    assert weighing.empty_g(store, like) == 14.2
    assert weighing.empty_g(store, other) is None
    weighing.left_by_weight(store, 22, grams=14.2 + 30.5 * density, empty=14.2, at=AT)  # filled to the brim
    assert bottles.one(store, 22).left_ml == own.size_ml
    weighing.left_by_weight(store, 22, grams=14.1, empty=14.2, at=AT)  # as a scale errs
    assert bottles.one(store, 22).left_ml == 0


@pytest.mark.parametrize(("grams", "empty", "words"), [(5, 14.2, "weigh both again"), (80, 2, "empty bottle's weight")])
def test_weights_that_cannot_be_are_refused_and_nothing_is_kept(store, grams, empty, words):
    before = bottles.one(store, 22)
    with pytest.raises(InvalidInput, match=words):
        weighing.left_by_weight(store, 22, grams=grams, empty=empty, at=AT)
    assert bottles.one(store, 22) == before
    assert weighing.empty_g(store, before) is None
    with pytest.raises(BottleNotFound):
        weighing.left_by_weight(store, 999, grams=1, empty=1, at=AT)
    with writing(store):
        settings.put(store, {weighing.KEY: "[rubbish"})
    assert weighing.empty_g(store, before) is None
