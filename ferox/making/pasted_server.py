"""A server found in pasted words, with its credentials kept apart."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlsplit

from ferox.making.credentials import is_credential, looks_secret, secret_name, split_url

_VARIABLE = re.compile(
    r"\$\{(?:env:|input:)?([A-Za-z_][A-Za-z0-9_-]*)\}|\$([A-Za-z_][A-Za-z0-9_]*)"
)
_PLACEHOLDER = re.compile(r"(?i)<[^<>]*>|\.\.\.|x{3,}|your[-_ ].*|changeme|\*+|…")
_GIVEN_VARIABLE = re.compile(r"\A([A-Za-z_][A-Za-z0-9_]*+)=(.+)", re.S)

LONGEST_NAME = 200


class PasteError(ValueError):
    """Words in which no server is found; the message says what would be one."""


@dataclass
class PastedServer:
    """A server found in pasted words: a name, how it is reached, and what to know of it."""

    name: str
    live: dict[str, Any]
    notes: list[str] = field(default_factory=list)
    secrets: dict[str, str] = field(default_factory=dict)
    """Credentials by the names under which the file refers to them; for the workspace's `.env`."""

    def secret_field(self, name: str, value: str, prefix: str = "") -> dict[str, str]:
        """What stands in the file for a credential, which is kept apart."""
        while self.secrets.get(name, value) != value:
            name += "_2"
        self.secrets[name] = value
        self.notes.append(f"a credential is kept apart, in the workspace's `.env` as {name}")
        return {"secret": name, **({"prefix": prefix} if prefix else {})}

    def avoid_names(self, taken: Mapping[str, str]) -> None:
        """Give credentials other names where those are taken for other values."""
        for name, value in list(self.secrets.items()):
            free = name
            while {**taken, **self.secrets}.get(free, value) != value:
                free += "_2"
            if free != name:
                self.secrets[free] = self.secrets.pop(name)
                self.live = _renamed_servers(self.live, name, free)
                self.notes.append(f"{name} is taken: this one is called {free}")

    def document(self) -> dict[str, Any]:
        """The server's file."""
        return {"ferox": 1, "server": self.name, "live": self.live}


def _renamed_servers(value: Any, old: str, new: str) -> Any:
    """The same with a secret under another name."""
    if isinstance(value, dict):
        kept = {key: _renamed_servers(item, old, new) for key, item in value.items()}
        return {**kept, "secret": new} if kept.get("secret") == old else kept
    return (
        [_renamed_servers(item, old, new) for item in value] if isinstance(value, list) else value
    )


def command_server(
    name: str, words: list[str], env: Mapping[str, str], cwd: Any = None
) -> PastedServer:
    """A server that is started by a command."""
    server = PastedServer(name, {})
    for word in words:
        if _VARIABLE.search(word):
            server.notes.append(f"`{word}` in the command is not replaced: write its value")
        elif _PLACEHOLDER.fullmatch(word) or re.match(r"/(?:path/to|your)\b", word):
            server.notes.append(f"`{word}` stands for something of yours: put it in its place")
    words, handed = _without_handed_values(words)
    server.live["command"] = _command_of(words, server)
    if cwd:
        server.live["cwd"] = str(cwd)
    given = {**env, **handed}
    kept = {key: _secret_or_value(key, value, server) for key, value in given.items()}
    if kept:
        server.live["env"] = kept
    return server


def _without_handed_values(words: list[str]) -> tuple[list[str], dict[str, str]]:
    """A container's `-e KEY=value` as `-e KEY`, and the credentials among such values: a command's
    words can be seen by everybody on the machine."""
    kept: list[str] = []
    handed: dict[str, str] = {}
    for before, word in zip(["", *words], words, strict=False):
        given = _GIVEN_VARIABLE.fullmatch(word) if before in ("-e", "--env") else None
        if given and (is_credential(given[1], given[2]) or _PLACEHOLDER.fullmatch(given[2])):
            handed[given[1]] = given[2]
            kept.append(given[1])
        else:
            kept.append(word)
    return kept, handed


def _command_of(words: list[str], server: PastedServer) -> list[Any]:
    """The words of a command, with the names of secrets in place of credentials."""
    made: list[Any] = []
    for before, word in zip(["", *words], words, strict=False):
        option, equals, value = word.partition("=")
        if option.startswith("--") and equals and is_credential(option, value):
            name = secret_name(server.name, option)
            made.append(server.secret_field(name, value, f"{option}="))
        elif _is_given_to(before, word) or looks_secret(word):
            name = secret_name(server.name, before if before.startswith("-") else "secret")
            made.append(server.secret_field(name, word))
        else:
            made.append(word)
    return made


def _is_given_to(option: str, word: str) -> bool:
    """Whether a word is the credential that an option before it asks for."""
    asked = option.startswith("--") and "=" not in option
    return asked and not word.startswith("-") and is_credential(option, word)


def address_server(name: str, given: Mapping[str, Any]) -> PastedServer:
    """A server at an address: `url`, and perhaps `headers` and `transport`.

    Raises:
        PasteError: it is no address.
    """
    try:
        url, secrets = split_url(given["url"])
        path = urlsplit(url).path.rstrip("/")
    except ValueError as error:
        raise PasteError(f"`{given['url'][:100]}` is not an address: {error}") from None
    server = PastedServer(name, {"url": url})
    if given.get("transport") == "sse" or path.endswith("/sse"):
        server.live["transport"] = "sse"
    query = {n: server.secret_field(secret_name(name, n), v) for n, v in secrets.items()}
    if query:
        server.live["query"] = query
    headers = {
        str(key): _header_value(str(key), str(value), server)
        for key, value in (given.get("headers") or {}).items()
    }
    if headers:
        server.live["headers"] = headers
    return server


# Values that may be credentials.


def _secret_or_value(key: str, value: str, server: PastedServer, prefix: str = "") -> Any:
    variable = _VARIABLE.fullmatch(value)
    shown = {"prefix": prefix} if prefix else {}
    if variable:
        named = (variable[1] or variable[2]).replace("-", "_").upper()
        server.notes.append(f"put {named}=… into the workspace's `.env`: `{key}` is read from it")
        return {"secret": named, **shown}
    named = secret_name(server.name, "token") if prefix else secret_name(key)
    if _PLACEHOLDER.fullmatch(value):
        server.notes.append(f"put {named}=… into the workspace's `.env`, for `{key}`")
        return {"secret": named, **shown}
    return server.secret_field(named, value, prefix) if is_credential(key, value) else value


def _header_value(key: str, value: str, server: PastedServer) -> Any:
    scheme = re.match(r"(Bearer|Basic|Token)\s+", value)
    if scheme:
        return _secret_or_value("authorization", value[scheme.end() :], server, scheme[0])
    return _secret_or_value(key, value, server)


# Names.


def server_name(text: str) -> str:
    """A text as a server's name; empty if nothing of it can stand in one."""
    return re.sub(r"[^A-Za-z0-9_.-]+", "-", text[:LONGEST_NAME]).strip("-._")[:64]


def name_of_url(url: str) -> str:
    """A name for the server at an address."""
    try:
        parts = urlsplit(url)
    except ValueError:
        return "server"
    labels = [x for x in (parts.hostname or "").split(".") if x not in ("www", "api", "mcp", "app")]
    last = [x for x in parts.path.split("/") if x and x not in ("mcp", "sse", "api", "v1", "v2")]
    if (labels and re.fullmatch(r"[\d]+", labels[0])) or labels[:1] == ["localhost"]:
        labels = []
    return server_name(last[-1] if last and not labels else labels[0] if labels else "server")
