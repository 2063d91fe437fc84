"""What one run does otherwise than the files say."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from ferox.formats.agent import AgentFile
from ferox.formats.suite import Suite
from ferox.workspace import Workspace
from ferox.workspace.modes import modes_of
from ferox.workspace.problems import did_you_mean


class OverrideError(ValueError):
    """Something that a run cannot do otherwise; the message says why."""


class Overrides(BaseModel):
    """What a run does otherwise.

    `modes`: server → live, recorded, mock or a variant. `models`: a model, or `*` for every
    one, → the model that is used in its place. `faults`: a set of the workspace's that is
    laid over every task, after the task's own.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    modes: dict[str, str] = {}
    models: dict[str, str] = {}
    faults: str | None = None

    def check_workspace(self, workspace: Workspace) -> None:
        """See whether the workspace has what is wanted.

        Raises:
            OverrideError: it has not.
        """
        for server, mode in self.modes.items():
            if server not in workspace.servers:
                known = ", ".join(sorted(workspace.servers))
                raise OverrideError(f"`{server}`: no such server; there is {known}")
            there = modes_of(workspace.servers[server])
            if mode not in there:
                known = ", ".join(there) or "no mode at all"
                raise OverrideError(
                    f"`{server}={mode}`: no such mode of this server; there is {known}"
                )
        models = workspace.settings.models
        for name in [m for pair in self.models.items() for m in pair if m != "*"]:
            if name not in models:
                raise OverrideError(f"`{name}`: no such model{did_you_mean(name, models)}")
        sets = workspace.settings.faults
        if self.faults is not None and self.faults not in sets:
            known = ", ".join(sorted(sets)) or "none in ferox.yaml"
            raise OverrideError(f"`{self.faults}`: no such set of faults; there is {known}")

    def override_agent(self, agent: AgentFile) -> AgentFile:
        """An agent as this run has it."""

        def instead(model: str) -> str:
            return self.models.get(model) or self.models.get("*") or model

        if not self.models or agent.model is None:
            return agent
        named = {name: instead(model) for name, model in agent.models.items()}
        return agent.model_copy(update={"model": instead(agent.model), "models": named})

    def override_suite(self, suite: Suite, workspace: Workspace) -> Suite:
        """A suite as this run has it."""
        servers = {s: self.modes.get(s, mode) for s, mode in suite.servers.items()}
        update: dict[str, object] = {"servers": servers}
        if self.faults is not None:
            more = workspace.settings.faults[self.faults]
            update["tasks"] = [
                t.model_copy(update={"faults": [*t.faults, *more]}) for t in suite.tasks
            ]
        return suite.model_copy(update=update)

    def summary(self) -> str:
        """What is otherwise, in a few words; empty if nothing is."""
        words = [f"{server} {mode}" for server, mode in self.modes.items()]
        words += [
            f"model {new}" if old == "*" else f"{new} for {old}" for old, new in self.models.items()
        ]
        return ", ".join([*words, *([f"faults {self.faults}"] if self.faults else [])])
