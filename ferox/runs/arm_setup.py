"""What an arm of a plan changes: its agent's file, and the suites and servers that it meets."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from ferox.core.arms import Arm, arms_of, server_dimension
from ferox.core.chance import draw
from ferox.formats.agent import AgentFile
from ferox.formats.fault import Fault
from ferox.formats.plan import AS_IS, FaultsInstead, PlanFile, Wordings
from ferox.formats.server import ServerFile, ToolWording
from ferox.formats.suite import Suite
from ferox.workspace import Workspace
from ferox.workspace.check_server import known_tools
from ferox.workspace.load import read_instructions
from ferox.workspace.modes import MOCK


class ArmSetup(BaseModel):
    """What an arm changes of suites and servers; what it changes of its agent stands in the
    agent's own file. `values`: the value's name by dimension. `decoys`: tools by server."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    agent: str
    values: dict[str, str] = {}
    modes: dict[str, str] = {}
    wording: Wordings = {}
    faults: list[Fault] = []
    own_faults: bool = True
    decoys: dict[str, list[str]] = {}

    def change_suite(self, suite: Suite) -> Suite:
        """A suite as this arm meets it."""
        servers = {s: self.modes.get(s, mode) for s, mode in suite.servers.items()}
        update: dict[str, Any] = {"servers": servers | dict.fromkeys(self.decoys, MOCK)}
        if self.faults or not self.own_faults:
            update["tasks"] = [
                task.model_copy(
                    update={"faults": [*(task.faults if self.own_faults else ()), *self.faults]}
                )
                for task in suite.tasks
            ]
        return suite.model_copy(update=update)

    def change_server(self, file: ServerFile) -> ServerFile:
        """A server's file with this arm's words over its own."""
        words = self.wording.get(file.server)
        if not words:
            return file
        return file.model_copy(update={"wording": _laid_over(file.wording, words)})

    def faults_label(self) -> str:
        """The name of its faults; empty if the tasks meet their own, and those alone."""
        changed = self.faults or not self.own_faults
        return self.values.get("faults", "") if changed else ""


def _laid_over(
    own: Mapping[str, ToolWording], words: Mapping[str, ToolWording]
) -> dict[str, ToolWording]:
    """A wording with another over it: what the other leaves open stays."""
    merged = dict(own)
    for tool, new in words.items():
        given = {key: getattr(new, key) for key in new.model_fields_set}
        before = merged.get(tool, ToolWording())
        if "arguments" in given:
            given["arguments"] = {**before.arguments, **new.arguments}
        merged[tool] = before.model_copy(update=given)
    return merged


class ArmFiles(BaseModel):
    """One arm, ready to be run: its agent's file, its instructions and what else it changes."""

    file: AgentFile
    instructions: str
    setup: ArmSetup


def arm_files(workspace: Workspace, plan: PlanFile) -> dict[str, ArmFiles]:
    """The arms of a plan by name, its baselines first in each agent's.

    Raises:
        TooManyArms: there would be too many.
        ValueError: instructions that it names are not there.
    """
    return {arm.name: _files_of(workspace, plan, arm) for arm in arms_of(plan)}


def _files_of(workspace: Workspace, plan: PlanFile, arm: Arm) -> ArmFiles:
    vary, values = plan.vary, arm.values
    file = workspace.agents[arm.agent]
    update: dict[str, Any] = {}
    if "model" in values:
        model = values["model"]
        update["model"] = vary.model[model] if isinstance(vary.model, dict) else model
    if "params" in values:
        update["params"] = {**file.params, **vary.params[values["params"]]}
    instructions = workspace.instructions[arm.agent]
    if (text := vary.instructions.get(values.get("instructions", ""), AS_IS)) != AS_IS:
        instructions = read_instructions(workspace.root, text)
        update["instructions"] = text
    offer = vary.offer.get(values.get("offer", ""), AS_IS)
    if offer != AS_IS:
        update["offer"] = {} if offer == "none" else offer
    decoys = _decoys_of(workspace, plan, int(values.get("decoys", 0)))
    if decoys:
        update["offer"] = {**_whole_offer(workspace, update.get("offer", file.offer)), **decoys}
    faults, own_faults = _faults_of(plan, values.get("faults"))
    wording = vary.wording.get(values.get("wording", ""), {})
    setup = ArmSetup(
        agent=arm.agent,
        values=dict(values),
        modes={s: values[server_dimension(s)] for s, modes in vary.server.items() if modes},
        wording={} if wording == AS_IS else wording,
        faults=faults,
        own_faults=own_faults,
        decoys=decoys,
    )
    changed = file.model_copy(update=update) if update else file
    return ArmFiles(file=changed, instructions=instructions, setup=setup)


def _whole_offer(
    workspace: Workspace, offer: Mapping[str, Any] | None
) -> dict[str, Literal["all"] | list[str]]:
    """An offer that says what it leaves unsaid: all of every server."""
    return dict.fromkeys(workspace.servers, "all") if offer is None else dict(offer)


def _decoys_of(workspace: Workspace, plan: PlanFile, count: int) -> dict[str, list[str]]:
    """The first so many decoys in an order by lot that stays the same: 20 are among the 100."""
    if plan.vary.decoys is None or count == 0:
        return {}
    server = plan.vary.decoys.from_
    tools = known_tools(workspace.servers[server], workspace.root, MOCK) or {}
    by_lot = sorted(tools, key=lambda tool: draw(0, server, tool))
    return {server: by_lot[:count]}


def _faults_of(plan: PlanFile, value: str | None) -> tuple[list[Fault], bool]:
    """Faults that are laid over the tasks, and whether the tasks' own stay."""
    given = plan.vary.faults.get(value or "", AS_IS)
    if isinstance(given, FaultsInstead):
        return given.instead, False
    if isinstance(given, list):
        return given, True
    return [], given != "none"
