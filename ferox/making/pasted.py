"""Whatever a server's documentation gives, read as servers: launch lines, addresses, or clients'
configuration blocks in JSON, YAML or TOML, with the words around them."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Mapping
from typing import Any

from ferox.intake.json_text import read_json
from ferox.intake.limits import IntakeError
from ferox.intake.yaml_text import read_yaml_text
from ferox.making.launch_lines import name_of_command, parse_launch_lines, split_words
from ferox.making.pasted_server import (
    PastedServer,
    PasteError,
    address_server,
    command_server,
    name_of_url,
    server_name,
)

_STRING = r'("(?:[^"\\]++|\\.)*+"?)'
_COMMENT = re.compile(_STRING + r"|//[^\n]*|/\*(?:[^*]++|\*(?!/))*+(?:\*/)?", re.S)
_TRAILING = re.compile(_STRING + r"|,(\s*+[}\]])?", re.S)
"""What a client's configuration has beyond JSON. Each takes a text in one go, whatever it holds:
a string or a comment that does not end reaches to the end."""
_TOML_TABLE = re.compile(r"\[{1,2}[\w.\"' -]++\]{1,2}")
_YAML_KEY = re.compile(r"(?<![\w.\"'-])[\w.\"'-]++:(?:\s.*)?")
_ADDRESS = re.compile(r"https?://\S+")
_MISSPELT = re.compile(r"(?i)(h?t{1,3}ps?|https?)?:?;?/{1,3}([\w.-]++(?::\d+)?(?:/\S*)?)")
_NO_SCHEME = re.compile(
    r"(?<![\w.-])(?:(?:[\w-]++\.)++[a-z]{2,}|localhost|\d+\.\d+\.\d+\.\d+)(?::\d+)?(?:/\S*)?"
)
_FENCE = re.compile(r"(`{3,}|~{3,})")

LONGEST = 200_000
"""Characters of the longest text in which servers are looked for."""


def parse_pasted(text: str, known: Mapping[str, str] | None = None) -> list[PastedServer]:
    """The servers in pasted words.

    Values that look like credentials are kept apart, in `secrets`: the file names them only.
    `known` are the secrets that the workspace has already.

    Raises:
        PasteError: there is none.
    """
    if len(text) > LONGEST:
        raise PasteError(f"this is longer than {LONGEST:,} characters: paste the servers' part")
    if not text.strip():
        raise PasteError("paste a launch line, an address, or a client's configuration block")
    found = _servers_in(text)
    taken: dict[str, int] = {}
    kept: dict[str, str] = {}
    for server in found:
        taken[server.name] = taken.get(server.name, 0) + 1
        if taken[server.name] > 1:
            server.name = f"{server.name}-{taken[server.name]}"
        server.avoid_names({**(known or {}), **kept})
        kept |= server.secrets
    return found


def _servers_in(text: str) -> list[PastedServer]:
    """The servers of a page's fenced blocks, or of the text if it has none."""
    found: list[PastedServer] = []
    faults: list[PasteError] = []
    for block in _fenced_blocks(text) or [text]:
        if not block.strip():
            continue
        try:
            found += _parse_block(block.strip())
        except PasteError as error:
            faults.append(error)
    if not found:
        raise faults[0] if faults else PasteError("there is nothing in the block")
    return found


def _fenced_blocks(text: str) -> list[str]:
    """What stands between fences; a fence that is not closed holds nothing."""
    blocks: list[str] = []
    lines: list[str] = []
    fence = ""
    for line in text.splitlines():
        bare = line.strip()
        if fence and bare == fence:
            blocks.append("\n".join(lines))
            fence = ""
        elif fence:
            lines.append(line)
        elif opening := _FENCE.match(bare):
            fence, lines = opening[1], []
    return blocks


def _parse_block(text: str) -> list[PastedServer]:
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    bare = [line for line in lines if not line.startswith("#")]
    if bare and _TOML_TABLE.fullmatch(bare[0]):
        return _read_toml(text)
    if text[0] in "{[" or re.match(r'"[^"\n]+"\s*:\s*\{', text):
        return _read_json(text)
    if all(_ADDRESS.fullmatch(line) for line in lines):
        return [address_server(name_of_url(line), {"url": line}) for line in lines]
    if len(lines) == 1 and not re.search(r"\s", lines[0]):
        _check_address(lines[0])
    keys = [line for line in bare if _YAML_KEY.fullmatch(line.removeprefix("- "))]
    if keys and all(line in keys or line.startswith("- ") for line in bare):
        return _read_yaml(text)
    return parse_launch_lines(text)


def _check_address(word: str) -> None:
    """See that a single word is not an address that is misspelt.

    Raises:
        PasteError: it is; the message gives the likely one.
    """
    shown = word[:100]
    misspelt = _MISSPELT.fullmatch(word)
    if misspelt and (misspelt[1] or word.startswith("//")):
        host = misspelt[2][:100]
        unsafe = _is_near(host) or (misspelt[1] or "").lower() in ("http", "htp")
        scheme = "http" if unsafe else "https"
        raise PasteError(f"`{shown}` is not an address: did you mean {scheme}://{host}?")
    if (_NO_SCHEME.fullmatch(word) and "/" in word) or re.fullmatch(r"localhost:\d+", word):
        scheme = "http" if _is_near(word) else "https"
        raise PasteError(f"an address begins with its scheme: did you mean {scheme}://{shown}?")


def _is_near(host: str) -> bool:
    return host.startswith(("localhost", "127.", "0.0.0.0", "192.168.", "10."))


# A client's configuration block.


def _read_json(text: str) -> list[PastedServer]:
    if not text.startswith(("{", "[")):
        text = "{" + text.rstrip().rstrip(",") + "}"
    try:
        return _servers_of(read_json(_plain_json(text)))
    except IntakeError as error:
        raise PasteError(f"this cannot be read: {error}") from None


def _read_toml(text: str) -> list[PastedServer]:
    try:
        return _servers_of(tomllib.loads(text))
    except (tomllib.TOMLDecodeError, RecursionError) as error:
        raise PasteError(f"this cannot be read as TOML: {error}") from None


def _read_yaml(text: str) -> list[PastedServer]:
    read = read_yaml_text(text)
    if read.faults:
        raise PasteError(f"this cannot be read as YAML: {read.faults[0]}")
    return _servers_of(read.value)


def _servers_of(value: Any) -> list[PastedServer]:
    found = _server_entries(value, "")
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
    return [p for key, item in value.items() for p in _server_entries(item, str(key))]


def _server_entry(entry: dict[str, Any], name: str, url: str | None) -> PastedServer:
    if entry.get("command") is None:
        assert url
        if not _ADDRESS.fullmatch(url):
            _check_address(url)
        headers = entry.get("headers")
        given = {"url": url, "headers": headers if isinstance(headers, dict) else {}}
        kind = str(entry.get("type") or entry.get("transport") or "")
        if kind.lower() == "sse":
            given["transport"] = "sse"
        return address_server(server_name(name) or name_of_url(url), given)
    command = entry["command"]
    words = [str(w) for w in command] if isinstance(command, list) else split_words(str(command))
    args, given_env = entry.get("args"), entry.get("env")
    words += [str(a) for a in args] if isinstance(args, list) else []
    env = {str(k): str(v) for k, v in given_env.items()} if isinstance(given_env, dict) else {}
    if not words:
        raise PasteError("there is no command in this block")
    return command_server(server_name(name) or name_of_command(words), words, env, entry.get("cwd"))
