"""A recorded server: answers from a recording, by tool and canonical arguments."""

from __future__ import annotations

import copy
from collections import Counter
from collections.abc import Iterable
from dataclasses import replace
from difflib import SequenceMatcher
from typing import Any

from ferox.core.json_values import canonical_json
from ferox.formats.server import Replay
from ferox.recordings.recording import Exchange, Recording
from ferox.servers.sources.source import (
    Caller,
    Definition,
    ProtocolRefusal,
    SilentCaller,
    Source,
    ToolOutput,
    UnknownTool,
    output_of_result,
)

NOT_RECORDED = -32004
"""The JSON-RPC code of a call that the recording has no answer to."""
Index = tuple[dict[tuple[str, str], list[Exchange]], dict[str, list[Exchange]]]
LISTS = {
    "resources/list": "resources",
    "resources/templates/list": "resourceTemplates",
    "prompts/list": "prompts",
}


class RecordedServer:
    """One trial's player of a recording.

    The same call again gets its next recorded answer, and the last stays. `fallback`
    answers what is not recorded, if the replay's `miss` says so.
    """

    state = None

    def __init__(
        self,
        name: str,
        recording: Recording,
        replay: Replay | None = None,
        fallback: Source | None = None,
    ) -> None:
        self.name = name
        self.replay = replay or Replay()
        self._recording = recording
        self._fallback = fallback
        # The newest protocol has no handshake, and says the same in `server/discover`.
        opened = (recording.answers_to("initialize") + recording.answers_to("server/discover"))[:1]
        self.info = dict(recording.header.server_info or {"name": name, "version": "recorded"})
        self.instructions: str | None = opened[0].get("instructions") if opened else None
        anything: Definition = {"inputSchema": {"type": "object"}}
        self.tools: dict[str, Definition] = {
            t["name"]: t if (t.get("inputSchema") or {}).get("type") else {**t, **anything}
            for t in recording.tools
        }
        for call in recording.calls:  # a client may call without ever listing
            name_ = call.tool or ""
            self.tools.setdefault(name_, {"name": name_, **anything})
        self._given: Counter[tuple[str, str]] = Counter()
        index = recording.index_once(tuple(self.replay.ignore), self._answer_index)
        self._answers: dict[tuple[str, str], list[Exchange]] = index[0]
        self._by_tool: dict[str, list[Exchange]] = index[1]

    def _answer_index(self) -> Index:
        """The recorded answers by tool and canonical arguments, and by tool alone."""
        answers: dict[tuple[str, str], list[Exchange]] = {}
        by_tool: dict[str, list[Exchange]] = {}
        recording = self._recording
        calls = {call.number for call in recording.calls}
        for exchange in recording.exchanges:
            if exchange.answer_at is None:
                continue
            if exchange.tool is not None and exchange.number in calls:
                key = self._call_key(exchange.tool, exchange.args)
                by_tool.setdefault(exchange.tool, []).append(exchange)
            else:
                # No tool's name holds a null, so that a method never meets a tool of its name.
                key = self._call_key(f"\0{exchange.method}", _bare_value(exchange.params))
            answers.setdefault(key, []).append(exchange)
        return answers, by_tool

    @property
    def methods(self) -> frozenset[str]:
        """The further methods that were recorded, and the lists that go with them."""
        seen = {e.method for e in self._recording.exchanges}
        found = seen & {"completion/complete", "logging/setLevel"}
        if seen & {"resources/list", "resources/read", "resources/templates/list"}:
            found |= {"resources/list", "resources/read", "resources/templates/list"}
        if seen & {"prompts/list", "prompts/get"}:
            found |= {"prompts/list", "prompts/get"}
        return frozenset(found)

    def _call_key(self, name: str, args: dict[str, Any]) -> tuple[str, str]:
        if self.replay.ignore:
            args = {k: v for k, v in args.items() if k not in self.replay.ignore}
        return name, canonical_json(args)

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """The recorded answer, or what the policy says for a call that was not recorded.

        Raises:
            UnknownTool: the server had no such tool.
            ProtocolRefusal: an error was recorded, or nothing was.
        """
        return await self._find_answer(tool, args, caller, keep=True)

    async def look_up(self, tool: str, args: dict[str, Any]) -> ToolOutput:
        """The recorded answer, leaving the turn of it to the agent.

        Raises:
            UnknownTool: the server had no such tool.
            ProtocolRefusal: an error was recorded, or nothing was.
        """
        return await self._find_answer(tool, args, SilentCaller(), keep=False)

    async def _find_answer(
        self, tool: str, args: dict[str, Any], caller: Caller, keep: bool
    ) -> ToolOutput:
        if tool not in self.tools:
            raise UnknownTool(tool)
        key = self._call_key(tool, args)
        found = self._answers.get(key)
        if found:
            place = min(self._given[key], len(found) - 1)
            if keep:
                self._given[key] += 1
            return _given_output(found[place])
        if self.replay.match == "nearest" and self._by_tool.get(tool):
            near = _nearest_answer(args, self._by_tool[tool], self.replay.ignore)
            return _given_output(near, nearest=True)
        if self._fallback is not None and self.replay.miss != "error":
            if keep:
                return await self._fallback.call(tool, args, caller)
            return await self._fallback.look_up(tool, args)
        message = self._missing_message(tool, args)
        raise ProtocolRefusal(NOT_RECORDED, message)

    def _missing_message(self, tool: str, args: dict[str, Any]) -> str:
        recorded = self._by_tool.get(tool, [])
        if not recorded:
            return f"{tool} was never called in the recording"
        near = _nearest_answer(args, recorded, self.replay.ignore)
        names = sorted(
            name
            for name in {*args, *near.args} - set(self.replay.ignore)
            if name not in args
            or name not in near.args
            or canonical_json(args[name]) != canonical_json(near.args[name])
        )
        return (
            f"{tool} was not recorded with these arguments; "
            f"the nearest of {len(recorded)} differs in {', '.join(names)}"
        )

    async def request(self, method: str, params: dict[str, Any]) -> dict[str, Any]:
        """The recorded answer to another method; lists are given whole.

        Raises:
            ProtocolRefusal: an error was recorded, or nothing was.
        """
        if method in LISTS:
            return {LISTS[method]: self._recording.listed_items(method, LISTS[method])}
        if method == "logging/setLevel":
            return {}
        key = self._call_key(f"\0{method}", _bare_value(params))
        found = self._answers.get(key)
        if not found:
            raise ProtocolRefusal(NOT_RECORDED, f"{method} was not recorded with these parameters")
        place = min(self._given[key], len(found) - 1)
        self._given[key] += 1
        exchange = found[place]
        if exchange.error is not None:
            raise ProtocolRefusal(
                int(exchange.error.get("code", 0)), str(exchange.error.get("message"))
            )
        return copy.deepcopy(exchange.result or {})


def _bare_value(params: dict[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in params.items() if k not in ("_meta", "cursor")}


def _given_output(exchange: Exchange, nearest: bool = False) -> ToolOutput:
    if exchange.error is not None:
        raise ProtocolRefusal(
            int(exchange.error.get("code", 0)), str(exchange.error.get("message"))
        )
    found = output_of_result(copy.deepcopy(exchange.result or {}))
    return replace(found, wait_s=exchange.s or 0.0, nearest=nearest)


def _nearest_answer(
    args: dict[str, Any], recorded: Iterable[Exchange], ignore: list[str]
) -> Exchange:
    """The recorded call whose arguments agree most; of several the earliest."""
    return max(recorded, key=lambda e: (argument_likeness(args, e.args, ignore), -e.number))


def argument_likeness(
    one: dict[str, Any], other: dict[str, Any], ignore: Iterable[str] = ()
) -> float:
    """How like two calls' arguments are: the mean over all their names, from 0 to 1.

    Equal values count 1, numbers by how near they are, texts by the letters they share.
    """
    names = ({*one} | {*other}) - set(ignore)
    if not names:
        return 1.0
    return sum(_alike_share(one.get(n), other.get(n)) for n in names) / len(names)


def _alike_share(one: Any, other: Any) -> float:
    if canonical_json(one) == canonical_json(other):
        return 1.0
    if type(one) in (int, float) and type(other) in (int, float):
        return 0.9 * max(0.0, 1 - float(abs(one - other) / max(abs(one), abs(other))))
    if isinstance(one, str) and isinstance(other, str):
        return 0.8 * SequenceMatcher(None, one[:200], other[:200], autojunk=False).ratio()
    if isinstance(one, dict) and isinstance(other, dict):
        return 0.9 * argument_likeness(one, other)
    return 0.0
