"""What differs in the set-up of two sides, as texts that can be laid beside each other."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import yaml
from pydantic import BaseModel

from ferox.runs.comparison import ComparisonError, SideName, tools_of_sides
from ferox.runs.snapshot import Snapshot
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import Session
from ferox.store.ledger import read_setups
from ferox.store.runs import cells_of_run, find_run

MOST_TEXT = 200_000
"""Characters of a text that are laid beside another."""
Key = tuple[str, str]
"""A part of a set-up, and what of it: a suite, a server, a tool, a model."""


class SetupDifference(BaseModel):
    """One thing that differs. `about`: the suite, server, tool or model; None: a side has none."""

    part: str
    about: str
    a: str | None
    b: str | None


def setup_differences(session: Session, a: SideName, b: SideName) -> list[SetupDifference]:
    """What differs between two sides, in the suites that both have run.

    Raises:
        ComparisonError: a side is not there.
    """
    one, other = _suites_of(session, a), _suites_of(session, b)
    suites = sorted(one & other)
    named = a.agent is None and b.agent is None  # whole runs: agent by agent
    mine, theirs = (_texts_of(session, side, suites, named=named) for side in (a, b))
    return [
        SetupDifference(part=key[0], about=key[1], a=mine.get(key), b=theirs.get(key))
        for key in dict.fromkeys([*mine, *theirs])
        if mine.get(key) != theirs.get(key)
        # A tool that one side was not offered stands in the offer.
        and not (key[0] == "wording" and not (key in mine and key in theirs))
    ]


def _suites_of(session: Session, side: SideName) -> set[str]:
    if find_run(session, side.run) is None:
        raise ComparisonError(f"there is no run {side.run}")
    cells = cells_of_run(session, side.run)
    return {suite for suite, _, agent in cells if side.agent in (None, agent)}


def _texts_of(
    session: Session, side: SideName, suites: list[str], *, named: bool
) -> dict[Key, str]:
    """A side's texts; `named`: those that each agent has of its own are told apart by its name."""
    snapshot = snapshot_of(session, side.run)
    agents = [side.agent] if side.agent is not None else list(snapshot.agents)
    found = _tools_read(session, side, suites)
    setups = read_setups(session, side.run)
    for agent in agents:
        if agent not in snapshot.agents:
            raise ComparisonError(f"run {side.run} has no {agent}")
        code = {setup.get("agent code", "") for (_, name), setup in setups.items() if name == agent}
        for (part, about), text in _texts_of_agent(snapshot, agent, suites):
            whose = f"{agent}, " if named and part in OF_AGENTS else ""
            found[part, (whose + about).removesuffix(", ")] = text[:MOST_TEXT]
        if any(code):
            whose = agent if named else ""
            found["agent code", whose] = f"its files have the hash {', '.join(sorted(code))}"
    found["versions", ""] = f"Ferox {snapshot.ferox}\nPython {snapshot.python}"
    return found


def _tools_read(session: Session, side: SideName, suites: list[str]) -> dict[Key, str]:
    """What the side's agents read of each tool, and which tools they were offered."""
    tools = tools_of_sides(session, [side], suites)
    found = {
        ("wording", address): yaml.safe_dump(tool, sort_keys=False, allow_unicode=True, width=100)
        for address, tool in tools.items()
    }
    return {**found, ("offer", ""): "\n".join(sorted(tools))}


NOT_SETTINGS = {"agent", "title", "model", "models", "instructions", "offer"}
"""Keys of an agent's file that stand elsewhere, or are only its name."""
OF_AGENTS = ("instructions", "model", "agent settings", "agent code", "faults")
"""Parts that each agent has of its own."""


def _texts_of_agent(snapshot: Snapshot, agent: str, suites: list[str]) -> Iterator[tuple[Key, str]]:
    file, arm, met = snapshot.agents[agent], snapshot.arms.get(agent), snapshot.of_arm(agent)
    yield ("instructions", ""), snapshot.instructions.get(agent, "")
    thinks_with = file.thinks_with
    yield ("model", ""), "\n".join(f"{called}: {model}" for called, model in thinks_with.items())
    for model in sorted(set(thinks_with.values())):
        yield ("model settings", model), _as_yaml(snapshot.models[model])
    yield ("agent settings", ""), _as_yaml(file, leave_out=NOT_SETTINGS)
    for suite in suites:
        modes = met.suites[suite].servers
        yield ("modes", suite), "\n".join(f"{server}: {mode}" for server, mode in modes.items())
        for server in modes:
            definition = met.servers[server]
            yield ("servers", server), _as_yaml(definition, leave_out={"wording"})
    if arm is not None and (arm.faults or not arm.own_faults):
        own = "" if arm.own_faults else "# in place of the tasks' own\n"
        yield ("faults", ""), own + "".join(_as_yaml(fault) for fault in arm.faults)


def _as_yaml(model: BaseModel, leave_out: set[str] | None = None) -> str:
    body: dict[str, Any] = model.model_dump(
        mode="json", by_alias=True, exclude_unset=True, exclude=leave_out
    )
    text: str = yaml.safe_dump(body, sort_keys=False, allow_unicode=True, width=100)
    return text
