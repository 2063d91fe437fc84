"""Tests: one file a concept, on behaviour."""

import os

from hypothesis import settings

# A deadline would test the machine, and a fresh example in each run would make a change red that
# did no harm; `HYPOTHESIS_PROFILE=search` looks for new ones.
settings.register_profile("steady", deadline=None, derandomize=True)
settings.register_profile("search", deadline=None)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))
