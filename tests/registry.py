"""Tool servers of the registries, as their documentation says to start them."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path
from typing import Any

from ferox.formats.server import ServerFile

REGISTRY = Path(__file__).parent / "servers/registry"
PYTHON = str(REGISTRY / ".venv/bin/python")
MODULES = REGISTRY / "node_modules/@modelcontextprotocol"


def server(name: str, **live: Any) -> ServerFile:
    """A server's file that reaches it so."""
    return ServerFile.model_validate({"ferox": 1, "server": name, "live": live})


def time_server() -> ServerFile:
    """PyPI `mcp-server-time`."""
    command = [PYTHON, "-m", "mcp_server_time", "--local-timezone", "Europe/Lisbon"]
    return server("time", command=command)


def git_server(repository: Path) -> ServerFile:
    """PyPI `mcp-server-git` over a repository with one commit, made here."""
    commands = (
        ["init", "-q", "-b", "main"],
        ["add", "log.txt"],
        ["-c", "user.name=Desk", "-c", "user.email=desk@skerrow.example",
         "commit", "-q", "-m", "Keep the log"],
    )  # fmt: skip
    (repository / "log.txt").write_text("06:30 N1 free\n")
    for words in commands:
        subprocess.run(["git", "-C", str(repository), *words], check=True)
    return server("git", command=[PYTHON, "-m", "mcp_server_git", "-r", str(repository)])


def everything_server() -> ServerFile:
    """npm `@modelcontextprotocol/server-everything`."""
    return server("everything", command=["node", str(MODULES / "server-everything/dist/index.js")])


def files_server(folder: Path) -> ServerFile:
    """npm `@modelcontextprotocol/server-filesystem` over a folder."""
    (folder / "berths.txt").write_text("N1 9.84\nN2 7.62\n")
    script = str(MODULES / "server-filesystem/dist/index.js")
    return server("files", command=["node", script, str(folder)])


def memory_server(folder: Path) -> ServerFile:
    """npm `@modelcontextprotocol/server-memory`, its memory in a file."""
    script = str(MODULES / "server-memory/dist/index.js")
    env = {"MEMORY_FILE_PATH": str(folder / "memory.json")}
    return server("memory", command=["node", script], env=env)


def installed(package: str) -> str:
    """The version of an npm package that is installed here."""
    text = json.loads((MODULES / package / "package.json").read_text())
    return str(text["version"])
