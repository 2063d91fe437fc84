"""Making a new workspace on disk, with a server of the user's if one is given."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from ferox.core.naming import free_name
from ferox.formats.server import ServerFile
from ferox.intake.files import write_whole
from ferox.intake.limits import IntakeError
from ferox.making.beginning import AGENT, MADE_UP_SERVER, new_workspace_files, workspace_name
from ferox.making.connecting import Connection
from ferox.making.from_openapi import from_openapi
from ferox.making.mocks import MakingError
from ferox.making.pasted import parse_pasted
from ferox.making.pasted_server import PasteError
from ferox.workspace.vault import Vault
from ferox.workspace.write import yaml_text

_OPENAPI = re.compile(r"""(?m)\A\s*+\{[^{}]*"openapi"|^[ \t]*+["\']?openapi["\']?[ \t]*+:""")


class BeginningError(ValueError):
    """A workspace that cannot be made there; the message says why. Nothing was written."""


@dataclass
class NewWorkspace:
    """A workspace that was made: its files, what to know of them, and its agent's name."""

    files: list[str]
    notes: list[str]
    agent: str


@dataclass
class _GivenServers:
    """Servers that were given: files by name, secrets pasted with them, and what to know."""

    files: dict[str, str] = field(default_factory=dict)
    secrets: dict[str, str] = field(default_factory=dict)
    notes: list[str] = field(default_factory=list)


def cannot_begin(folder: Path) -> str | None:
    """Why no workspace can be made in a folder; None if one can. Hidden files are no hindrance."""
    if folder.is_dir() and any(not path.name.startswith(".") for path in folder.iterdir()):
        return f"{folder} is not empty; name a folder that is not there yet"
    return None


def make_workspace(folder: Path, connection: Connection, given: str | None) -> NewWorkspace:
    """Make a workspace for an agent that is built in one way. `given` is a server of the user's
    besides: a launch line, an address, a configuration block, or an OpenAPI document.

    Raises:
        BeginningError: the folder is not empty, or no server is found in what is given.
        OSError: a file cannot be written.
    """
    hindrance = cannot_begin(folder)
    if hindrance:
        raise BeginningError(hindrance)
    servers = _GivenServers() if given is None else _servers_of(given)
    name = workspace_name(folder.absolute().name)
    files = new_workspace_files(name, connection, AGENT, servers.files)
    for path, text in files.items():
        place = folder.absolute() / path
        place.parent.mkdir(parents=True, exist_ok=True)
        if not place.exists():  # such as a .gitignore of the user's
            _write(place, text)
    Vault(folder.absolute()).keep_secrets(servers.secrets)
    return NewWorkspace(list(files), servers.notes, AGENT)


def _write(place: Path, text: str) -> None:
    write_whole(place, lambda file: file.write(text))


def _servers_of(given: str) -> _GivenServers:
    try:
        if _OPENAPI.search(given):
            title, mock, notes = from_openapi(given)
            name = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-") or "api"
            name = free_name(name, {MADE_UP_SERVER})
            document = {"ferox": 1, "server": name, "title": title, "mock": mock}
            return _GivenServers({name: _server_text(document)}, {}, notes)
        found = parse_pasted(given)
    except (PasteError, MakingError, IntakeError) as error:
        raise BeginningError(str(error)) from None
    servers = _GivenServers()
    for one in found:
        one.name = free_name(one.name, {MADE_UP_SERVER, *servers.files})
        servers.files[one.name] = _server_text(one.document())
        servers.secrets |= one.secrets
        servers.notes += [f"{one.name}: {note}" for note in one.notes]
    return servers


def _server_text(document: dict[str, Any]) -> str:
    ServerFile.model_validate(document)
    return yaml_text(document)
