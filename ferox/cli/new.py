"""`ferox new`: a workspace that verifies and runs at once."""

from __future__ import annotations

from pathlib import Path

import click

from ferox.cli.output import WRONG_USE, fail, say
from ferox.intake.files import read_text
from ferox.intake.limits import IntakeError
from ferox.making.beginning import next_steps
from ferox.making.connecting import CONNECTIONS, find_connection
from ferox.making.new_workspace import BeginningError, make_workspace

KINDS = [connection.name for connection in CONNECTIONS]
DOCUMENTS = (".json", ".yaml", ".yml", ".toml", ".txt", ".md")


@click.command()
@click.argument("directory", type=click.Path(path_type=Path, file_okay=False))
@click.option(
    "--agent", "kind", type=click.Choice(KINDS), default="plain", show_default=True,
    help="How your agent is built.",
)  # fmt: skip
@click.option(
    "--from", "given", metavar="SERVER",
    help="A tool server besides the made-up one: a launch line, an address, a client's "
    "configuration, or an OpenAPI document; or a file that holds it.",
)  # fmt: skip
def new(directory: Path, kind: str, given: str | None) -> None:
    """Make a workspace in DIRECTORY: one server, one agent, one suite with two tasks."""
    connection = find_connection(kind)
    assert connection is not None
    try:
        made = make_workspace(directory, connection, None if given is None else _text_of(given))
    except (BeginningError, IntakeError) as error:
        fail(WRONG_USE, error)
    for note in made.notes:
        say(note)
    say(f"{directory} is a workspace. Next:")
    for step in next_steps(connection, str(directory)):
        say(f"  {step}")


def _text_of(given: str) -> str:
    """What was given, or what stands in the file that was."""
    path = Path(given)
    if path.suffix in DOCUMENTS and path.is_file():
        return read_text(path)
    return given
