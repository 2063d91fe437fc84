"""Tests: one file a concept, on behaviour."""

import atexit
import os
import shutil
import tempfile
from pathlib import Path

from hypothesis import settings

# A deadline would test the machine, and a fresh example in each run would make a change red that
# did no harm; `HYPOTHESIS_PROFILE=search` looks for new ones.
settings.register_profile("steady", deadline=None, derandomize=True)
settings.register_profile("search", deadline=None)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))

# What the user of this machine allows and has agreed to is not the tests' concern.
_settings = tempfile.mkdtemp(prefix="ferox-settings-")
os.environ["XDG_CONFIG_HOME"] = _settings
atexit.register(shutil.rmtree, _settings, ignore_errors=True)

# Frameworks load every certificate authority of the system for each connection that they open,
# which takes longer than all else in a short trial. The tests connect to this machine only.
os.environ["SSL_CERT_FILE"] = str(Path(__file__).parent / "data/authority.pem")
