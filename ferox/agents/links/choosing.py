"""Which link drives an agent."""

from __future__ import annotations

import asyncio
from pathlib import Path

from ferox.agents.links.chat import ChatLink
from ferox.agents.links.http import HttpLink
from ferox.agents.links.link import Link
from ferox.agents.links.plain import PlainLink
from ferox.agents.links.process import ProcessLink, PythonLink
from ferox.agents.links.standing import StandingLink
from ferox.agents.links.tool import ToolLink
from ferox.agents.standing_addresses import SEAMS, AddressHolder
from ferox.formats.agent import AgentFile

STARTS_AT_ONCE = 2
"""Processes that may be starting side by side."""


def make_link(
    agent: AgentFile,
    workspace: Path,
    folder: Path,
    seams: AddressHolder,
    starts: asyncio.Semaphore | None = None,
) -> Link:
    """The link that an agent's file asks for. `folder` is the workspace's `.ferox`.

    `seams` are the agent's standing addresses, if it finds the seams there; `starts`
    staggers the starts of processes of all agents together.
    """
    starts = starts or asyncio.Semaphore(STARTS_AT_ONCE)
    link = _plain_link(agent, workspace, seams, starts)
    return StandingLink(link, agent.agent, folder) if agent.uses_standing_addresses else link


def _plain_link(
    agent: AgentFile, workspace: Path, seams: AddressHolder, starts: asyncio.Semaphore
) -> Link:
    """The link itself, whether or not the agent finds the seams at standing addresses."""
    variables = {SEAMS: seams.as_json()} if agent.standing else {}
    match agent.link:
        case "plain":
            return PlainLink()
        case "process":
            return ProcessLink(agent, workspace, starts, variables)
        case "python":
            return PythonLink(agent, workspace, starts, variables)
        case "chat":
            return ChatLink(agent, workspace, seams)
        case "tool":
            return ToolLink(agent, workspace, seams)
        case "http":
            return HttpLink(agent, workspace, seams)
        case "a2a":
            # Its SDK takes a while to import, and most workspaces do not need it.
            from ferox.agents.links.a2a import A2ALink

            return A2ALink(agent, workspace, seams)
