"""The chat link: a running service with a chat-completions interface."""

from __future__ import annotations

from typing import Any

import httpx2

from ferox.agents.links.link import (
    AgentCrashed,
    AgentDidNotStart,
    AgentHooks,
    AgentReply,
    AgentSetup,
    Conversation,
)
from ferox.agents.links.service import ServiceLink
from ferox.intake.json_text import read_json
from ferox.servers.connection.diagnosis import plain_error


class ChatLink(ServiceLink):
    """Drives a service that is asked as a model is; the conversation is told whole each time."""

    async def begin_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        url = (self.agent.url or "").rstrip("/")
        http = self.http_client()
        try:
            answer = await self.check_reachable(http, f"{url}/models", start_s)
            if answer.status_code in (401, 403):
                message = f"{url} answers HTTP {answer.status_code}"
                raise AgentDidNotStart(f"{message}; give its credentials in `headers`")
        except BaseException:
            await http.aclose()
            raise
        return _ChatConversation(self.agent.agent, url, http, setup)


class _ChatConversation(Conversation):
    def __init__(self, name: str, url: str, http: httpx2.AsyncClient, setup: AgentSetup) -> None:
        self._url, self._http = f"{url}/chat/completions", http
        self._body: dict[str, Any] = {"model": name, **setup.params}
        self._messages: list[dict[str, Any]] = []
        if setup.instructions:
            self._messages.append({"role": "system", "content": setup.instructions})

    async def send_turn(self, text: str, hooks: AgentHooks) -> AgentReply:
        self._messages.append({"role": "user", "content": text})
        body = {**self._body, "messages": self._messages}
        try:
            async with self._http.stream("POST", self._url, json=body) as response:
                if response.status_code != 200:
                    answer_text = (await response.aread()).decode(errors="replace")[:300]
                    raise AgentCrashed(self._refusal_message(response.status_code, answer_text))
                kind = response.headers.get("content-type", "")
                if kind.startswith("text/event-stream"):
                    said = await _streamed_reply(response, hooks)
                else:
                    said = _whole_reply(await response.aread())
        except httpx2.HTTPError as error:
            raise AgentCrashed(f"{self._url}: {plain_error(error)}") from None
        self._messages.append({"role": "assistant", "content": said})
        return AgentReply(said)

    def _refusal_message(self, status: int, body: str) -> str:
        hint = "; `url` must be what stands before /chat/completions" if status == 404 else ""
        return f"{self._url} answered HTTP {status}: {body}{hint}"

    async def close(self) -> bool:
        await self._http.aclose()
        return True


def _whole_reply(body: bytes) -> str:
    try:
        message = read_json(body)["choices"][0]["message"]
        return str(message.get("content") or "")
    except (ValueError, KeyError, IndexError, TypeError, AttributeError) as error:
        raise AgentCrashed(f"the service's answer is not a chat completion: {error!r}") from None


async def _streamed_reply(response: httpx2.Response, hooks: AgentHooks) -> str:
    """The words of a stream, told on as they come."""
    said = ""
    async for line in response.aiter_lines():
        if not line.startswith("data:") or line[5:].strip() == "[DONE]":
            continue
        try:
            choices = read_json(line[5:]).get("choices") or []
            piece = "".join((c.get("delta") or {}).get("content") or "" for c in choices)
        except (ValueError, AttributeError, TypeError):
            continue
        if piece:
            said += piece
            hooks.partial(said)
    return said
