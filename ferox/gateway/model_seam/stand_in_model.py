"""A stand-in (simulated) behind the model seam."""

from __future__ import annotations

import asyncio
import json
from collections.abc import Callable
from typing import Any

from starlette.responses import JSONResponse, Response

from ferox.core.definitions import properties_of, required_of
from ferox.core.tokens import estimate_tokens
from ferox.formats.trace import Usage
from ferox.gateway.model_seam.answering import EmbedAnswer, EmbedRequest, ModelRequest
from ferox.gateway.model_seam.chat_interface import completion_of
from ferox.gateway.model_seam.completions import altered_for, as_response, message_of
from ferox.gateway.model_seam.embeddings import embeddings_answer
from ferox.gateway.model_seam.model_interface import ParsedRequest
from ferox.stand_in.code_writing import CodeWriting
from ferox.stand_in.model import ProposedCall, Spoken, StandIn


class StandInModel:
    """Answers by a stand-in, one for each voice: each has a conversation of its own.

    `name` is the model's in the workspace; `make` makes a stand-in with a seed.
    """

    simulated = True

    def __init__(self, name: str, make: Callable[[int], StandIn], seed: int) -> None:
        self._name, self._make, self._seed = name, make, seed
        self._by_voice: dict[str, StandIn] = {}

    def forget_conversation(self) -> None:
        """A new conversation begins."""
        for stand_in in self._by_voice.values():
            stand_in.forget_conversation()

    async def answer(self, request: ModelRequest) -> Response:
        """Answer a request, and note what was said."""
        spoken = self._let_speak(request)
        if spoken.wait_s:
            await asyncio.sleep(spoken.wait_s)
        usage = _estimated_usage(request.size, spoken)
        completion = altered_for(request, self._write_completion(request.event_id, spoken, usage))
        request.notes.note_answer(request, message_of(completion), usage)
        if request.parsed.required and not request.altering:
            spoken = _reply_by_tool(spoken, request)
            completion = self._write_completion(request.event_id, spoken, usage)
        return as_response(request, completion)

    def _let_speak(self, request: ModelRequest) -> Spoken:
        if request.voice not in self._by_voice:
            self._by_voice[request.voice] = self._make(self._seed)
        return _let_speak(self._by_voice[request.voice], request.parsed)

    def follow(self, request: ModelRequest) -> None:
        """Take in a request that is answered by others, to go on from there."""
        self._let_speak(request)

    def change_seed(self, seed: int) -> None:
        """From now on, chance is of this seed."""
        self._seed = seed
        for stand_in in self._by_voice.values():
            stand_in.seed = seed

    def _write_completion(self, id: str, spoken: Spoken, usage: Any) -> dict[str, Any]:
        calls = [
            {"id": c.id, "name": c.name, "arguments": json.dumps(c.args)} for c in spoken.calls
        ]
        return completion_of(self._name, id, spoken.text, calls=calls, usage=usage)

    async def answer_embeddings(self, request: EmbedRequest) -> EmbedAnswer:
        """Seeded vectors."""
        answer = embeddings_answer(self._name, request.texts, request.body)
        usage: Usage = {"input": answer["usage"]["prompt_tokens"]}
        return EmbedAnswer(JSONResponse(answer), usage)


def _let_speak(stand_in: StandIn, parsed: ParsedRequest) -> Spoken:
    """A stand-in's answer; as code for an agent that acts by it."""
    code = CodeWriting.asked_for(parsed.messages) if not parsed.tools else None
    if code is None:
        return stand_in.answer(parsed.messages, parsed.tools)
    spoken = stand_in.answer(code.message_history(parsed.messages), code.tools)
    text = code.write_message(spoken.text, [(call.name, call.args) for call in spoken.calls])
    return Spoken(text, (), spoken.wait_s)


def _reply_by_tool(spoken: Spoken, request: ModelRequest) -> Spoken:
    """A reply as a call, for frameworks in which even the reply is one.

    The tool for it is the agent's own one that takes a single text. The agent did not choose
    this call, so it is not an event.
    """
    if spoken.calls or spoken.text is None:
        return spoken
    for name, (_, schema) in request.parsed.tools.items():
        needed = required_of(schema) or list(properties_of(schema))
        if request.notes.is_own_tool(name) and len(needed) == 1:
            call = ProposedCall(f"reply-{request.event_id}", name, {needed[0]: spoken.text})
            request.notes.note_reply_tool(name, spoken.text)
            return Spoken(None, (call,), spoken.wait_s)
    return spoken


def _estimated_usage(size: int, spoken: Spoken) -> Usage:
    said = (spoken.text or "") + "".join(json.dumps(c.args) + c.name for c in spoken.calls)
    return {"input": estimate_tokens(size), "output": max(1, estimate_tokens(len(said)))}
