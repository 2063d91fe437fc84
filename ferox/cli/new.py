"""`ferox new`: a workspace that verifies and runs at once."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import click

from ferox.cli.output import WRONG_USE, fail, say
from ferox.formats.server import ServerFile
from ferox.intake.files import read_text, write_whole
from ferox.intake.limits import IntakeError
from ferox.making.beginning import new_workspace_files, next_steps, workspace_name
from ferox.making.connecting import CONNECTIONS, find_connection
from ferox.making.from_openapi import from_openapi
from ferox.making.mocks import MakingError
from ferox.making.pasted import PasteError, parse_pasted
from ferox.workspace.vault import current_vault, open_vault
from ferox.workspace.write import yaml_text

KINDS = [connection.name for connection in CONNECTIONS]
OPENAPI = (".json", ".yaml", ".yml")


@click.command()
@click.argument("directory", type=click.Path(path_type=Path, file_okay=False))
@click.option(
    "--agent", "kind", type=click.Choice(KINDS), default="plain", show_default=True,
    help="How your agent is built.",
)  # fmt: skip
@click.option(
    "--from", "given", metavar="SERVER",
    help="A tool server besides the made-up one: a launch line, an address, or an OpenAPI file.",
)  # fmt: skip
def new(directory: Path, kind: str, given: str | None) -> None:
    """Make a workspace in DIRECTORY: one server, one agent, one suite with two tasks."""
    if directory.exists() and any(directory.iterdir()):
        fail(WRONG_USE, f"{directory} is not empty; name a folder that is not there yet")
    connection = find_connection(kind)
    assert connection is not None
    agent = "desk" if kind == "plain" else kind
    servers, secrets, notes = _servers_of(given) if given else ({}, {}, [])
    name = workspace_name(directory.absolute().name)
    for path, text in new_workspace_files(name, connection, agent, servers).items():
        place = directory.absolute() / path
        place.parent.mkdir(parents=True, exist_ok=True)
        _write(place, text)
    if secrets:
        open_vault(directory.absolute())
        current_vault().keep_secrets(secrets)
    for note in notes:
        say(note)
    say(f"{directory} is a workspace. Next:")
    for step in next_steps(connection, agent, str(directory)):
        say(f"  {step}")


def _write(place: Path, text: str) -> None:
    write_whole(place, lambda file: file.write(text))


def _servers_of(given: str) -> tuple[dict[str, str], dict[str, str], list[str]]:
    """Files of servers by name, the secrets that were pasted with them, and what to know."""
    path = Path(given)
    try:
        if path.suffix in OPENAPI and path.is_file():
            title, mock, notes = from_openapi(read_text(path))
            name = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-") or "api"
            document = {"ferox": 1, "server": name, "title": title, "mock": mock}
            return {name: _server_text(document)}, {}, notes
        found = parse_pasted(given)
    except (PasteError, MakingError, IntakeError) as error:
        fail(WRONG_USE, f"--from: {error}")
    return (
        {
            one.name: _server_text({"ferox": 1, "server": one.name, "live": one.live})
            for one in found
        },
        {name: value for one in found for name, value in one.secrets.items()},
        [f"{one.name}: {note}" for one in found for note in one.notes],
    )


def _server_text(document: dict[str, Any]) -> str:
    ServerFile.model_validate(document)
    return yaml_text(document)
