"""`ferox serve`: the web application of a workspace."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

import click

from ferox.cli.output import COULD_NOT_RUN, WRONG_USE, fail, say
from ferox.cli.workspace_argument import workspace_argument
from ferox.making.new_workspace import cannot_begin
from ferox.store.database import StoreError
from ferox.web.access import Access
from ferox.web.serve import Address, ServeError
from ferox.web.serve import serve as serve_web
from ferox.workspace.vault import ignore_secrets
from ferox.workspace.write import SETTINGS


@click.command()
@workspace_argument
@click.option("--port", default=8640, show_default=True, help="Port to serve on.")
@click.option(
    "--host", default="127.0.0.1", show_default=True, metavar="ADDRESS",
    help="Serve others too, by this address of the machine; a token is asked for.",
)  # fmt: skip
@click.option(
    "--url", metavar="URL", help="Its address behind a proxy, such as https://desk.example."
)
@click.option(
    "--read-only", is_flag=True, help="Print a second token, for those who may only look."
)
def serve(workspace: Path, port: int, host: str, url: str | None, read_only: bool) -> None:
    """Serve the web application of WORKSPACE, by default on this machine only."""
    workspace = workspace.absolute()
    if not (workspace / SETTINGS).is_file() and cannot_begin(workspace):
        fail(
            WRONG_USE,
            f"{workspace} has no ferox.yaml; give the folder of a workspace, or an empty one",
        )
    with suppress(OSError):  # a folder that may only be read is served all the same
        ignore_secrets(workspace)
    try:
        serve_web(
            workspace,
            Address(port, host, url, read_only),
            lambda url, access: _say_served(workspace.name, url, access),
        )
    except (ServeError, StoreError) as error:
        fail(COULD_NOT_RUN, error)
    except KeyboardInterrupt:
        say("stopped")


def _say_served(name: str, url: str, access: Access) -> None:
    """Where it is served, and the tokens, which are told nowhere else."""
    say(f"Ferox serves {name} at {url}")
    if access.token:
        say(f"token to work with it: {access.token}")
    if access.look_token:
        say(f"token to look only:    {access.look_token}")
    if access.token and not access.is_secure:
        say("what passes is not encrypted: put a proxy with TLS before it, and name it by --url")
