"""Mocks made from a live server's list, from a recording, or from a few words."""

from __future__ import annotations

import re
from collections.abc import Iterable
from itertools import combinations
from statistics import median, quantiles
from typing import Any

from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.core.json_values import canonical_json
from ferox.core.matchers import is_matcher
from ferox.formats.server import NOT_RECORDED
from ferox.intake.json_text import read_json
from ferox.intake.limits import GivenUp
from ferox.making.samples import sample_value
from ferox.recordings.recording import Exchange, Recording

Tool = dict[str, Any]
MOST_RULES = 200
"""Rules for one tool at most; of a longer recording the first calls."""


class MakingError(ValueError):
    """Something that no mock can be made of."""


def as_literal(value: Any) -> Any:
    """A value as a mock writes it, so that nothing in it is taken for an expression."""
    if isinstance(value, dict):
        return {key: as_literal(item) for key, item in value.items()}
    if isinstance(value, list):
        return [as_literal(item) for item in value]
    if isinstance(value, str) and re.search(r"\{\{|\{%|\{#", value):
        return re.sub(r"\{(?=[{%#])", "{{ '{' }}", value)
    return value


def tool_skeleton(definition: dict[str, Any]) -> Tool:
    """A tool of a live server's list, with an answer to be filled in."""
    tool = _defined_tools(definition)
    output = definition.get("outputSchema")
    given = sample_value(output) if output else {"todo": f"what {definition['name']} answers"}
    tool["answers"] = [{"give": as_literal(given)}]
    return tool


def _defined_tools(definition: dict[str, Any]) -> Tool:
    keys = {
        "name": "name", "title": "title", "description": "description",
        "inputSchema": "input", "outputSchema": "output", "annotations": "annotations",
    }  # fmt: skip
    return {own: definition[key] for key, own in keys.items() if definition.get(key) is not None}


def from_list(tools: Iterable[dict[str, Any]]) -> dict[str, Any]:
    """A mock with every tool of a list, its answers to be filled in."""
    return {"tools": [tool_skeleton(tool) for tool in tools]}


def from_recording(recording: Recording) -> dict[str, Any]:
    """A mock that answers as the recording does, its differences in arguments as conditions."""
    definitions = {t["name"]: t for t in recording.tools}
    calls: dict[str, list[Exchange]] = {}
    for call in recording.calls:
        tool_ = definitions.get(call.tool or "")
        if call.tool and call.answer_at is not None and _reaches_server(tool_, call.args):
            calls.setdefault(call.tool, []).append(call)
    names = [*definitions, *(name for name in calls if name not in definitions)]
    mock: dict[str, Any] = {"tools": []}
    for name in names:
        tool = _defined_tools(
            definitions.get(name) or {"name": name, "inputSchema": {"type": "object"}}
        )
        made = calls.get(name)
        if not made:
            # A made-up answer would pass for a recorded one.
            error = f"{NOT_RECORDED}: the recording holds no answer of {name}"
            tool["answers"] = [{"error": as_literal(error)}]
        else:
            pace = _latency_of([c.s for c in made if c.s is not None])
            tool = {**tool, **pace, "answers": _answer_rules(made)}
        mock["tools"].append(tool)
    resources = list(_mock_resources(recording))
    if resources:
        mock["resources"] = resources
    prompts = list(_mock_prompts(recording))
    if prompts:
        mock["prompts"] = prompts
    return mock


def _reaches_server(tool: dict[str, Any] | None, args: dict[str, Any]) -> bool:
    """Whether a call comes as far as a mock's rules: it refuses wrong arguments before them."""
    schema = (tool or {}).get("inputSchema")
    try:
        return schema is None or schema_of(schema).find_fault(args) is None
    except (UnusableSchema, GivenUp):
        return True


def _latency_of(seconds: list[float]) -> dict[str, Any]:
    if not seconds:
        return {}
    ms = [round(s * 1000, 1) for s in seconds]
    if len(ms) < 5:
        return {"latency": {"ms": round(median(ms), 1)}}
    middle, high = median(ms), quantiles(ms, n=20)[-1]
    return {"latency": {"median_ms": max(0.1, middle), "p95_ms": max(0.1, middle, round(high, 1))}}


def _answer_rules(calls: list[Exchange]) -> list[dict[str, Any]]:
    """Rules for one tool's calls: the fewest arguments that tell their answers apart."""
    by_args: dict[str, list[Exchange]] = {}
    for call in calls:
        by_args.setdefault(canonical_json(call.args), []).append(call)
    groups = list(by_args.values())[:MOST_RULES]
    answers = [_answer_of(group) for group in groups]
    telling = _telling_arguments([g[0].args for g in groups], [canonical_json(a) for a in answers])
    rules: dict[str, dict[str, Any]] = {}
    for group, answer in zip(groups, answers, strict=True):
        seen = {name: _seen_schema(group[0].args, name) for name in telling}
        key = canonical_json([answer, {k: v for k, v in seen.items() if k != telling[-1]}])
        if len(telling) == 1 and key in rules:
            _widen_schema(rules[key]["when"], telling[0], seen[telling[0]])
            continue
        key = canonical_json([answer, seen]) if len(telling) != 1 else key
        rules.setdefault(key, {**({"when": seen} if seen else {}), **answer})
    return list(rules.values())


def _telling_arguments(args: list[dict[str, Any]], answers: list[str]) -> list[str]:
    """The smallest set of arguments whose values determine the answers; all that vary if none."""
    names = sorted({name for a in args for name in a})
    varying = [n for n in names if len({canonical_json(a.get(n, "\0absent")) for a in args}) > 1]
    if len(set(answers)) == 1:
        return []
    for size in range(1, min(3, len(varying)) + 1):
        for chosen in combinations(varying, size):
            telling: dict[str, str] = {}
            keys = [canonical_json([a.get(n, "\0absent") for n in chosen]) for a in args]
            if all(telling.setdefault(k, x) == x for k, x in zip(keys, answers, strict=True)):
                return list(chosen)
    return varying


def _seen_schema(args: dict[str, Any], name: str) -> Any:
    if name not in args:
        return {"absent": True}
    value = args[name]
    return {"equal": value} if is_matcher(value) else value


def _widen_schema(when: dict[str, Any], name: str, value: Any) -> None:
    """Let a condition hold for one more value of an argument."""
    there = when[name]
    if isinstance(there, dict) and there.keys() == {"one_of"}:
        if value not in there["one_of"]:
            there["one_of"].append(value)
    elif there != value:
        when[name] = {"one_of": [there, value]}


def _answer_of(group: list[Exchange]) -> dict[str, Any]:
    """What a rule gives for one set of arguments, called once or several times."""
    found = [_given_answer(call) for call in group]
    if len({canonical_json(f) for f in found}) == 1:
        return found[0]
    plain = [f["give"] for f in found if f.keys() == {"give"}]
    return {"give_in_turn": plain} if len(plain) == len(found) else found[0]


def _given_answer(call: Exchange) -> dict[str, Any]:
    if call.error is not None:
        return {"error": as_literal(str(call.error.get("message")))}
    result = call.result or {}
    content = result.get("content") or []
    texts = [c.get("text") for c in content if c.get("type") == "text"]
    if result.get("isError"):
        return {"error": as_literal("\n".join(map(str, texts)))}
    if isinstance(result.get("structuredContent"), dict):
        return {"give": as_literal(result["structuredContent"])}
    if len(content) == 1 and len(texts) == 1:
        try:
            value = read_json(texts[0])
        except ValueError:
            value = texts[0]
        return {"give": as_literal(value if isinstance(value, dict | list | str) else texts[0])}
    return {"content": as_literal(content)}


def _mock_resources(recording: Recording) -> Iterable[dict[str, Any]]:
    listed = {r.get("uri"): r for r in recording.listed_items("resources/list", "resources")}
    read: dict[str, dict[str, Any]] = {}
    for exchange in recording.exchanges:
        if exchange.method == "resources/read" and exchange.result:
            for content in exchange.result.get("contents") or []:
                read[str(content.get("uri"))] = content
    for uri, content in read.items():
        about = listed.get(uri) or {}
        resource = {"uri": uri, "name": about.get("name") or uri}
        resource |= {k: about[k] for k in ("title", "description") if about.get(k)}
        if content.get("mimeType"):
            resource["mimeType"] = content["mimeType"]
        if "blob" in content:
            yield {**resource, "blob": content["blob"]}
        else:
            yield {**resource, "text": as_literal(content.get("text", ""))}


def _mock_prompts(recording: Recording) -> Iterable[dict[str, Any]]:
    listed = {p.get("name"): p for p in recording.listed_items("prompts/list", "prompts")}
    given: dict[str, dict[str, Any]] = {}
    for exchange in recording.exchanges:
        if exchange.method == "prompts/get" and exchange.result:
            given.setdefault(str(exchange.params.get("name")), exchange.result)
    for name, result in given.items():
        about = listed.get(name) or {}
        prompt = {"name": name}
        prompt |= {k: about[k] for k in ("title", "description") if about.get(k)}
        arguments = [
            {k: a[k] for k in ("name", "title", "description", "required") if a.get(k)}
            for a in about.get("arguments") or []
        ]
        messages = [
            {"role": m.get("role", "user"), "content": as_literal(m.get("content") or {})}
            for m in result.get("messages") or []
        ]
        yield {**prompt, **({"arguments": arguments} if arguments else {}), "messages": messages}


_ARGUMENT = re.compile(r"\A\s*([A-Za-z_][\w-]*+)(\?)?\s*(?::?\s*([A-Za-z-]+))?\s*")
_TYPES: dict[str, dict[str, Any]] = {
    "text": {"type": "string"}, "string": {"type": "string"}, "number": {"type": "number"},
    "integer": {"type": "integer"}, "boolean": {"type": "boolean"}, "list": {"type": "array"},
    "object": {"type": "object"}, "date": {"type": "string", "format": "date"},
    "date-time": {"type": "string", "format": "date-time"},
}  # fmt: skip


def in_few_words(name: str, description: str, arguments: str, answer: str) -> Tool:
    """A tool from a name, its arguments (`imo, day: date, notes?`) and one answer, JSON or text.

    Raises:
        MakingError: with what is wrong.
    """
    if not re.fullmatch(r"[A-Za-z0-9_.-]{1,128}", name):
        raise MakingError(f"`{name}` is not a valid tool name: use letters, digits, _ - . only")
    properties: dict[str, Any] = {}
    required = []
    for part in filter(str.strip, re.split(r"[,\n]", arguments)):
        found = _ARGUMENT.fullmatch(part)
        kind = (found[3] or "text") if found else ""
        if found is None or kind not in _TYPES:
            known = ", ".join(_TYPES)
            raise MakingError(f"`{part.strip()}`: write NAME, NAME: TYPE or NAME?; types: {known}")
        properties[found[1]] = dict(_TYPES[kind])
        if not found[2]:
            required.append(found[1])
    schema: dict[str, Any] = {"type": "object", "properties": properties}
    if required:
        schema["required"] = required
    try:
        given = read_json(answer)
    except ValueError:
        given = answer
    shown = {"description": description} if description else {}
    return {"name": name, **shown, "input": schema, "answers": [{"give": given}]}
