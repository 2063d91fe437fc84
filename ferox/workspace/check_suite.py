"""Checks of a suite's file that its schema cannot make: does each task say what can be?

What is wrong is told with its line, column and what to do. What may be meant so, and is
more likely not, is a note: it keeps nothing from running.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Set
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from ferox.core.arms import agent_of_arm
from ferox.core.clock import REAL, Clock
from ferox.core.definitions import properties_of, required_of
from ferox.core.json_values import equal_json
from ferox.core.user_rules import never_fires
from ferox.formats.agent import OWN
from ferox.formats.server import ServerFile
from ferox.formats.suite import Expect, ServerAnswer, Suite, Task, TruthLookup, UserRule
from ferox.intake.yaml_text import ValuePath
from ferox.recordings.recording import RecordingError, read_recording
from ferox.workspace.check_expect import check_expect, check_whole
from ferox.workspace.check_server import Definition, check_step, known_tools
from ferox.workspace.check_sources import KnownNames, check_matcher, check_regex
from ferox.workspace.modes import MOCK, RECORDED, modes_of
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.yaml_files import YamlFile


@dataclass
class SuiteContext:
    """What a suite is checked against: the workspace's servers, and the tools they offer.

    `seen` are tools that a live server was seen to offer, by server. Without `servers`
    (a suite by itself, or files that do not load) nothing is said of servers and tools, and
    without `agents` nothing of agents.
    """

    servers: Mapping[str, ServerFile] | None = None
    root: Path = Path()
    seen: Mapping[str, Mapping[str, Definition]] = field(default_factory=dict)
    agents: Set[str] | None = None
    _known: dict[tuple[str, str | None], Mapping[str, Definition] | None] = field(
        default_factory=dict
    )

    def has_mode(self, server: str, mode: str) -> bool:
        """Whether a server is known to have a mode."""
        known = (self.servers or {}).get(server)
        return known is not None and mode in modes_of(known)

    def mode_tools(self, server: str, mode: str | None) -> Mapping[str, Definition] | None:
        """A server's tools by name; None if nobody can tell."""
        if self.servers is None or server not in self.servers:
            return None
        if mode is not None and not self.has_mode(server, mode):
            return None  # that is said once, where the mode stands
        if (server, mode) not in self._known:
            known = known_tools(self.servers[server], self.root, mode)
            self._known[server, mode] = self.seen.get(server) if known is None else known
        return self._known[server, mode]


def check_suite(file: YamlFile, suite: Suite, around: SuiteContext) -> Iterator[Problem]:
    """Every problem and note of a suite's file."""
    try:
        ZoneInfo(suite.zone)
        if suite.clock != REAL:
            _ = Clock(suite.clock, suite.zone).moment
    except (ZoneInfoNotFoundError, ValueError) as error:
        key = "clock" if "date-time" in str(error) else "zone"
        yield file.problem_at((key,), f"`{key}`: {error}")
        return
    yield from _check_servers(file, suite, around)
    yield from _check_known(file, suite, around)
    yield from _check_steps(file, suite, around)
    seen: set[str] = set()
    for i, task in enumerate(suite.tasks):
        at: ValuePath = ("tasks", i)
        if task.task in seen:
            yield file.problem_at((*at, "task"), f"task `{task.task}` stands here twice")
        seen.add(task.task)
        yield from TaskCheck(file, suite, task, at=at, around=around).problems()


def _check_servers(file: YamlFile, suite: Suite, around: SuiteContext) -> Iterator[Problem]:
    for server, mode in suite.servers.items() if around.servers is not None else ():
        assert around.servers is not None
        if server not in around.servers:
            hint = did_you_mean(server, around.servers)
            yield file.problem_at(("servers", server), f"`{server}`: no such server{hint}")
        elif mode not in modes_of(around.servers[server]):
            hint = did_you_mean(mode, modes_of(around.servers[server]))
            yield file.problem_at(("servers", server), f"`{server}` has no `{mode}`{hint}")
        elif suite.clock != REAL and mode not in (MOCK, RECORDED):
            day = Clock(suite.clock, suite.zone).today
            message = f"`{server}` is {mode} here and lives by the real day, but the agent is told"
            message += f" that today is {day}; say `clock: now`, or mean both"
            yield file.problem_at(("servers", server), message, note=True)


def _check_steps(file: YamlFile, suite: Suite, around: SuiteContext) -> Iterator[Problem]:
    """What is done to live servers before and after."""
    for key in ("prepare", "restore"):
        for i, step in enumerate(getattr(suite, key)):
            at: ValuePath = (key, i)
            yield from check_step(file, step, at)
            if step.tool is None or around.servers is None:
                continue
            server, slash, tool = step.tool.partition("/")
            if not slash:
                message = f"`{step.tool}` is not a tool's address; write `server/tool`"
                yield file.problem_at((*at, "tool"), message)
            elif server not in suite.servers:
                hint = did_you_mean(server, suite.servers)
                message = f"`{server}`: no server of this suite{hint}"
                yield file.problem_at((*at, "tool"), message)
            elif (known := around.mode_tools(server, suite.servers[server])) and tool not in known:
                hint = did_you_mean(tool, known)
                yield file.problem_at((*at, "tool"), f"`{step.tool}`: no such tool{hint}")
            elif suite.servers[server] in (MOCK, RECORDED):
                message = f"`{server}` is {suite.servers[server]} here, so this is not done"
                yield file.problem_at((*at, "tool"), message, note=True)


def _check_known(file: YamlFile, suite: Suite, around: SuiteContext) -> Iterator[Problem]:
    tasks = [task.task for task in suite.tasks]
    for i, known in enumerate(suite.known):
        if known.task not in tasks:
            hint = did_you_mean(known.task, tasks)
            message = f"`{known.task}`: no such task in this suite{hint}"
            yield file.problem_at(("known", i, "task"), message)
        for n, agent in enumerate(known.agents if around.agents is not None else ()):
            assert around.agents is not None
            if agent_of_arm(agent) not in around.agents:
                hint = did_you_mean(agent, around.agents)
                yield file.problem_at(("known", i, "agents", n), f"`{agent}`: no such agent{hint}")


@dataclass
class TaskCheck:
    """One task being checked, at its place in the file."""

    file: YamlFile
    suite: Suite
    task: Task
    at: ValuePath
    around: SuiteContext

    def problems(self) -> Iterator[Problem]:
        """Everything that is wrong with the task."""
        names = KnownNames(truths={t.as_: t.tool for t in self.task.truth})
        yield from self._check_truths()
        yield from self._check_given()
        yield from self._check_offer()
        yield from self._check_approvals()
        yield from self._check_answers(names)
        yield from self._check_faults()
        for n, (rules, path) in enumerate(self._rule_lists()):
            names.grants |= {r.grants for r in rules if r.grants}
            yield from self._check_user_rules(rules, path, n)
        if self.task.parts is None:
            yield from self._check_expectations(self.task.expect, (*self.at, "expect"), names, 0)
            return
        yield from check_whole(self.file, self.task.expect, (*self.at, "expect"))
        for n, part in enumerate(self.task.parts):
            path = (*self.at, "parts", n, "expect")
            yield from self._check_expectations(part.expect, path, names, n)
        yield from check_expect(
            self, self.task.expect, (*self.at, "expect"), names=names, part=None
        )

    def _check_expectations(
        self, expect: Expect, path: ValuePath, names: KnownNames, part: int
    ) -> Iterator[Problem]:
        """Of a part; alternatives each by itself, and a later part knows the names of the first."""
        if expect.either is None:
            yield from check_expect(self, expect, path, names=names, part=part)
            return
        if expect.model_fields_set != {"either"}:
            message = "beside `either` nothing else may stand: put it into each alternative"
            yield self.file.problem_at(path, message)
        known = names.copy()
        for i, one in enumerate(expect.either):
            mine = known.copy()
            yield from check_expect(self, one, (*path, "either", i), names=mine, part=part)
            names.add(mine)

    def find_tool(self, address: str) -> Definition | None:
        """A tool's definition in the mode that the suite uses; None if nobody can tell."""
        server, name = address.split("/", 1)
        return (self.around.mode_tools(server, self.suite.servers.get(server)) or {}).get(name)

    def check_address(self, address: str, path: ValuePath) -> Iterator[Problem]:
        """An unknown server or tool."""
        server, tool = address.split("/", 1)
        if server == OWN or self.around.servers is None:
            return
        if server not in self.around.servers:
            hint = did_you_mean(server, self.around.servers)
            yield self.file.problem_at(path, f"`{address}`: no such server{hint}")
            return
        known = self.around.mode_tools(server, self.suite.servers.get(server))
        if known is not None and tool not in known:
            hint = did_you_mean(tool, known)
            yield self.file.problem_at(path, f"`{address}`: no such tool{hint}")
        elif server not in self.suite.servers and {*self.suite.servers} <= {*self.around.servers}:
            message = f"`{address}`: the suite does not list `{server}` under `servers`"
            yield self.file.problem_at(path, f"{message}; add `{server}: {MOCK}` there")

    def check_glob(self, glob: str, path: ValuePath) -> Iterator[Problem]:
        """A glob of tools that is really one address, and an unknown one."""
        if "/" in glob and _is_plain(glob):
            yield from self.check_address(glob, path)

    def given_args(
        self, address: str, args: Mapping[str, Any], path: ValuePath
    ) -> Iterator[Problem]:
        """Names of arguments that a tool does not have."""
        known = properties_of((self.find_tool(address) or {}).get("inputSchema"))
        for name in args if known else ():
            if name not in known:
                hint = did_you_mean(name, known)
                yield self.file.problem_at(
                    (*path, name), f"`{address}` has no argument `{name}`{hint}"
                )

    def _check_truths(self) -> Iterator[Problem]:
        seen: set[str] = set()
        for i, truth in enumerate(self.task.truth):
            path: ValuePath = (*self.at, "truth", i)
            if truth.as_ in seen:
                yield self.file.problem_at((*path, "as"), f"the name `{truth.as_}` is taken")
            seen.add(truth.as_)
            yield from self.check_address(truth.tool, (*path, "tool"))
            yield from self._check_recorded_truth(truth, path)
            yield from self.given_args(truth.tool, truth.args, (*path, "args"))
            for name in required_of((self.find_tool(truth.tool) or {}).get("inputSchema")):
                if name not in truth.args:
                    message = f"`{truth.tool}` requires `{name}`; Ferox cannot look it up without"
                    yield self.file.problem_at(path, message)

    def _check_recorded_truth(self, truth: TruthLookup, path: ValuePath) -> Iterator[Problem]:
        """What a recording cannot tell: what it does not hold, and what a trial changed."""
        server = truth.tool.split("/", 1)[0]
        around = self.around
        if around.servers is None or self.suite.servers.get(server) != RECORDED:
            return
        if truth.when != "before":
            message = f"a recording never changes: what a trial did to {server} it cannot tell"
            yield self.file.problem_at((*path, "when"), message, note=True)
        file = around.servers.get(server)
        if file is not None and file.recording and not _holds_call(file, around.root, truth):
            message = f"the recording of {server} holds no such call, so `{truth.as_}` is not told"
            yield self.file.problem_at(path, f"{message} in this mode", note=True)

    def _check_offer(self) -> Iterator[Problem]:
        for server, tools in (self.task.offer or {}).items():
            path: ValuePath = (*self.at, "offer", server)
            if server not in self.suite.servers:
                hint = did_you_mean(server, self.suite.servers)
                yield self.file.problem_at(path, f"`{server}`: no such server in `servers`{hint}")
                continue
            known = self.around.mode_tools(server, self.suite.servers[server])
            for i, tool in enumerate(tools if isinstance(tools, list) else ()):
                if known is not None and "*" not in tool and tool not in known:
                    hint = did_you_mean(tool, known)
                    message = f"`{server}/{tool}`: no such tool{hint}"
                    yield self.file.problem_at((*path, i), message)

    def _check_given(self) -> Iterator[Problem]:
        for server, given in self.task.given.items() if self.around.servers is not None else ():
            path: ValuePath = (*self.at, "given", server)
            if server not in self.suite.servers:
                hint = did_you_mean(server, self.suite.servers)
                yield self.file.problem_at(path, f"`{server}` is not a server of this suite{hint}")
                continue
            mode = self.suite.servers[server]
            if mode != MOCK and self.around.has_mode(server, mode):
                message = f"`given` is for mocks; `{server}` is {mode} here"
                yield self.file.problem_at(
                    path, f"{message}, so nothing of it takes effect", note=True
                )
            for tool in given.answers:
                yield from self.check_address(f"{server}/{tool}", (*path, "answers", tool))

    def _check_approvals(self) -> Iterator[Problem]:
        for i, entry in enumerate(self.task.approvals):
            path: ValuePath = (*self.at, "approvals", i)
            yield from self.check_glob(entry.tool, (*path, "tool"))
            if entry.edit and entry.decision == "deny":
                message = "`edit` has no effect on a denial; approve it, or leave `edit` out"
                yield self.file.problem_at((*path, "edit"), message)
            if "/" in entry.tool and _is_plain(entry.tool):
                yield from self.given_args(entry.tool, entry.edit, (*path, "edit"))

    def _check_answers(self, names: KnownNames) -> Iterator[Problem]:
        """What the user answers servers; the names given by it are added to `names`."""
        lists: list[tuple[list[ServerAnswer], ValuePath]] = [(self.task.answers, self.at)]
        for n, part in enumerate(self.task.parts or ()):
            lists.append((part.answers, (*self.at, "parts", n)))
        for entries, around in lists:
            for i, entry in enumerate(entries):
                path: ValuePath = (*around, "answers", i)
                yield from check_matcher(self.file, entry.if_message, (*path, "if_message"))
                server = entry.server
                if self.around.servers and _is_plain(server) and server not in self.suite.servers:
                    hint = did_you_mean(server, self.suite.servers)
                    message = f"`{server}`: no server of this suite{hint}"
                    yield self.file.problem_at((*path, "server"), message)
                if entry.as_ is not None and entry.as_ in names:
                    yield self.file.problem_at((*path, "as"), f"the name `{entry.as_}` is taken")
                elif entry.as_ is not None:
                    names.answers.add(entry.as_)

    def _check_faults(self) -> Iterator[Problem]:
        for i, fault in enumerate(self.task.faults):
            path: ValuePath = (*self.at, "faults", i)
            server = fault.server
            plain = self.around.servers is not None and server is not None and _is_plain(server)
            if plain and server not in self.suite.servers:
                hint = did_you_mean(str(server), self.suite.servers)
                yield self.file.problem_at(
                    (*path, "server"), f"`{server}`: no server of this suite{hint}"
                )
            elif plain and fault.tool:
                yield from self.check_glob(f"{server}/{fault.tool}", (*path, "tool"))
            if fault.obeyed_if:
                yield from self.check_address(fault.obeyed_if.tool, (*path, "obeyed_if", "tool"))
                args = fault.obeyed_if.args
                yield from self.given_args(fault.obeyed_if.tool, args, (*path, "obeyed_if", "args"))

    def _rule_lists(self) -> Iterator[tuple[list[UserRule], ValuePath]]:
        """Rules with the path of their list: the task's, and each part's."""
        yield self.task.user, (*self.at, "user")
        for n, part in enumerate(self.task.parts or ()):
            yield part.user, (*self.at, "parts", n, "user")

    def _check_user_rules(
        self, rules: list[UserRule], path: ValuePath, place: int
    ) -> Iterator[Problem]:
        for i, rule in enumerate(rules):
            where = (*path, i, "if_reply", "matches")
            yield from check_regex(self.file, rule.if_reply.matches, where)
        # After a part's own rules the task's may answer.
        after = self.task.user if place else []
        patterns = [(r.if_reply.matches, r.at_most is not None) for r in [*rules, *after]]
        for late, early, why in never_fires(patterns):
            message = f"this rule can never fire: rule {early} before it {why}"
            message += "; put it first, or give the other an `at_most`"
            if late < len(rules):
                yield self.file.problem_at((*path, late), message)


def _holds_call(server: ServerFile, root: Path, truth: TruthLookup) -> bool:
    """Whether a server's recording answers a look-up; True where it cannot be read."""
    try:
        recording = read_recording(root / (server.recording or ""))
    except RecordingError:
        return True
    if server.replay.match == "nearest" or server.replay.miss != "error":
        return True
    name, ignored = truth.tool.split("/", 1)[1], server.replay.ignore
    wanted = {key: value for key, value in truth.args.items() if key not in ignored}
    return any(
        call.tool == name
        and equal_json({k: v for k, v in (call.args or {}).items() if k not in ignored}, wanted)
        for call in recording.calls
    )


def _is_plain(glob: str) -> bool:
    """Whether a glob fits just the one name that it is."""
    return not set("*?[") & set(glob)
