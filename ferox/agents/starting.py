"""Starting what an agent's file names, in the environment that it names."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from ferox.agents.agent_process import AgentProcess
from ferox.agents.links.link import AgentDidNotStart
from ferox.formats.agent import AgentFile
from ferox.processes.starting import find_program
from ferox.workspace.environment import process_environment
from ferox.workspace.vault import UnsetSecret


async def start_agent(
    agent: AgentFile, workspace: Path, more: Mapping[str, str] | None = None
) -> AgentProcess:
    """Start an agent's `command`; `more` are variables of Ferox's own for it.

    Raises:
        AgentDidNotStart: it names nothing that can be started.
    """
    words = list(agent.command or ())
    cwd = (workspace / (agent.cwd or ".")).resolve()
    if not cwd.is_dir():
        message = f"the working directory `{agent.cwd}` does not exist"
        raise AgentDidNotStart(f"{message}; correct `cwd`, which starts at the workspace")
    found = find_program(words[0], cwd)
    if found is None:
        message = f"the command `{words[0]}` was not found"
        raise AgentDidNotStart(f"{message}; install it, or give its full path in `command`")
    return await start_command([found, *words[1:]], cwd, agent, more)


async def start_command(
    command: list[str], cwd: Path, agent: AgentFile, more: Mapping[str, str] | None = None
) -> AgentProcess:
    """Start a command with the variables that an agent's file names.

    Raises:
        AgentDidNotStart: a secret is not set, or the command cannot be started.
    """
    try:
        env = {**process_environment(agent.env, f"the agent {agent.agent}"), **(more or {})}
        return await AgentProcess.start(command, cwd, env)
    except UnsetSecret as error:
        raise AgentDidNotStart(f"env: {error}") from None
    except OSError as error:
        raise AgentDidNotStart(f"`{command[0]}` cannot be started: {error}") from None
