"""Shared by all tests: the same random examples on every run."""

from hypothesis import settings

settings.register_profile("steady", derandomize=True, deadline=None, max_examples=60)
settings.load_profile("steady")
