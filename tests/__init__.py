"""Tests of everything. No example drawn at random is hurried: a busy machine is no failure."""

from hypothesis import settings

import vellumcut  # noqa: F401  (before numpy: it sets how many threads that may take)

settings.register_profile("unhurried", deadline=None)
settings.load_profile("unhurried")
