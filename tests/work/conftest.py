"""A demo bench, opened, for what a user can do."""

import pytest

from diachrom.store.connection import connected


@pytest.fixture
def store(bench):
    with connected(bench) as connection:
        yield connection
