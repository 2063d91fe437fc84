"""The http link: a finished service with an interface of its own, a request a turn."""

from __future__ import annotations

import json
from collections.abc import AsyncIterator
from typing import Any
from urllib.parse import quote
from uuid import uuid4

import httpx2

from ferox.agents.links.link import (
    AgentCrashed,
    AgentHooks,
    AgentReply,
    AgentSetup,
    Conversation,
)
from ferox.agents.links.service import ServiceLink
from ferox.core.expressions import ExpressionError, render_value
from ferox.core.json_paths import PathError, find_nodes
from ferox.formats.agent import HttpTurn
from ferox.intake.json_text import parsed_json, read_json
from ferox.intake.limits import GivenUp, IntakeError
from ferox.servers.connection.diagnosis import plain_error
from ferox.servers.connection.incoming import LARGEST_ANSWER, read_whole

SHOWN = 300
"""Characters of a refusal that its message repeats."""
DONE = "[DONE]"
"""What some services say at the end of a stream."""


class HttpLink(ServiceLink):
    """Sends the service a request for each turn, as the agent's file writes it."""

    async def begin_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        url = (self.agent.url or "").rstrip("/")
        http = self.http_client()
        try:
            await self.check_reachable(http, url, start_s)
        except BaseException:
            await http.aclose()
            raise
        return _HttpConversation(self.agent.http or HttpTurn(), url, http, setup)


class _HttpConversation(Conversation):
    def __init__(
        self, turn: HttpTurn, url: str, http: httpx2.AsyncClient, setup: AgentSetup
    ) -> None:
        self._turn, self._url, self._http = turn, url, http
        self._names: dict[str, Any] = {
            "trial": setup.trial,
            "conversation": uuid4().hex,
            "now": setup.now,
            "instructions": setup.instructions,
            "params": setup.params,
            "taken": dict.fromkeys(turn.take),
        }

    async def send_turn(self, text: str, hooks: AgentHooks) -> AgentReply:
        try:
            request = self._request_of(text)
            async with self._http.stream(**request) as response:
                if response.status_code >= 400:
                    body = (await _bounded_body(response)).decode(errors="replace")[:SHOWN]
                    raise AgentCrashed(
                        f"{self._shown} answered HTTP {response.status_code}: {body}"
                    )
                if self._turn.stream == "sse":
                    return await self._streamed_reply(response, hooks)
                return self._whole_reply(await _bounded_body(response))
        except (httpx2.HTTPError, httpx2.InvalidURL) as error:
            raise AgentCrashed(f"{self._shown}: {plain_error(error)}") from None
        except (ExpressionError, PathError, GivenUp) as error:
            raise AgentCrashed(f"`http` of the agent's file: {error}") from None

    @property
    def _shown(self) -> str:
        return f"{self._turn.method} {self._url}{self._turn.path}"

    def _request_of(self, text: str) -> dict[str, Any]:
        """The request of one turn, its templates filled in."""
        turn, names = self._turn, {**self._names, "text": text}
        in_path = {n: quote(v, safe="") if isinstance(v, str) else v for n, v in names.items()}
        in_path["taken"] = {n: quote(str(v), safe="") for n, v in names["taken"].items()}
        request: dict[str, Any] = {
            "method": turn.method,
            "url": f"{self._url}{render_value(turn.path, in_path)}",
            "params": {n: _as_text(render_value(v, names)) for n, v in turn.query.items()},
            "headers": {n: _one_line(render_value(v, names)) for n, v in turn.headers.items()},
        }
        if turn.body is not None:
            body = render_value(turn.body, names)
            request |= {"content": body.encode()} if isinstance(body, str) else {"json": body}
        return request

    def _whole_reply(self, body: bytes) -> AgentReply:
        words = body.decode(errors="replace")
        if self._turn.reply is None and self._turn.data is None and not self._turn.take:
            return AgentReply(words)
        try:
            value = read_json(body)
        except IntakeError as error:
            raise AgentCrashed(f"{self._shown} answered no JSON: {error}") from None
        self._take_values(value)
        if self._turn.reply is None:
            return AgentReply(words, self._data_of(value))
        found = find_nodes(value, self._turn.reply)
        if not found:
            raise AgentCrashed(f"{self._shown}: nothing at {self._turn.reply} in its answer")
        said = found[0]
        of = None if isinstance(said, str) else type(said).__name__
        return AgentReply(_as_text(said), self._data_of(value), of)

    async def _streamed_reply(self, response: httpx2.Response, hooks: AgentHooks) -> AgentReply:
        """The pieces of an event stream, told on as they come."""
        said, data = "", None
        async for event in _events_of(response):
            value = parsed_json(event)
            self._take_values(value)
            found = self._data_of(value)
            data = found if found is not None else data
            piece = event if self._turn.reply is None else ""
            if self._turn.reply is not None:
                piece = "".join(_as_text(node) for node in find_nodes(value, self._turn.reply))
            if piece:
                said += piece
                hooks.partial(said)
        return AgentReply(said, data)

    def _take_values(self, value: Any) -> None:
        """Keep what later turns send back, such as the service's own name of the conversation."""
        taken = self._names["taken"]
        for name, path in self._turn.take.items():
            found = find_nodes(value, path)
            if found:
                taken[name] = found[0]

    def _data_of(self, value: Any) -> Any:
        found = find_nodes(value, self._turn.data) if self._turn.data is not None else []
        return found[0] if found else None

    async def close(self) -> bool:
        await self._http.aclose()
        return True


def _as_text(value: Any) -> str:
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)


def _one_line(value: Any) -> str:
    """A header's value: what is in it may be the user's words, and must not be a further header."""
    return " ".join(_as_text(value).split())


async def _bounded_body(response: httpx2.Response) -> bytes:
    """A whole answer.

    Raises:
        AgentCrashed: it is too large.
    """
    try:
        return await read_whole(response.aiter_bytes())
    except IntakeError as error:
        raise AgentCrashed(f"its answer is {error}") from None


async def _events_of(response: httpx2.Response) -> AsyncIterator[str]:
    """The data of each event of a stream (server-sent events, HTML standard § 9.2).

    Raises:
        AgentCrashed: there is too much of it.
    """
    lines: list[str] = []
    read = 0
    async for line in response.aiter_lines():
        read += len(line)
        if read > LARGEST_ANSWER:
            raise AgentCrashed(f"its stream is longer than {LARGEST_ANSWER >> 20} MB")
        if line.startswith("data:"):
            lines.append(line[5:].removeprefix(" "))
        elif not line and lines:
            event, lines = "\n".join(lines), []
            if event.strip() != DONE:
                yield event
    if lines and "\n".join(lines).strip() != DONE:
        yield "\n".join(lines)
