"""The environment of what Ferox starts: the harmless few, and what a file names."""

from __future__ import annotations

import os
from collections.abc import Mapping
from dataclasses import dataclass

from ferox.formats.base import Secret
from ferox.formats.workspace import ModelSource
from ferox.workspace.vault import current_vault

HARMLESS = (
    *("PATH", "HOME", "LANG", "LC_ALL", "TZ", "TMPDIR", "SSL_CERT_FILE"),
    *("LOGNAME", "SHELL", "TERM", "USER"),
)
"""Variables that everything gets from Ferox's own environment; nothing else is inherited."""
MASK = "•••"


@dataclass(frozen=True)
class Variable:
    """One variable, its value, and where it came from."""

    name: str
    value: str
    origin: str
    secret: bool = False

    @property
    def shown(self) -> str:
        """The value as screens may show it."""
        return MASK if self.secret else self.value


def resolve_variable(name: str, value: str | Secret, to: str | None) -> Variable:
    """One named value on its way to an address; of one that is only shown, `to` is None.

    Raises:
        UnsetSecret: it is a secret without a value, or one that may not go there yet.
    """
    if not isinstance(value, Secret):
        return Variable(name, value, "the file")
    held = current_vault().secret_value(name, value.secret, to)
    return Variable(name, value.prefix + held, f"the secret {value.secret}", secret=True)


def resolve_variables(named: Mapping[str, str | Secret], to: str | None = None) -> list[Variable]:
    """Every variable that a process gets.

    Raises:
        UnsetSecret: a secret is not set, or may not go there yet.
    """
    inherited = [
        Variable(name, os.environ[name], "Ferox's environment")
        for name in HARMLESS
        if name in os.environ and name not in named
    ]
    # Python keeps lines back when it writes to a pipe; the log should show them at once.
    always = [Variable("PYTHONUNBUFFERED", "1", "Ferox")]
    return [
        *inherited,
        *always,
        *(resolve_variable(name, value, to) for name, value in named.items()),
    ]


def process_environment(named: Mapping[str, str | Secret], to: str) -> dict[str, str]:
    """The same as a process takes it.

    Raises:
        UnsetSecret: a secret is not set, or may not go there yet.
    """
    return {v.name: v.value for v in resolve_variables(named, to)}


def known_secrets() -> set[str]:
    """Values that must never be written: the workspace's secrets, and what Ferox's environment
    holds under a name that says so."""
    others = {value for name, value in os.environ.items() if _says_secret(name)}
    return {*current_vault().secret_values().values(), *others}


def secrets_of(model: ModelSource) -> set[str]:
    """Values of a model's that must never be written."""
    plain = model.api_key if isinstance(model.api_key, str) else ""
    return {plain, *known_secrets()}


def _says_secret(name: str) -> bool:
    return name.upper().endswith(("_KEY", "_TOKEN", "_SECRET", "_PASSWORD", "_CREDENTIALS"))
