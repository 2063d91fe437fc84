"""Cross-checks: do the files of a workspace fit each other?"""

from __future__ import annotations

from collections.abc import Container, Iterator
from pathlib import Path
from typing import TYPE_CHECKING

from ferox.stand_in.manners import manners_of
from ferox.workspace.check_agent import check_agent
from ferox.workspace.check_plan import check_plan
from ferox.workspace.check_server import check_server
from ferox.workspace.check_suite import SuiteContext, check_suite
from ferox.workspace.problems import Problem, did_you_mean, first_of
from ferox.workspace.yaml_files import YamlFile

if TYPE_CHECKING:
    from ferox.workspace.load import Workspace


def check_workspace(
    workspace: Workspace, complete: bool, only: Container[str] | None = None
) -> list[Problem]:
    """Problems between files, or of some of them. `complete`: every file loaded by itself.

    If not, names that are missing may stand in a file that did not load, so only
    what a file says of itself is checked.
    """
    problems: list[Problem] = []
    around = SuiteContext(
        workspace.servers if complete else None,
        workspace.root,
        agents=named_agents(workspace) if complete else None,
    )
    for file in workspace.files.values():
        folder, value = file.name.split("/")[0], file.value
        if not isinstance(value, dict) or file.problems:
            continue
        if only is not None and file.name not in only:
            continue
        if folder == "servers" and value.get("server") in workspace.servers:
            server = workspace.servers[value["server"]]
            problems += first_of(check_server(file, server, workspace.root))
        elif folder == "agents" and value.get("agent") in workspace.agents:
            agent = workspace.agents[value["agent"]]
            problems += first_of(check_agent(workspace, file, agent, complete))
        elif folder == "tasks" and value.get("suite") in workspace.suites:
            problems += first_of(check_suite(file, workspace.suites[value["suite"]], around))
        elif folder == "plans" and value.get("plan") in workspace.plans and complete:
            plan = workspace.plans[value["plan"]]
            problems += first_of(check_plan(workspace, file, plan))
        elif file.name == "ferox.yaml" and complete:
            problems += check_models(workspace, file)
    return problems


def named_agents(workspace: Workspace) -> set[str]:
    """The names of the workspace's agents, of those too whose files do not load."""
    names = {*workspace.agents}
    for file in workspace.files.values():
        if file.name.startswith("agents/"):
            said = file.value.get("agent") if isinstance(file.value, dict) else None
            names.add(said if isinstance(said, str) else Path(file.name).stem)
    return names


def check_models(workspace: Workspace, file: YamlFile) -> Iterator[Problem]:
    """Problems of the models in the workspace's own file."""
    for name, model in workspace.settings.models.items():
        beyond = model.base_url is not None or model.recording is not None
        if (model.stand_in is not None) == beyond:
            message = f"`{name}` needs either `stand_in`, or `base_url`, or `recording`"
            yield file.problem_at(("models", name), message)
        if model.recording and not (workspace.root / model.recording).is_file():
            yield file.problem_at(
                ("models", name, "recording"), f"`{model.recording}`: no such file"
            )
        if model.miss == "live" and not (model.recording and model.base_url):
            message = "`miss: live` needs a `recording`, and the `base_url` that is asked instead"
            yield file.problem_at(("models", name, "miss"), message)
        if model.base_url is not None and not model.base_url.startswith(("http://", "https://")):
            message = (
                f"`{model.base_url}` is not a valid address; it starts with http:// or https://"
            )
            yield file.problem_at(("models", name, "base_url"), message)
        document = workspace.stand_ins.get(model.stand_in or "")
        known = manners_of(document)
        if document and model.manner not in known:
            yield file.problem_at(
                ("models", name, "manner"),
                f"`{model.manner}`: no such manner{did_you_mean(model.manner, known)}",
            )
