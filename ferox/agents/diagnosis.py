"""Why an agent did not start, and the next thing to try."""

from __future__ import annotations

import ast
import re
import shlex
from collections.abc import Callable
from pathlib import Path

from ferox.formats.agent import AgentFile
from ferox.intake.files import read_text
from ferox.workspace.problems import did_you_mean

Advice = Callable[[AgentFile, Path, "re.Match[str]"], str]


def next_to_try(agent: AgentFile, workspace: Path, reason: str) -> str:
    """What to try next, after a start that failed for this reason.

    What is wrong with the agent's file says so itself; this reads what its own code,
    its interpreter and its service said.
    """
    for pattern, advice in _KNOWN:
        found = re.search(pattern, reason)
        if found:
            return advice(agent, workspace, found)
    return "look into its log; it is the agent's own standard error"


def _missing_module(agent: AgentFile, workspace: Path, found: re.Match[str]) -> str:
    name = found[1].split(".")[0]
    if agent.link == "python":
        return (
            f"install what holds `{name}` in the agent's own environment: "
            f"{agent.python} -m pip install …; Ferox's own packages are not seen there"
        )
    return f"install what holds `{name}` where the agent's command finds it"


def _missing_package(agent: AgentFile, workspace: Path, found: re.Match[str]) -> str:
    name = found[1]
    if name.startswith((".", "/")):
        return f"put right what imports `{name}`: there is no such file"
    return f"npm install {name} beside its code"


def _missing_factory(agent: AgentFile, workspace: Path, found: re.Match[str]) -> str:
    file, _, name = (agent.entry or "").rpartition(":")
    there = _functions_in(workspace / file)
    known = f"; it has {', '.join(there)}" if there else ""
    return f"correct `entry` to FILE.py:FACTORY{known}{did_you_mean(name, there)}"


def _functions_in(file: Path) -> list[str]:
    try:
        tree = ast.parse(read_text(file))
    except (OSError, SyntaxError, ValueError, RecursionError, MemoryError):
        return []
    kinds = (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)
    return [n.name for n in tree.body if isinstance(n, kinds) and not n.name.startswith("_")]


def _unset_variable(agent: AgentFile, workspace: Path, found: re.Match[str]) -> str:
    return (
        f"if `{found[1]}` is a variable of its environment, name it under `env`: an agent gets "
        f"only what its file names, as in `env: {{{found[1]}: {{secret: {found[1]}}}}}`"
    )


def _by_hand(agent: AgentFile, workspace: Path, found: re.Match[str]) -> str:
    command = shlex.join(agent.command or [str(agent.python), str(agent.entry)])
    return f"start it by hand in {agent.cwd or 'the workspace'} and see: {command}"


def _advice_of(advice: str) -> Advice:
    return lambda agent, workspace, found: advice


_KNOWN: list[tuple[str, Advice]] = [
    (r"No module named '([^']+)'", _missing_module),
    (r"Cannot find (?:package|module) '([^']+)'", _missing_package),
    (r"cannot import name '([^']+)'", _advice_of(
        "the versions of its packages do not fit each other; install those that were seen to work"
    )),
    (r"has no `([^`]+)`", _missing_factory),
    (r"SyntaxError|IndentationError", _advice_of("correct the line that is named")),
    (r"KeyError: '([A-Z][A-Z0-9_]{2,})'", _unset_variable),
    (r"which is not set", _advice_of("set it where Ferox is started, and restart Ferox")),
    (r"lacks `|didn't yield|async context manager|asynchronous context manager|object is not "
     r"callable|__aenter__", _advice_of(
        "the factory must be an async context manager: put @asynccontextmanager before it, and "
        "`yield` the function that takes the user's words"
    )),
    (r"interpreter `[^`]*` does not exist", _advice_of(
        "make its environment: python3 -m venv DIRECTORY, then DIRECTORY/bin/pip install what it "
        "needs"
    )),
    (r"not (ready|loaded) within", _advice_of(
        "the first start of a framework takes long; if its log stands still, it waits for "
        "something: an address, or input"
    )),
    (r"nothing listens at", _advice_of("see that the service runs, and on which port")),
    (r"no agent card", _advice_of("see that the service speaks Agent2Agent at this address")),
    (r"HTTP 401|HTTP 403", _advice_of("give its credentials in `headers`")),
    (r"(?i)connection refused|connect(ion)? ?error|all connection attempts failed", _advice_of(
        "it connects to something that is not there; it must take the addresses that it is "
        "given (`trial.servers`, `trial.models`), not its own"
    )),
    (r"Permission ?(denied|Error)", _advice_of("make the command executable (chmod +x)")),
    (r"was not found", _advice_of("give the full path, or install it")),
    (r"`(tool|argument)`", _advice_of("correct the agent's file as it says")),
    (r"ended with status|it ended|ended by", _by_hand),
    (r"(?i)timeout|timed out", _advice_of(
        "one of its servers or its model took too long while it opened; see its log"
    )),
]  # fmt: skip
