"""Checks of a plan's file: does the workspace have what it varies, and are its arms few enough?"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import TYPE_CHECKING, Any

from ferox.core.arms import TooManyArms, arms_of, dimensions_of, server_dimension
from ferox.core.rewording import wording_problems
from ferox.formats.plan import FaultsInstead, PlanFile
from ferox.formats.suite import Suite
from ferox.intake.yaml_text import ValuePath
from ferox.workspace.check_server import known_tools
from ferox.workspace.modes import MOCK, modes_of
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.yaml_files import YamlFile

if TYPE_CHECKING:
    from ferox.workspace.load import Workspace


def check_plan(workspace: Workspace, file: YamlFile, plan: PlanFile) -> Iterator[Problem]:
    """Everything in a plan's file that its schema cannot tell."""
    check = _PlanCheck(workspace, file, plan)
    yield from check.names()
    yield from check.instructions()
    yield from check.models()
    yield from check.servers()
    yield from check.offers()
    yield from check.wordings()
    yield from check.decoys()
    yield from check.faults()
    yield from check.baseline()
    try:
        arms = arms_of(plan)
    except TooManyArms as error:
        yield file.problem_at(("vary",), str(error))
        return
    if len(arms) == len(plan.agents) and len(arms) < 2:
        message = "nothing is varied: name a second agent, or a value under `vary`"
        yield file.problem_at(("vary",), message, note=True)


class _PlanCheck:
    """One plan being checked against its workspace."""

    def __init__(self, workspace: Workspace, file: YamlFile, plan: PlanFile) -> None:
        self.workspace, self.file, self.plan = workspace, file, plan

    def _unknown(self, path: ValuePath, kind: str, name: str, known: Iterable[str]) -> Problem:
        return self.file.problem_at(path, f"`{name}`: no such {kind}{did_you_mean(name, known)}")

    def names(self) -> Iterator[Problem]:
        """Suites, tasks and agents."""
        suites, agents = self.workspace.suites, self.workspace.agents
        for i, name in enumerate(self.plan.suites):
            if name not in suites:
                yield self._unknown(("suites", i), "suite", name, suites)
        for i, address in enumerate(self.plan.tasks):
            suite, task = address.split("/", 1)
            if suite not in suites:
                yield self._unknown(("tasks", i), "suite", suite, suites)
            elif task not in (there := [t.task for t in suites[suite].tasks]):
                yield self._unknown(("tasks", i), f"task in {suite}", task, there)
        for key in ("suites", "tasks", "agents"):
            yield from self._repeated(key, getattr(self.plan, key))
        for i, name in enumerate(self.plan.agents):
            if name not in agents:
                yield self._unknown(("agents", i), "agent", name, agents)

    def _repeated(self, key: str, names: list[str]) -> Iterator[Problem]:
        for i, name in enumerate(names):
            if name in names[:i]:
                yield self.file.problem_at((key, i), f"`{name}` stands here twice")

    def _used_suites(self) -> list[Suite]:
        there = self.workspace.suites
        return [there[name] for name in self.plan.suites_used if name in there]

    def instructions(self) -> Iterator[Problem]:
        """Texts that stand in files of their own."""
        # Not at the top: loading a workspace checks its plans.
        from ferox.workspace.load import read_instructions

        for name, given in self.plan.vary.instructions.items():
            try:
                read_instructions(self.workspace.root, given)
            except ValueError as error:
                yield self.file.problem_at(("vary", "instructions", name), str(error))

    def models(self) -> Iterator[Problem]:
        """Models, and agents that think with none that could be exchanged."""
        vary, known = self.plan.vary.model, self.workspace.settings.models
        if not vary:
            return
        named = vary.items() if isinstance(vary, dict) else enumerate(vary)
        for key, model in named:
            if model not in known:
                yield self._unknown(("vary", "model", key), "model", model, known)
        if isinstance(vary, list):
            yield from self._twice(("vary", "model"), vary)
        for i, name in enumerate(self.plan.agents):
            agent = self.workspace.agents.get(name)
            if agent is not None and agent.model is None:
                message = f"`{name}` has no `model` in its file, so none can be put in its place"
                yield self.file.problem_at(("agents", i), message)

    def _twice(self, path: ValuePath, values: list[Any]) -> Iterator[Problem]:
        for i, value in enumerate(values):
            if value in values[:i]:
                yield self.file.problem_at((*path, i), f"`{value}` stands here twice")

    def servers(self) -> Iterator[Problem]:
        """Servers and their modes."""
        used = {server for suite in self._used_suites() for server in suite.servers}
        for server, modes in self.plan.vary.server.items():
            path: ValuePath = ("vary", "server", server)
            if server not in self.workspace.servers:
                yield self._unknown(path, "server", server, self.workspace.servers)
                continue
            if server not in used:
                yield self.file.problem_at(path, f"no suite of this plan uses `{server}`")
            yield from self._twice(path, modes)
            known = modes_of(self.workspace.servers[server])
            for i, mode in enumerate(modes):
                if mode not in known:
                    yield self._unknown((*path, i), f"mode of `{server}`", mode, known)

    def offers(self) -> Iterator[Problem]:
        """Servers and tools of offers."""
        for name, offer in self.plan.vary.offer.items():
            if isinstance(offer, str):
                continue
            for server, tools in offer.items():
                path: ValuePath = ("vary", "offer", name, server)
                if server not in self.workspace.servers:
                    yield self._unknown(path, "server", server, self.workspace.servers)
                    continue
                known = known_tools(self.workspace.servers[server], self.workspace.root)
                for i, tool in enumerate(tools if isinstance(tools, list) else ()):
                    if known is not None and "*" not in tool and tool not in known:
                        yield self._unknown((*path, i), f"tool of `{server}`", tool, known)

    def wordings(self) -> Iterator[Problem]:
        """Tools and names of wordings."""
        for name, wording in self.plan.vary.wording.items():
            if isinstance(wording, str):
                continue
            for server, words in wording.items():
                path: ValuePath = ("vary", "wording", name, server)
                if server not in self.workspace.servers:
                    yield self._unknown(path, "server", server, self.workspace.servers)
                    continue
                known = known_tools(self.workspace.servers[server], self.workspace.root)
                for place, problem in wording_problems(known, words) if known else ():
                    yield self.file.problem_at((*path, *place), problem)

    def decoys(self) -> Iterator[Problem]:
        """A mocked server with tools enough, that no task needs."""
        decoys = self.plan.vary.decoys
        if decoys is None:
            return
        at: ValuePath = ("vary", "decoys")
        server = self.workspace.servers.get(decoys.from_)
        if server is None:
            yield self._unknown((*at, "from"), "server", decoys.from_, self.workspace.servers)
            return
        if server.mock is None:
            message = f"`{decoys.from_}` has no `mock`, and decoys come from one"
            yield self.file.problem_at((*at, "from"), message)
            return
        for suite in self._used_suites():
            if decoys.from_ in suite.servers:
                message = (
                    f"suite `{suite.suite}` uses `{decoys.from_}` itself; take decoys from a "
                    "server that no task of the plan uses"
                )
                yield self.file.problem_at((*at, "from"), message)
        there = len(known_tools(server, self.workspace.root, MOCK) or {})
        for i, count in enumerate(decoys.add):
            if count > there:
                message = f"`{decoys.from_}` has {there} tools, not {count}"
                yield self.file.problem_at((*at, "add", i), message)
        yield from self._twice((*at, "add"), decoys.add)

    def faults(self) -> Iterator[Problem]:
        """Servers of faults. Globs are left alone: they may fit what no file tells of."""
        servers: Mapping[str, Any] = self.workspace.servers
        for name, given in self.plan.vary.faults.items():
            if isinstance(given, str):
                continue
            instead = isinstance(given, FaultsInstead)
            faults = given.instead if isinstance(given, FaultsInstead) else given
            path: ValuePath = ("vary", "faults", name, *(("instead",) if instead else ()))
            for i, fault in enumerate(faults):
                if not set("*?[") & {*fault.server} and fault.server not in servers:
                    yield self._unknown((*path, i, "server"), "server", fault.server, servers)

    def baseline(self) -> Iterator[Problem]:
        """Values that are there."""
        for dimension in dimensions_of(self.plan):
            if dimension.baseline not in dimension.values:
                key: ValuePath = ("baseline", *dimension.name.split(" ", 1))
                message = f"`{dimension.baseline}` is none of the values: "
                yield self.file.problem_at(key, message + ", ".join(dimension.values))
        varied = {dimension.name for dimension in dimensions_of(self.plan)}
        given = self.plan.baseline
        named = {key for key in given.model_fields_set if key != "server"}
        named |= {server_dimension(server) for server in given.server}
        for name in sorted(named - varied):
            key = ("baseline", *name.split(" ", 1))
            yield self.file.problem_at(key, f"`{name}` is not varied")
