"""Where a suite's fixed clock meets something that lives by the real day."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from ferox.core.clock import REAL, Clock
from ferox.core.expressions import ExpressionError, names_used
from ferox.formats.agent import SERVICES, AgentFile
from ferox.formats.suite import Suite
from ferox.workspace import Workspace
from ferox.workspace.modes import MOCK, RECORDED


def clock_warnings(
    workspace: Workspace,
    suites: Iterable[Suite],
    agents: Iterable[AgentFile],
    modes: Mapping[str, str],
) -> list[str]:
    """What of a run would live by another day than its suites say.

    `modes` stand in place of the suites' own, by server.
    """
    services = [agent for agent in agents if not _learns_the_day(workspace, agent)]
    found: list[str] = []
    for suite in suites:
        if suite.clock != REAL:
            found += _warnings_of(suite, services, modes)
    return found


def _warnings_of(
    suite: Suite, services: Iterable[AgentFile], modes: Mapping[str, str]
) -> Iterator[str]:
    day = Clock(suite.clock, suite.zone).today
    for server, own in suite.servers.items():
        mode = modes.get(server, own)
        if mode not in (MOCK, RECORDED):
            yield (
                f"`{server}` is {mode} and lives by the real day, while {suite.suite} says that "
                f"today is {day}"
            )
    for agent in services:
        yield (
            f"`{agent.agent}` runs by itself, and nothing tells it that for {suite.suite} today "
            f"is {day}"
        )


def _learns_the_day(workspace: Workspace, agent: AgentFile) -> bool:
    """Whether an agent learns the trial's day: by the link, or by its instructions."""
    if agent.link not in SERVICES:
        return True
    try:
        names = names_used(workspace.instructions.get(agent.agent, ""), getter="")
        if agent.link == "http" and agent.http is not None:
            sent = names_used(agent.http.model_dump_json(), getter="")
            return "now" in sent or ("instructions" in sent and bool({"now", "today"} & names))
    except ExpressionError:
        return False
    return agent.link == "chat" and bool({"now", "today"} & names)
