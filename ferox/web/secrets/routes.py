"""The interface of secrets."""

from __future__ import annotations

import os
from collections import defaultdict
from collections.abc import Iterator
from typing import Any

from ferox.web.routing import Routes
from ferox.web.secrets import shapes
from ferox.web.site import site
from ferox.workspace.load import load_loosely
from ferox.workspace.vault import ENV_FILE, Settings, current_vault

routes = Routes("secrets")


def _named_secrets(value: Any) -> Iterator[str]:
    """The secrets that a file's value names, however deep."""
    if isinstance(value, dict):
        if isinstance(value.get("secret"), str):
            yield value["secret"]
        value = list(value.values())
    for item in value if isinstance(value, list) else ():
        yield from _named_secrets(item)


def _secret_list() -> shapes.SecretList:
    workspace, _ = load_loosely(site.root)
    named: dict[str, list[str]] = defaultdict(list)
    for file in workspace.files.values():
        for secret in dict.fromkeys(_named_secrets(file.value)):
            named[secret].append(file.name)
    vault = current_vault()
    origins, agreed = vault.origins(), vault.agreed_uses()
    names = sorted({*named, *(n for n, origin in origins.items() if origin == ENV_FILE)})
    return shapes.SecretList(
        secrets=[
            shapes.SecretLine(
                name=name,
                state=_state_of(name, origins.get(name)),
                named_in=named[name],
                may_go_to=sorted(use.to for use in agreed if use.secret == name),
            )
            for name in names
        ],
        env_file=str(site.root / ENV_FILE),
    )


def _state_of(name: str, origin: str | None) -> shapes.SecretState:
    if origin is not None:
        return "env_file" if origin == ENV_FILE else "environment"
    return "not_allowed" if name in os.environ else "not_set"


@routes.get("/api/secrets")
def list_secrets() -> shapes.SecretList:
    """Every secret, and whether it has a value."""
    return _secret_list()


@routes.put("/api/secrets/<secret>")
def keep_secret(path: shapes.SecretPath, body: shapes.SecretValue) -> shapes.SecretList:
    """Put a secret's value into the workspace's `.env`."""
    current_vault().keep_secrets({path.secret: body.value})
    return _secret_list()


@routes.post("/api/secrets/<secret>/allow")
def allow_variable(path: shapes.SecretPath) -> shapes.SecretList:
    """Read a secret from the variable of that name in Ferox's environment from now on."""
    settings = Settings.read()
    settings.variables.add(path.secret)
    settings.write()
    return _secret_list()


@routes.post("/api/secrets/agree")
def agree_secret(body: shapes.AgreeRequest) -> shapes.AgreeRequest:
    """Let a secret of the workspace go to an address from now on."""
    current_vault().agree_use(body.secret, body.to)
    return body
