"""Requests made up from the API document, against a workspace of its own."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

DOCUMENT = "/openapi/openapi.json"
LEFT_OUT = "/watch/"
"""Event streams do not end; everything else is asked."""
PHASES = "examples,coverage,fuzzing,stateful"
"""All that there are. Coverage tries every limit of every field, which takes a minute."""


def fuzz(url: str, examples: int, seconds: int, phases: str = PHASES) -> tuple[int, str]:
    """The status and the output of a bounded run; no answer may be a fault or undocumented.

    What the document allows may still be refused by what is in the workspace, so that valid
    requests are refused is not a failure.
    """
    command = [
        *(str(Path(sys.executable).with_name("schemathesis")), "run", f"{url}{DOCUMENT}"),
        *("--max-examples", str(examples), "--generation-deterministic", "--phases", phases),
        *("--exclude-path-regex", LEFT_OUT, "--request-timeout", "30"),
        *("--exclude-checks", "positive_data_acceptance", "--no-color"),
    ]
    try:
        done = subprocess.run(command, capture_output=True, text=True, timeout=seconds)
    except subprocess.TimeoutExpired as error:
        said = error.stdout or b""
        return 1, f"not done in {seconds} s\n{said.decode(errors='replace')}"
    return done.returncode, done.stdout + done.stderr
