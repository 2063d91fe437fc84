"""The secrets of a workspace: where their values come from, and to whom they may go.

A value comes from the workspace's `.env`, or from a variable of Ferox's environment that the
user's own settings allow by name; no file of a workspace can read any other. It goes only to
addresses that the user has agreed to, which the settings remember: a workspace may come from
anywhere, and so may a pasted block.
"""

from __future__ import annotations

import json
import os
from collections.abc import Iterable, Mapping
from contextvars import ContextVar
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from dotenv import dotenv_values, set_key

from ferox.formats.base import Secret
from ferox.formats.preparing import Step
from ferox.formats.server import Reach
from ferox.intake.files import read_text, write_whole
from ferox.intake.json_text import read_json
from ferox.intake.limits import IntakeError

ENV_FILE = ".env"
IGNORED = (".env", ".ferox/")
"""What a workspace keeps out of version control."""


class UnsetSecret(LookupError):
    """A secret that has no value here; the message says which, and for what."""


class SecretUseNotAgreed(UnsetSecret):
    """A secret that would go somewhere for the first time."""

    def __init__(self, name: str, secret: str, to: str) -> None:
        self.secret, self.to = secret, to
        super().__init__(
            f"`{name}` would send the secret {secret} to {to} for the first time; agree to it "
            f"on the screen of that server, or by: ferox agree {secret} '{to}'"
        )


@dataclass(frozen=True)
class SecretUse:
    """A secret, and where it would go."""

    secret: str
    to: str


def secret_destination(to: Reach) -> str:
    """Where the secrets of a server's file go: its origin, or the command that it is."""
    if to.url:
        return address_origin(to.url)
    return "the command " + " ".join(shown_words(to))[:200]


def step_destination(step: Step) -> str:
    """Where the secrets of a command go that prepares or restores a server."""
    return "the command " + " ".join(step.command or ())[:200]


def shown_words(to: Reach) -> list[str]:
    """A command as it may be shown: secrets by their names."""
    return [f"{{{w.secret}}}" if isinstance(w, Secret) else w for w in to.command or ()]


def address_origin(url: str) -> str:
    """Scheme, host and port of an address; the text itself if it is none."""
    try:
        parts = urlsplit(url)
    except ValueError:
        return url
    return f"{parts.scheme}://{parts.netloc.rpartition('@')[2]}" if parts.netloc else url


def settings_path() -> Path:
    """The user's own settings, outside every workspace."""
    home = os.environ.get("XDG_CONFIG_HOME") or Path.home() / ".config"
    return Path(home) / "ferox" / "settings.json"


@dataclass
class Settings:
    """What the user allows: variables by name, and for each workspace, what may go where."""

    variables: set[str] = field(default_factory=set)
    agreed: dict[str, set[tuple[str, str]]] = field(default_factory=dict)

    @classmethod
    def read(cls) -> Settings:
        """The settings as they are; none if there are none, or if they cannot be read."""
        try:
            kept = read_json(read_text(settings_path()))
        except (OSError, IntakeError):
            return cls()
        made = cls()
        if isinstance(kept, dict):
            made.variables = {v for v in kept.get("variables") or () if isinstance(v, str)}
            for root, uses in (kept.get("agreed") or {}).items():
                pairs = [tuple(u) for u in uses if isinstance(u, list) and len(u) == 2]
                made.agreed[root] = {(str(s), str(to)) for s, to in pairs}
        return made

    def write(self) -> None:
        """Keep them.

        Raises:
            OSError: they cannot be written.
        """
        path = settings_path()
        path.parent.mkdir(parents=True, exist_ok=True)
        agreed = {root: sorted(map(list, uses)) for root, uses in sorted(self.agreed.items())}
        body: dict[str, Any] = {"variables": sorted(self.variables), "agreed": agreed}
        write_whole(path, lambda file: file.write(json.dumps(body, indent=1) + "\n"))


class Vault:
    """The secrets of one workspace. They are read when they are needed, so that a new value
    needs no new start."""

    def __init__(self, root: Path | None) -> None:
        self._root = root.resolve() if root else None

    def secret_values(self) -> dict[str, str]:
        """Every secret that has a value."""
        return _allowed_variables() | _read_env_file(self._root)

    def origins(self) -> dict[str, str]:
        """Where each secret that has a value has it from: `.env`, or else the environment."""
        own = dict.fromkeys(_read_env_file(self._root), ENV_FILE)
        return dict.fromkeys(_allowed_variables(), "environment") | own

    def agreed_uses(self) -> list[SecretUse]:
        """Where secrets of this workspace may go."""
        return [SecretUse(secret, to) for secret, to in sorted(self._agreed())]

    def _agreed(self) -> set[tuple[str, str]]:
        return Settings.read().agreed.get(str(self._root), set())

    def secret_value(self, name: str, secret: str, to: str | None) -> str:
        """A secret's value, on its way to an address; `name` is the field that wants it.

        Without an address it is only looked at.

        Raises:
            UnsetSecret: it has none here.
            SecretUseNotAgreed: it may not go there yet.
        """
        values = self.secret_values()
        if secret not in values:
            message = f"`{name}` needs the secret {secret}, which is not set"
            if secret in os.environ:
                then = f"; its variable is not read until you allow it: ferox allow {secret}"
            else:
                then = f"; put {secret}=… into the workspace's `.env`"
            raise UnsetSecret(message + then)
        if to is not None and not self.is_agreed(secret, to):
            raise SecretUseNotAgreed(name, secret, to)
        return values[secret]

    def is_agreed(self, secret: str, to: str) -> bool:
        """Whether a secret may go to an address."""
        return (secret, to) in self._agreed()

    def unagreed_uses(self, uses: Iterable[SecretUse]) -> list[SecretUse]:
        """Those of these uses that wait for the user's word; what has no value goes nowhere."""
        values = self.secret_values()
        agreed = self._agreed()
        return [u for u in uses if u.secret in values and (u.secret, u.to) not in agreed]

    def agree_use(self, secret: str, to: str) -> None:
        """Let a secret go to an address from now on.

        Raises:
            OSError: the settings cannot be written.
        """
        settings = Settings.read()
        settings.agreed.setdefault(str(self._root), set()).add((secret, to))
        settings.write()

    def keep_secrets(self, values: Mapping[str, str]) -> None:
        """Put values into the workspace's `.env`, which only the user may read.

        Raises:
            OSError: it cannot be written.
        """
        if self._root is None or not values:
            return
        path = self._root / ENV_FILE
        if not path.exists():
            os.close(os.open(path, os.O_CREAT | os.O_WRONLY, 0o600))
        for name, value in values.items():
            set_key(path, name, value, quote_mode="always")
        path.chmod(0o600)
        ignore_secrets(self._root)


def _allowed_variables() -> dict[str, str]:
    """The variables of Ferox's environment that the user lets workspaces use, with their values."""
    allowed = Settings.read().variables
    return {name: os.environ[name] for name in allowed if name in os.environ}


def _read_env_file(root: Path | None) -> dict[str, str]:
    """The values of a workspace's `.env`; none if there is no such file."""
    path = root / ENV_FILE if root else None
    if path is None or not path.is_file():
        return {}
    read = dotenv_values(path, interpolate=False)
    return {name: value for name, value in read.items() if value is not None}


def ignore_secrets(root: Path) -> None:
    """Have version control leave out the secrets and the results.

    Raises:
        OSError: the file cannot be written.
    """
    path = root / ".gitignore"
    lines = path.read_text().splitlines() if path.exists() else []
    missing = [name for name in IGNORED if name not in lines]
    if missing:
        write_whole(path, lambda file: file.write("\n".join([*lines, *missing]) + "\n"))


_current = Vault(None)
_own: ContextVar[Vault | None] = ContextVar("vault", default=None)


def open_vault(root: Path) -> None:
    """Take this workspace's secrets from now on: a process works on one workspace."""
    install_vault(Vault(root))


def install_vault(vault: Vault) -> None:
    """Take secrets from here from now on."""
    global _current
    _current = vault


def use_vault(vault: Vault) -> None:
    """Take secrets from here in this context: where a process works on several workspaces."""
    _own.set(vault)


def current_vault() -> Vault:
    """The secrets of the workspace that is worked on here."""
    return _own.get() or _current
