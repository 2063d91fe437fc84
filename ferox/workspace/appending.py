"""Adding a task to a suite's text, so that all that stands there stays as it is, to the byte."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import yaml
from yaml.nodes import MappingNode, Node, ScalarNode, SequenceNode

from ferox.intake.yaml_text import read_yaml_text
from ferox.workspace.write import WriteError, as_yaml, edit_document, yaml_text


def with_task(text: str, task: Mapping[str, Any], servers: Mapping[str, str]) -> str:
    """A suite's text with a task at the end of its tasks, and servers that it lacks.

    A file whose lists are written between brackets is written anew, as YAML needs.

    Raises:
        WriteError: the text is not a YAML document of keys and values.
    """
    faults = read_yaml_text(text).faults
    if faults:
        raise WriteError(str(faults[0]))
    added = _with_servers(_with_last_task(text, task), servers)
    if added is None or not _differs_only_so(text, added, task, servers):
        return edit_document(text, lambda document: _put(document, task, servers))
    return added


def _put(document: Any, task: Mapping[str, Any], servers: Mapping[str, str]) -> None:
    document.setdefault("tasks", []).append(as_yaml(dict(task)))
    listed = document.setdefault("servers", {})
    for server, mode in servers.items():
        listed.setdefault(server, mode)


def _differs_only_so(
    before: str, after: str, task: Mapping[str, Any], servers: Mapping[str, str]
) -> bool:
    """Whether the new text holds the old document, the task and the servers, and no more."""
    read = read_yaml_text(after)
    if read.faults:
        return False
    wanted = read_yaml_text(before).value
    wanted = {**wanted, "tasks": [*(wanted.get("tasks") or []), dict(task)]}
    wanted["servers"] = {**servers, **(wanted.get("servers") or {})}
    return bool(read.value == wanted)


def _child(root: Node | None, key: str) -> Node | None:
    pairs = root.value if isinstance(root, MappingNode) else []
    return next((value for name, value in pairs if name.value == key), None)


def _with_last_task(text: str, task: Mapping[str, Any]) -> str | None:
    """The text with the task after its last; None if they are not written one below the other."""
    tasks = _child(yaml.compose(text, Loader=yaml.CSafeLoader), "tasks")
    if not isinstance(tasks, SequenceNode) or tasks.flow_style or not tasks.value:
        return None
    dash = text.rindex("-", 0, tasks.value[-1].start_mark.index)
    indent = dash - (text.rfind("\n", 0, dash) + 1)
    lines = yaml_text({"tasks": [dict(task)]}).split("\n", 1)[1].splitlines()
    own = len(lines[0]) - len(lines[0].lstrip())
    written = "".join(f"{' ' * indent}{line[own:]}\n" if line.strip() else "\n" for line in lines)
    end = _line_after(text, _last_sign(tasks.value[-1], text))
    head = text[:end] if text[:end].endswith("\n") else f"{text[:end]}\n"
    return f"{head}{written}{text[end:]}"


def _last_sign(node: Node, text: str) -> int:
    """Where what a node holds ends: its own mark may stand past comments and empty lines."""
    if isinstance(node, ScalarNode) or getattr(node, "flow_style", False) or not node.value:
        return len(text[: node.end_mark.index].rstrip())
    last = node.value[-1]
    return _last_sign(last[1] if isinstance(last, tuple) else last, text)


def _line_after(text: str, at: int) -> int:
    """Where the line after a sign begins."""
    end = text.find("\n", at)
    return len(text) if end < 0 else end + 1


def _with_servers(text: str | None, servers: Mapping[str, str]) -> str | None:
    """The text with servers that it lacks; None if it has no place for them."""
    if text is None:
        return None
    there = _child(yaml.compose(text, Loader=yaml.CSafeLoader), "servers")
    known = {key.value for key, _ in there.value} if isinstance(there, MappingNode) else set()
    lacking = {server: mode for server, mode in servers.items() if server not in known}
    if not lacking:
        return text
    if not isinstance(there, MappingNode) or not there.value:
        return None
    if there.flow_style:
        end = text.rindex("}", 0, there.end_mark.index)
        more = "".join(f", {server}: {mode}" for server, mode in lacking.items())
        inner = text[:end].rstrip()
        return f"{inner}{more}{text[len(inner) : end]}{text[end:]}"
    column = there.value[0][0].start_mark.column
    end = _line_after(text, _last_sign(there, text))
    more = "".join(f"{' ' * column}{server}: {mode}\n" for server, mode in lacking.items())
    return f"{text[:end]}{more}{text[end:]}"
