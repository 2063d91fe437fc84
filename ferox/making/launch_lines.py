"""Launch lines as documentation gives them: what of each is the server's own command."""

from __future__ import annotations

import re
import shlex
import shutil
from collections.abc import Iterator
from pathlib import PurePosixPath

from ferox.making.pasted_server import LONGEST_NAME, PastedServer, PasteError, command_server
from ferox.making.pasted_server import server_name as clean_name
from ferox.making.runners import (
    GENERIC_FILES,
    NAMING_OPTIONS,
    RUNNERS,
    VALUE_OPTIONS,
    is_preparing,
)

_ASSIGNED = re.compile(r"\A(?:\$env:)?([A-Za-z_][A-Za-z0-9_]*+)=(.*)", re.S)
_PROGRAM = re.compile(r"[\w./~@+:\\%-]+")
_OFTEN_LAST = ("-mcp", "_mcp", "-server", "_server")


def parse_launch_lines(text: str) -> list[PastedServer]:
    """The servers that lines start, with the variables and the folder that are set before.

    Raises:
        PasteError: there is no command, or what stands there cannot be one.
    """
    found: list[PastedServer] = []
    env: dict[str, str] = {}
    cwd: str | None = None
    for words in _commands_in(text):
        here = dict(env)
        # As people paste them from a page; what follows is what matters.
        while words and words[0] in ("export", "set", "setx", "env", "sudo", "$"):
            words = words[1:]
        while words and (assigned := _ASSIGNED.fullmatch(words[0])):
            here[assigned[1]] = assigned[2]
            words = words[1:]
        if not words:
            env = here  # set for what follows
        elif len(words) == 2 and words[0] == "cd":
            cwd = words[1]
        elif not is_preparing(words):
            _check_command(words)
            found.append(command_server(name_of_command(words), words, here, cwd))
    if not found and env:
        names = ", ".join(env)
        raise PasteError(
            f"these are variables and no server: {names}; paste the launch line with them, "
            "or keep them under Secrets"
        )
    if not found:
        raise PasteError("there is no command in this line that starts a server")
    return found


def _commands_in(text: str) -> Iterator[list[str]]:
    """The words of each command, one after another."""
    joined = re.sub(r"[\\`^]\s*\n\s*", " ", text)
    # `<your key>` is one word to whoever wrote it.
    joined = re.sub(r"<[^<>\n]{1,80}>", lambda given: re.sub(r"\s", "-", given[0]), joined)
    for line in joined.splitlines():
        bare = re.sub(r"^\s*(?:[$>%]|PS [^>]*>|[-*•]|\d+[.)])\s+", "", line).strip()
        if not bare or bare.startswith(("#", "//", "REM ")):
            continue
        for part in re.split(r"&&|;", bare):
            if words := split_words(part):
                yield words


def split_words(part: str) -> list[str]:
    """The words of one command, as a shell takes them.

    Raises:
        PasteError: a quote in it does not end.
    """
    try:
        return shlex.split(part)
    except ValueError as error:
        raise PasteError(f"the line cannot be taken apart: {error}") from None


def _check_command(words: list[str]) -> None:
    """See that a command can be one: that its first word may be a program.

    Raises:
        PasteError: it cannot; the message says what it looks like.
    """
    program = words[0]
    shown = program if len(program) <= 60 else f"{program[:59]}…"
    if re.match(r"https?://", program):
        raise PasteError("give the address alone, on a line of its own")
    if not _PROGRAM.fullmatch(program) or program.endswith((":", ".")):
        raise PasteError(f"`{shown}` is no program: paste the launch line alone")
    known = program.lower().removesuffix(".exe").removesuffix(".cmd") in RUNNERS
    # Programs of one's own have a path, a hyphen or a digit in their names more often than not;
    # a plain word that is no program here is the beginning of a sentence.
    if not known and program.isalpha() and shutil.which(program) is None:
        raise PasteError(
            f"`{shown}` is no program on this machine, nor one that starts servers: paste the "
            "launch line alone; if it is a program of yours, give its path"
        )
    if len(words) > 3 and program[0].isupper() and all(w.strip(",.").isalpha() for w in words):
        raise PasteError("this is a sentence: paste the launch line alone")


def name_of_command(words: list[str]) -> str:
    """A name for the server that a command starts."""
    runner = PurePosixPath(words[0]).name.lower().removesuffix(".exe")
    takes_value = VALUE_OPTIONS.get(runner, frozenset())
    named = (_named_by_option(words, i, takes_value) for i in range(len(words)))
    behind = next((value for value in named if value), None)
    if behind:
        return _short_name(behind.removesuffix(".jar"))
    at = 0
    while at < len(words):
        word = words[at]
        plain = PurePosixPath(word).name if not word.startswith("@") else word
        if word in takes_value:
            at += 2
            continue
        at += 1
        if word.startswith("-") or plain.split("@")[0] in RUNNERS or "=" in word:
            continue
        path = PurePosixPath(word)
        if path.suffix in (".js", ".ts", ".mjs", ".cjs", ".py", ".jar"):
            parents = [p for p in path.parts[:-1] if p not in ("dist", "build", "src", ".", "/")]
            return _short_name(parents[-1] if path.stem in GENERIC_FILES and parents else path.stem)
        return _short_name(word)
    return clean_name(PurePosixPath(words[0]).name) or "server"


def _named_by_option(words: list[str], at: int, takes_value: frozenset[str]) -> str:
    """The value of an option that names the server, if one stands there; empty if none does."""
    option, equals, value = words[at].partition("=")
    if option not in NAMING_OPTIONS or option in takes_value:
        return ""
    if equals:
        return value
    return words[at + 1] if at + 1 < len(words) else ""


def _short_name(package: str) -> str:
    """A package's name without what every server's has: its scope, version and `mcp-server`."""
    bare = re.sub(r"(?s)(?<=.)[@=<>~\[:].*$", "", package.split("/")[-1][:LONGEST_NAME])
    short = re.sub(r"\A(?:(?:mcp[-_])?server[-_]|mcp[-_])", "", bare)
    while short.endswith(_OFTEN_LAST):
        short = short.rpartition(short[-4 if short.endswith("mcp") else -7])[0]
    return clean_name(short or bare) or "server"
