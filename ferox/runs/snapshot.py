"""A snapshot: everything a run uses, so that it can be explained and judged again for ever."""

from __future__ import annotations

import hashlib
import platform
from pathlib import Path
from typing import Any

from pydantic import BaseModel

import ferox
from ferox.core.json_values import canonical
from ferox.formats.agent import AgentFile
from ferox.formats.server import ServerFile
from ferox.formats.stand_in import StandInFile
from ferox.formats.suite import Suite, Task
from ferox.formats.workspace import ModelSource
from ferox.workspace import Workspace


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

    def text(self) -> str:
        """The snapshot as JSON, by the formats' own keys."""
        return self.model_dump_json(by_alias=True, exclude_unset=True)

    def task(self, suite: str, task: str) -> Task:
        """A task of the snapshot."""
        return next(t for t in self.suites[suite].tasks if t.task == task)


def take_snapshot(workspace: Workspace, suites: list[str], agents: list[str]) -> Snapshot:
    """What a run of these suites and agents would use."""
    chosen = {name: workspace.agents[name] for name in agents}
    models = {a.model: workspace.settings.models[a.model] for a in chosen.values()}
    scripts = {name: workspace.suites[name] for name in suites}
    servers = {s for suite in scripts.values() for s in suite.servers}
    return Snapshot(
        workspace=str(Path(workspace.root).name),
        ferox=ferox.__version__,
        python=platform.python_version(),
        models=models,
        agents=chosen,
        instructions={name: workspace.instructions[name] for name in agents},
        servers={name: workspace.servers[name] for name in sorted(servers)},
        suites=scripts,
        stand_ins={
            m.stand_in: workspace.stand_ins[m.stand_in] for m in models.values() if m.stand_in
        },
    )


def script_hash(suite: Suite, task: Task) -> str:
    """A hash of all that the judgement of a task depends on."""
    told: dict[str, Any] = task.model_dump(by_alias=True, exclude_unset=True)
    text = canonical([suite.clock, suite.zone, told])
    return hashlib.blake2b(text.encode(), digest_size=8).hexdigest()
