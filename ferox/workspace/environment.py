"""The environment of what Ferox starts: the harmless few, and what a file names."""

from __future__ import annotations

import os
from collections.abc import Mapping
from dataclasses import dataclass

from ferox.formats.base import Secret
from ferox.formats.server import Reach
from ferox.formats.workspace import ModelSource

HARMLESS = (
    *("PATH", "HOME", "LANG", "LC_ALL", "TZ", "TMPDIR", "SSL_CERT_FILE"),
    *("LOGNAME", "SHELL", "TERM", "USER"),
)
"""Variables that everything gets from Ferox's own environment; nothing else is inherited."""
MASK = "•••"


class UnsetSecret(LookupError):
    """A secret that the environment does not hold; the message says which, and for what."""


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


def resolve(name: str, value: str | Secret) -> Variable:
    """One named value, a secret read from Ferox's own environment.

    Raises:
        UnsetSecret: the variable that holds it is not set.
    """
    if not isinstance(value, Secret):
        return Variable(name, value, "the file")
    if value.secret not in os.environ:
        raise UnsetSecret(
            f"`{name}` needs the variable {value.secret}, which is not set; "
            "set it where Ferox is started"
        )
    told = value.prefix + os.environ[value.secret]
    return Variable(name, told, f"{value.secret} of Ferox's environment", secret=True)


def variables(named: Mapping[str, str | Secret]) -> list[Variable]:
    """Every variable that a process gets.

    Raises:
        UnsetSecret: a secret is not set.
    """
    inherited = [
        Variable(name, os.environ[name], "Ferox's environment")
        for name in HARMLESS
        if name in os.environ and name not in named
    ]
    always = [Variable("PYTHONUNBUFFERED", "1", "Ferox")]
    return [*inherited, *always, *(resolve(name, value) for name, value in named.items())]


def environment(named: Mapping[str, str | Secret]) -> dict[str, str]:
    """The same as a process takes it.

    Raises:
        UnsetSecret: a secret is not set.
    """
    return {v.name: v.value for v in variables(named)}


def known_secrets(to: Reach) -> set[str]:
    """Values that must never be written: the file's secrets, and what Ferox's environment
    holds under a name that says so."""
    named = [v for v in (*to.env.values(), *to.headers.values()) if isinstance(v, Secret)]
    values = {os.environ[s.secret] for s in named if s.secret in os.environ}
    return values | {value for name, value in os.environ.items() if _says_secret(name)}


def secrets_of(model: ModelSource) -> set[str]:
    """Values of a model's that must never be written."""
    key = model.api_key
    named = {os.environ.get(key.secret, "")} if isinstance(key, Secret) else {key or ""}
    return named | known_secrets(Reach())


def _says_secret(name: str) -> bool:
    return name.upper().endswith(("_KEY", "_TOKEN", "_SECRET", "_PASSWORD", "_CREDENTIALS"))
