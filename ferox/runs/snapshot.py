"""A snapshot: everything a run uses, so that it can be explained and judged again for ever."""

from __future__ import annotations

import platform
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from pydantic import BaseModel, PrivateAttr

import ferox
from ferox.core.clock import REAL, Clock, real_now
from ferox.core.json_values import json_hash
from ferox.formats.agent import AgentFile
from ferox.formats.base import Secret
from ferox.formats.plan import PlanFile
from ferox.formats.server import ServerFile
from ferox.formats.stand_in import StandInFile
from ferox.formats.suite import Suite, Task
from ferox.formats.workspace import Kept, ModelSource
from ferox.intake.files import read_text
from ferox.intake.limits import IntakeError
from ferox.recordings.model_recording import ModelRecording
from ferox.recordings.recording import Recording, RecordingError
from ferox.runs.arm_setup import ArmFiles, ArmSetup
from ferox.runs.fork.origin import ForkOrigin
from ferox.runs.overrides import Overrides
from ferox.store.tables import Trial
from ferox.workspace import Workspace
from ferox.workspace.commit import find_commit
from ferox.workspace.environment import known_secrets, secrets_of
from ferox.workspace.modes import MOCK, RECORDED, reach_for_mode
from ferox.workspace.vault import SecretUse, address_origin, secret_destination, step_destination


class Snapshot(BaseModel):
    """What a worker needs to carry out a run; agents' own code stays where it is.

    Of a plan's run, `agents` and `instructions` are by arm, and suites and servers as they are
    before an arm changes them: `of_arm` gives them as an arm meets them.
    """

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
    retries: int = 2
    """How often a trial is done again whose machine was lost."""
    keep: Kept = "all"
    fork: ForkOrigin | None = None
    """Where all trials of the run go on from, if they are forks."""
    plan: PlanFile | None = None
    arms: dict[str, ArmSetup] = {}
    now: str | None = None
    """The real time of the run's planning, where a suite's clock is the real one."""
    commit: str | None = None
    """What was checked out of the workspace's repository; files may have differed from it."""
    _of_arms: dict[str, Snapshot] = PrivateAttr(default_factory=dict)
    _parsed: dict[str, Recording] = PrivateAttr(default_factory=dict)
    _models: dict[str, ModelRecording] = PrivateAttr(default_factory=dict)

    def of_arm(self, name: str) -> Snapshot:
        """What an arm meets; for an agent of a run without a plan this snapshot itself."""
        setup = self.arms.get(name)
        if setup is None:
            return self
        if name not in self._of_arms:
            suites = {s: setup.change_suite(suite) for s, suite in self.suites.items()}
            servers = {s: setup.change_server(file) for s, file in self.servers.items()}
            changed = self.model_copy(update={"suites": suites, "servers": servers, "arms": {}})
            # Recordings are parsed once for all arms: those who play them only read.
            changed._parsed, changed._models = self._parsed, self._models
            self._of_arms[name] = changed
        return self._of_arms[name]

    def views(self) -> list[Snapshot]:
        """What each arm meets; of a run without arms this snapshot itself."""
        return [self.of_arm(arm) for arm in self.arms] or [self]

    def clock_of(self, suite: Suite) -> Clock:
        """The clock that all trials of a suite have."""
        now = self.now if suite.clock == REAL else None
        return Clock(now or suite.clock, suite.zone)

    def agent_name(self, arm: str) -> str:
        """The agent that an arm is a variation of; an agent is its own."""
        setup = self.arms.get(arm)
        return setup.agent if setup else arm

    def is_simulated(self, arm: str) -> bool:
        """Whether an agent thinks with a stand-in."""
        names = self.agents[arm].thinks_with.values()
        return any(self.models[m].stand_in for m in names if m in self.models)

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
        views = self.views()
        modes = {
            (s, m) for view in views for suite in view.suites.values()
            for s, m in suite.servers.items()
        }  # fmt: skip
        for server, mode in sorted(modes):
            to = reach_for_mode(self.servers[server], mode)
            if to is not None:
                given = (*to.env.values(), *to.headers.values(), *to.query.values())
                named += [
                    (value, secret_destination(to)) for value in (*given, *(to.command or ()))
                ]
        live = {server for server, mode in modes if mode not in (MOCK, RECORDED)}
        prepared: list[ServerFile | Suite] = [self.servers[server] for server in live]
        prepared += self.suites.values()
        steps = [step for one in prepared for step in (*one.prepare, *one.restore)]
        for step in steps:
            named += [(value, step_destination(step)) for value in step.env.values()]
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

    def script_of(self, suite: str, task: str) -> tuple[Suite, Task]:
        """A suite and one of its tasks: what trials of it are judged by."""
        return self.suites[suite], self.find_task(suite, task)


def take_snapshot(
    workspace: Workspace,
    suites: list[str],
    agents: list[str],
    overrides: Overrides | None = None,
    *,
    plan: PlanFile | None = None,
    arms: Mapping[str, ArmFiles] | None = None,
) -> Snapshot:
    """What a run of these suites and agents would use; with a plan, of its arms instead.

    Raises:
        RecordingError: a recording that is used cannot be read.
    """
    otherwise = overrides or Overrides()
    if arms is None:
        chosen = {name: workspace.agents[name] for name in agents}
        instructions = {name: workspace.instructions[name] for name in agents}
        setups: dict[str, ArmSetup] = {}
    else:
        chosen = {name: arm.file for name, arm in arms.items()}
        instructions = {name: arm.instructions for name, arm in arms.items()}
        setups = {name: arm.setup for name, arm in arms.items()}
    chosen = {name: otherwise.override_agent(file) for name, file in chosen.items()}
    wanted = {name for a in chosen.values() for name in a.thinks_with.values()}
    models = {name: workspace.settings.models[name] for name in sorted(wanted)}
    scripts = {name: otherwise.override_suite(workspace.suites[name], workspace) for name in suites}
    met = [*scripts.values()]
    met += [arm.change_suite(suite) for arm in setups.values() for suite in scripts.values()]
    servers = {s for suite in met for s in suite.servers}
    played = {
        s: Path(path)
        for suite in met
        for s, mode in suite.servers.items()
        if mode == RECORDED and (path := workspace.servers[s].recording)
    }
    recordings = {str(path): _read_recording(workspace.root, path) for path in played.values()}
    others: dict[str, Any] = {} if plan is None else {"plan": plan, "arms": setups}
    if any(suite.clock == REAL for suite in scripts.values()):
        others["now"] = real_now()
    return Snapshot(
        workspace=str(Path(workspace.root).name),
        ferox=ferox.__version__,
        python=platform.python_version(),
        models=models,
        agents=chosen,
        instructions=instructions,
        servers={name: workspace.servers[name] for name in sorted(servers)},
        suites={
            name: _with_clock([s for s in met if s.suite == name], recordings, played)
            for name in scripts
        },
        stand_ins={
            m.stand_in: workspace.stand_ins[m.stand_in] for m in models.values() if m.stand_in
        },
        recordings=recordings,
        commit=find_commit(workspace.root),
        standing_port=workspace.settings.defaults.standing_port,
        retries=workspace.settings.defaults.retries,
        keep=workspace.settings.defaults.keep,
        model_recordings={
            m.recording: _read_recording(workspace.root, Path(m.recording))
            for m in models.values()
            if m.recording
        },
        **others,
    )


def narrowed_to(snapshot: Snapshot, trial: Trial, root: Path) -> Snapshot:
    """What a trial of a run met, and no more: its task, and its agent as its arm had it; to be used
    once more, by the Ferox and Python of now."""
    met = snapshot.of_arm(trial.agent)
    suite, task = met.script_of(trial.suite, trial.task)
    return met.model_copy(
        update={
            "agents": {trial.agent: snapshot.agents[trial.agent]},
            "instructions": {trial.agent: snapshot.instructions.get(trial.agent, "")},
            "suites": {trial.suite: suite.model_copy(update={"tasks": [task]})},
            "servers": {name: met.servers[name] for name in suite.servers},
            "plan": None,
            "arms": {},
            "ferox": ferox.__version__,
            "python": platform.python_version(),
            "commit": find_commit(root),
        }
    )


def add_model(snapshot: Snapshot, workspace: Workspace, name: str) -> Snapshot:
    """A snapshot that has a further model of the workspace.

    Raises:
        RecordingError: its recording cannot be read.
    """
    source = workspace.settings.models[name]
    update: dict[str, Any] = {"models": {**snapshot.models, name: source}}
    if source.stand_in:
        found = {source.stand_in: workspace.stand_ins[source.stand_in]}
        update["stand_ins"] = {**snapshot.stand_ins, **found}
    if source.recording:
        text = _read_recording(workspace.root, Path(source.recording))
        update["model_recordings"] = {**snapshot.model_recordings, source.recording: text}
    return snapshot.model_copy(update=update)


LARGEST_RECORDING = 256 * 1024 * 1024
"""Bytes of the largest recording that a run plays."""


def _read_recording(root: Path, path: Path) -> str:
    try:
        return read_text(root / path, LARGEST_RECORDING)
    except (OSError, IntakeError) as error:
        raise RecordingError(f"{path}: {error}") from None


def _with_clock(
    met: list[Suite], recordings: Mapping[str, str], played: Mapping[str, Path]
) -> Suite:
    """A suite at its recording's time, unless it sets a clock itself; `met`: as it is, then as
    each arm meets it. All arms have one clock: if any plays a recording, it is that one's."""
    suite = met[0]
    recorded = [
        s
        for meeting in met
        for s, mode in meeting.servers.items()
        if mode == RECORDED and s in played
    ]
    if "clock" in suite.model_fields_set or not recorded:
        return suite
    first = played[recorded[0]]
    header = Recording.parse(str(first), recordings[str(first)].split("\n", 1)[0]).header
    return suite.model_copy(update={"clock": header.captured_at})


def script_hash(suite: Suite, task: Task) -> str:
    """A hash of all that the judgement of a task depends on."""
    body: dict[str, Any] = task.model_dump(by_alias=True, exclude_unset=True)
    return json_hash([suite.clock, suite.zone, body])
