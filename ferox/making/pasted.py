"""Whatever a server's documentation gives, read as a server: a launch line, an address, or
a client's configuration block."""

from __future__ import annotations

import re
import shlex
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import PurePosixPath
from typing import Any
from urllib.parse import urlsplit

from ferox.intake.json_text import read_json
from ferox.intake.limits import IntakeError
from ferox.making.credentials import is_credential, looks_secret, secret_name, split_url

_ASSIGNED = re.compile(r"\A([A-Za-z_][A-Za-z0-9_]*+)=(.*)", re.S)
_VARIABLE = re.compile(
    r"\$\{(?:env:|input:)?([A-Za-z_][A-Za-z0-9_-]*)\}|\$([A-Za-z_][A-Za-z0-9_]*)"
)
_PLACEHOLDER = re.compile(r"(?i)<[^<>]*>|\.\.\.|x{3,}|your[-_ ].*|changeme|\*+|…")
_STRING = r'("(?:[^"\\]++|\\.)*+"?)'
_COMMENT = re.compile(_STRING + r"|//[^\n]*|/\*(?:[^*]++|\*(?!/))*+(?:\*/)?", re.S)
_TRAILING = re.compile(_STRING + r"|,(\s*+[}\]])?", re.S)
"""What a client's configuration has beyond JSON. Each takes a text in one go, whatever it holds:
a string or a comment that does not end reaches to the end."""
_RUNNERS = {"npx", "uvx", "pipx", "bunx", "pnpm", "yarn", "npm", "uv", "node", "python", "python3",
            "deno", "bun", "docker", "podman", "env", "sudo", "cmd", "exec", "run", "dlx", "tool",
            "go", "cargo", "java", "dotnet"}  # fmt: skip


LONGEST = 200_000
"""Characters of the longest text in which servers are looked for."""
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


def parse_pasted(text: str, known: Mapping[str, str] | None = None) -> list[PastedServer]:
    """The servers in pasted words.

    Values that look like credentials are kept apart, in `secrets`: the file names them only.
    `known` are the secrets that the workspace has already.

    Raises:
        PasteError: there is none.
    """
    if len(text) > LONGEST:
        raise PasteError(f"this is longer than {LONGEST:,} characters: paste the servers' part")
    text = _without_fence(text.strip())
    if not text:
        raise PasteError("paste a launch line, an address, or a client's configuration block")
    if text[0] in "{[" or re.match(r'"[^"\n]+"\s*:\s*\{', text):
        found = _read_block(text)
    elif re.match(r"https?://\S+$", text):
        found = [_address_server(_name_of_url(text), {"url": text})]
    else:
        found = [_command_line(text)]
    taken: dict[str, int] = {}
    kept: dict[str, str] = {}
    for server in found:
        taken[server.name] = taken.get(server.name, 0) + 1
        if taken[server.name] > 1:
            server.name = f"{server.name}-{taken[server.name]}"
        server.avoid_names({**(known or {}), **kept})
        kept |= server.secrets
    return found


def _without_fence(text: str) -> str:
    fenced = re.fullmatch(r"```\w*\n(.*?)\n?```", text, re.S)
    return fenced[1].strip() if fenced else text


# A client's configuration block.


def _read_block(text: str) -> list[PastedServer]:
    if not text.startswith(("{", "[")):
        text = "{" + text.rstrip().rstrip(",") + "}"
    try:
        value = read_json(_plain_json(text))
    except IntakeError as error:
        raise PasteError(f"this cannot be read: {error}") from None
    found = list(_server_entries(value, ""))
    if not found:
        raise PasteError("no server stands in this block: one has a `command` or a `url`")
    return found


def _plain_json(text: str) -> str:
    """JSON without the comments and trailing commas that configuration files have."""
    # The pattern takes texts in quotes too, and gives them back: `//` in an address is no comment.
    kept = _COMMENT.sub(lambda m: m[1] or "", text)
    return _TRAILING.sub(lambda m: m[1] or m[2] or m[0], kept)


def _server_entries(value: Any, name: str) -> list[PastedServer]:
    if isinstance(value, list):
        return [p for item in value for p in _server_entries(item, name)]
    if not isinstance(value, dict):
        return []
    url = next((value[k] for k in ("url", "serverUrl", "httpUrl", "endpoint") if k in value), None)
    if isinstance(value.get("command"), str | list) or isinstance(url, str):
        return [_server_entry(value, str(value.get("name") or name), url)]
    return [p for key, item in value.items() for p in _server_entries(item, key)]


def _server_entry(entry: dict[str, Any], name: str, url: str | None) -> PastedServer:
    if entry.get("command") is None:
        assert url
        headers = entry.get("headers")
        given = {"url": url, "headers": headers if isinstance(headers, dict) else {}}
        kind = str(entry.get("type") or entry.get("transport") or "")
        if kind.lower() == "sse":
            given["transport"] = "sse"
        return _address_server(_server_name(name) or _name_of_url(url), given)
    command = entry["command"]
    words = [str(w) for w in command] if isinstance(command, list) else _split_words(str(command))
    args, given_env = entry.get("args"), entry.get("env")
    words += [str(a) for a in args] if isinstance(args, list) else []
    env = {str(k): str(v) for k, v in given_env.items()} if isinstance(given_env, dict) else {}
    if not words:
        raise PasteError("there is no command in this block")
    return _command_server(words, env, entry.get("cwd"), _server_name(name))


# A launch line.


def _command_line(text: str) -> PastedServer:
    lines = [re.sub(r"^\s*[$>%]\s+", "", line) for line in _joined_lines(text).splitlines()]
    lines = [line.strip() for line in lines if line.strip() and not line.lstrip().startswith("#")]
    env: dict[str, str] = {}
    cwd: str | None = None
    words: list[str] = []
    for line in lines:
        for part in re.split(r"&&|;", line):
            words = _split_words(part)
            # As people paste them from a page; what follows is what matters.
            while words and words[0] in ("export", "set", "env", "sudo"):
                words = words[1:]
            while words and (assigned := _ASSIGNED.fullmatch(words[0])):
                env[assigned[1]] = assigned[2]
                words = words[1:]
            if len(words) == 2 and words[0] == "cd":
                cwd, words = words[1], []
    if not words:
        raise PasteError("there is no command in this line")
    if re.match(r"https?://", words[0]):
        raise PasteError("give the address alone, on a line of its own")
    return _command_server(words, env, cwd, "")


def _joined_lines(text: str) -> str:
    return re.sub(r"[\\`^]\s*\n\s*", " ", text)


def _split_words(part: str) -> list[str]:
    try:
        return shlex.split(part)
    except ValueError as error:
        raise PasteError(f"the line cannot be taken apart: {error}") from None


def _command_server(words: list[str], env: dict[str, str], cwd: Any, name: str) -> PastedServer:
    server = PastedServer(name or _name_of_command(words), {})
    for word in words:
        if _VARIABLE.search(word):
            server.notes.append(f"`{word}` in the command is not replaced: write its value")
        elif _PLACEHOLDER.fullmatch(word) or re.match(r"/(?:path/to|your)\b", word):
            server.notes.append(f"`{word}` stands for something of yours: put it in its place")
    server.live["command"] = _command_of(words, server)
    if cwd:
        server.live["cwd"] = str(cwd)
    kept = {key: _secret_or_value(key, value, server) for key, value in env.items()}
    if kept:
        server.live["env"] = kept
    return server


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


def _address_server(name: str, given: dict[str, Any]) -> PastedServer:
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


def _server_name(text: str) -> str:
    return re.sub(r"[^A-Za-z0-9_.-]+", "-", text[:LONGEST_NAME]).strip("-._")[:64]


def _name_of_url(url: str) -> str:
    try:
        parts = urlsplit(url)
    except ValueError:
        return "server"
    labels = [x for x in (parts.hostname or "").split(".") if x not in ("www", "api", "mcp", "app")]
    last = [x for x in parts.path.split("/") if x and x not in ("mcp", "sse", "api", "v1", "v2")]
    if (labels and re.fullmatch(r"[\d]+", labels[0])) or labels[:1] == ["localhost"]:
        labels = []
    return _server_name(last[-1] if last and not labels else labels[0] if labels else "server")


def _name_of_command(words: list[str]) -> str:
    for i, word in enumerate(words):
        if word in ("-m", "--from") and i + 1 < len(words):
            return _short_name(words[i + 1])
    for word in words:
        plain = PurePosixPath(word).name if not word.startswith("@") else word
        if word.startswith("-") or plain.split("@")[0] in _RUNNERS or "=" in word:
            continue
        if PurePosixPath(word).suffix in (".js", ".ts", ".mjs", ".py"):
            path = PurePosixPath(word)
            generic = path.stem in ("index", "main", "server", "cli", "__main__", "app")
            parents = [p for p in path.parts[:-1] if p not in ("dist", "build", "src", ".", "/")]
            return _short_name(parents[-1] if generic and parents else path.stem)
        return _short_name(word)
    return _server_name(PurePosixPath(words[0]).name) or "server"


_OFTEN_LAST = ("-mcp", "_mcp", "-server", "_server")


def _short_name(package: str) -> str:
    """A package's name without what every server's has: its scope, version and `mcp-server`."""
    bare = re.sub(r"(?s)(?<=.)[@=<>~\[].*$", "", package.split("/")[-1][:LONGEST_NAME])
    short = re.sub(r"\A(?:(?:mcp[-_])?server[-_]|mcp[-_])", "", bare)
    while short.endswith(_OFTEN_LAST):
        short = short.rpartition(short[-4 if short.endswith("mcp") else -7])[0]
    return _server_name(short or bare) or "server"
