"""A snapshot: everything a run uses, so that it can be explained and judged again for ever."""

from __future__ import annotations

import platform
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from pydantic import BaseModel, PrivateAttr

import ferox
from ferox.core.json_values import json_hash
from ferox.formats.agent import AgentFile
from ferox.formats.base import Secret
from ferox.formats.server import ServerFile
from ferox.formats.stand_in import StandInFile
from ferox.formats.suite import Suite, Task
from ferox.formats.workspace import ModelSource
from ferox.intake.files import read_text
from ferox.intake.limits import IntakeError
from ferox.recordings.model_recording import ModelRecording
from ferox.recordings.recording import Recording, RecordingError
from ferox.runs.overrides import Overrides
from ferox.workspace import Workspace
from ferox.workspace.environment import known_secrets, secrets_of
from ferox.workspace.modes import RECORDED, reach_for_mode
from ferox.workspace.vault import SecretUse, address_origin, secret_destination


class Snapshot(BaseModel):
    """What a worker needs to carry out a run; agents' own code stays where it is."""

    workspace: str
    ferox: str
    python: str
    models: dict[str, ModelSource]
    agents: dict[str, AgentFile]
    instructions: dict[str, str]
    servers: dict[str, ServerFile]
    suites: dict[str, Suite]
    stand_ins: dict[str, StandInFile]
    recordings: dict[str, str] = {}
    model_recordings: dict[str, str] = {}
    standing_port: int = 8641
    _parsed: dict[str, Recording] = PrivateAttr(default_factory=dict)
    _models: dict[str, ModelRecording] = PrivateAttr(default_factory=dict)

    def find_recording(self, path: str) -> Recording:
        """A recording that the run uses, by its path in the workspace.

        Raises:
            RecordingError: it cannot be read.
        """
        if path not in self.recordings:
            raise RecordingError(f"{path} is not part of the run's snapshot")
        if path not in self._parsed:  # once for all its trials, which only read it
            self._parsed[path] = Recording.parse(path, self.recordings[path])
        return self._parsed[path]

    def model_recording(self, path: str) -> ModelRecording:
        """A model's recording that the run uses, by its path in the workspace.

        Raises:
            RecordingError: it cannot be read.
        """
        if path not in self._models:
            self._models[path] = ModelRecording.parse(path, self.model_recordings[path])
        return self._models[path]

    def secret_values(self) -> set[str]:
        """Values that must never be written, of all models, servers and agents used."""
        return known_secrets().union(*(secrets_of(model) for model in self.models.values()))

    def secret_uses(self) -> list[SecretUse]:
        """The secrets that a run would send, and where."""
        named: list[tuple[str | Secret | None, str]] = []
        modes = {s: m for suite in self.suites.values() for s, m in suite.servers.items()}
        for server, mode in modes.items():
            to = reach_for_mode(self.servers[server], mode)
            if to is not None:
                given = (*to.env.values(), *to.headers.values(), *to.query.values())
                named += [
                    (value, secret_destination(to)) for value in (*given, *(to.command or ()))
                ]
        for agent in self.agents.values():
            own = address_origin(agent.url) if agent.url else ""
            named += [(value, own) for value in agent.headers.values()]
            named += [(value, f"the agent {agent.agent}") for value in agent.env.values()]
            for model in {*agent.thinks_with.values()} & self.models.keys():
                source = self.models[model]
                named.append((source.api_key, address_origin(source.base_url or "")))
        found = [SecretUse(value.secret, to) for value, to in named if isinstance(value, Secret)]
        return list(dict.fromkeys(found))

    def document(self) -> dict[str, Any]:
        """The snapshot as a JSON value, by the formats' own keys."""
        return self.model_dump(mode="json", by_alias=True, exclude_unset=True)

    def find_task(self, suite: str, task: str) -> Task:
        """A task of the snapshot."""
        return next(t for t in self.suites[suite].tasks if t.task == task)


def take_snapshot(
    workspace: Workspace,
    suites: list[str],
    agents: list[str],
    overrides: Overrides | None = None,
) -> Snapshot:
    """What a run of these suites and agents would use.

    Raises:
        RecordingError: a recording that is used cannot be read.
    """
    otherwise = overrides or Overrides()
    chosen = {name: otherwise.override_agent(workspace.agents[name]) for name in agents}
    wanted = {name for a in chosen.values() for name in a.thinks_with.values()}
    models = {name: workspace.settings.models[name] for name in sorted(wanted)}
    scripts = {name: otherwise.override_suite(workspace.suites[name], workspace) for name in suites}
    servers = {s for suite in scripts.values() for s in suite.servers}
    played = {
        s: Path(path)
        for suite in scripts.values()
        for s, mode in suite.servers.items()
        if mode == RECORDED and (path := workspace.servers[s].recording)
    }
    recordings = {str(path): _read_recording(workspace.root, path) for path in played.values()}
    return Snapshot(
        workspace=str(Path(workspace.root).name),
        ferox=ferox.__version__,
        python=platform.python_version(),
        models=models,
        agents=chosen,
        instructions={name: workspace.instructions[name] for name in agents},
        servers={name: workspace.servers[name] for name in sorted(servers)},
        suites={name: _with_clock(suite, recordings, played) for name, suite in scripts.items()},
        stand_ins={
            m.stand_in: workspace.stand_ins[m.stand_in] for m in models.values() if m.stand_in
        },
        recordings=recordings,
        standing_port=workspace.settings.defaults.standing_port,
        model_recordings={
            m.recording: _read_recording(workspace.root, Path(m.recording))
            for m in models.values()
            if m.recording
        },
    )


LARGEST_RECORDING = 256 * 1024 * 1024
"""Bytes of the largest recording that a run plays."""


def _read_recording(root: Path, path: Path) -> str:
    try:
        return read_text(root / path, LARGEST_RECORDING)
    except (OSError, IntakeError) as error:
        raise RecordingError(f"{path}: {error}") from None


def _with_clock(suite: Suite, recordings: Mapping[str, str], played: Mapping[str, Path]) -> Suite:
    """The suite at its recording's time, unless it sets a clock itself."""
    recorded = [s for s, mode in suite.servers.items() if mode == RECORDED and s in played]
    first = played[recorded[0]] if recorded else None
    if "clock" in suite.model_fields_set or first is None:
        return suite
    header = Recording.parse(str(first), recordings[str(first)].split("\n", 1)[0]).header
    return suite.model_copy(update={"clock": header.captured_at})


def script_hash(suite: Suite, task: Task) -> str:
    """A hash of all that the judgement of a task depends on."""
    body: dict[str, Any] = task.model_dump(by_alias=True, exclude_unset=True)
    return json_hash([suite.clock, suite.zone, body])
