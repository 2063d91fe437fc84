"""Work on texts from outside that may be long: done in a process apart, within limits.

The server goes on answering meanwhile, and what is too much ends the process and nothing else.
"""

from __future__ import annotations

import json
import os
import resource
import subprocess
import sys
from collections.abc import Callable
from typing import Any

from ferox.making.from_openapi import from_openapi
from ferox.making.mocks import MakingError
from ferox.workspace.write import WriteError, edit_document

WITHIN_S = 30.0
"""Seconds that the work may take."""
MEMORY = 1024**3
"""Bytes of address space that it may use."""


def tidy_yaml(text: str) -> str:
    """A YAML text with its indentation set right; comments and order stay.

    Raises:
        WriteError: the text is not a YAML document of keys and values.
    """
    return edit_document(text, lambda document: None)


WORK: dict[str, Callable[[str], Any]] = {"from_openapi": from_openapi, "tidied": tidy_yaml}
ERRORS: dict[str, type[ValueError]] = {"MakingError": MakingError, "WriteError": WriteError}


def run_apart(work: str, text: str, within_s: float = WITHIN_S) -> Any:
    """What a piece of work makes of a text.

    Raises:
        MakingError, WriteError: as the work raises them, or because it took too long or too much.
    """
    command = [sys.executable, "-m", "ferox.web.bounded_process", work]
    failed = MakingError if work == "from_openapi" else WriteError
    try:
        done = subprocess.run(
            command, input=text.encode(errors="replace"), capture_output=True, timeout=within_s
        )
    except subprocess.TimeoutExpired:
        raise failed(f"this took longer than {within_s:g} s and was given up") from None
    try:
        outcome = json.loads(done.stdout)
    # A process that a limit ended says nothing.
    except ValueError:
        raise failed("this takes more memory than anything real needs; it was given up") from None
    if "error" in outcome:
        raise ERRORS.get(outcome["kind"], failed)(outcome["error"])
    return outcome["made"]


def main(work: str) -> None:
    """Do a piece of work on standard input; what comes of it goes to standard output."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (int(WITHIN_S), int(WITHIN_S)))
    # The server, and whoever waits for its screens, come first.
    os.nice(5)
    try:
        outcome = {"made": WORK[work](sys.stdin.buffer.read().decode())}
    except (MakingError, WriteError) as error:
        outcome = {"error": str(error), "kind": type(error).__name__}
    except Exception as error:  # a text so odd that nobody thought of it
        outcome = {"error": f"this cannot be read: {error}", "kind": ""}
    json.dump(outcome, sys.stdout)


if __name__ == "__main__":
    main(sys.argv[1])
