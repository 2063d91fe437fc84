"""Requests to a model as events of the trace."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ferox.formats.trace import CallError, Proposal, Usage
from ferox.gateway.model_seam.answering import ModelRequest
from ferox.gateway.model_seam.chat_interface import instructions_of
from ferox.gateway.model_seam.model_interface import ModelInterface, ParsedRequest
from ferox.gateway.model_seam.model_requests import ModelRequests, SentAnswer
from ferox.gateway.model_seam.own_calls import OwnCalls
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.recorder import Recorder
from ferox.intake.json_text import read_json
from ferox.stand_in.conversation import text_of


@dataclass(kw_only=True)
class RecordedRequests:
    """Notes what one of an agent's models was shown and what it proposed.

    `model` names it in the trace: `main`, or the name that the agent's file gives it.
    """

    model: str
    recorder: Recorder
    seen: SeenByModel
    own: OwnCalls
    kept: ModelRequests | None = None

    def begin_request(
        self, interface: ModelInterface, body: dict[str, Any], parsed: ParsedRequest, size: int
    ) -> ModelRequest:
        """A request came."""
        self.seen.note_tools(parsed.tools)
        self._read_history(parsed.messages)
        voice = self.seen.voices.voice_of(
            self.model, instructions_of(parsed.messages), parsed.tools
        )
        offered = [self.seen.find_address(name) for name in parsed.tools]
        event = self.recorder.model(voice=voice, offered=offered, model=self.model)
        return ModelRequest(
            interface=interface,
            body=body,
            parsed=parsed,
            size=size,
            voice=voice,
            event=event,
            notes=self,
        )

    def _read_history(self, messages: list[dict[str, Any]]) -> None:
        """Results of tools inside the agent never cross the wire; they come back in the history."""
        for message in messages:
            if message.get("role") == "tool" and message.get("tool_call_id"):
                self.own.came_back(str(message["tool_call_id"]), text_of(message.get("content")))

    def note_answer(
        self,
        request: ModelRequest,
        message: dict[str, Any],
        usage: Usage | None,
        error: CallError | None = None,
    ) -> None:
        """The model said this, whole or until it broke off with an error."""
        proposed = [
            self._make_proposal(call, request)
            for call in message.get("tool_calls") or []
            if isinstance(call, dict) and isinstance(call.get("function"), dict)
        ]
        text = message.get("content")
        self.recorder.finish_model(
            request.event, proposed=proposed, text=text, usage=usage, error=error
        )
        # After the event is finished: calls inside the agent begin when the model has answered.
        self.own.note_proposals(proposed, request.voice)
        request.said = message

    def _make_proposal(self, call: dict[str, Any], request: ModelRequest) -> Proposal:
        name = str(call["function"].get("name"))
        tool = self.seen.find_address(name) if name in request.parsed.tools else name
        args = _arguments_in(call["function"].get("arguments"))
        return {"id": str(call.get("id")), "tool": tool, "args": args}

    def note_failure(self, request: ModelRequest, kind: str, message: str) -> None:
        """The model said nothing."""
        self.recorder.finish_model(request.event, error={"kind": kind, "message": message})

    def keep_exchange(self, request: ModelRequest, sent: SentAnswer) -> None:
        """Keep a request, what the model said, and how the agent was told."""
        if self.kept is not None:
            self.kept.keep_request(
                request.event_id,
                request.interface.path,
                request.body,
                heard=request.parsed,
                answer=request.said,
                sent=sent,
            )

    def note_waiting(self, request: ModelRequest, seconds: float) -> None:
        """A rate limit was waited out."""
        request.event["waited_s"] = round(seconds, 3)
        self.recorder.update_event(request.event)

    def note_first_piece(self, request: ModelRequest) -> float:
        """The first piece of a stream came; seconds since the request."""
        first_s = request.event["first_s"] = self.seconds_since(request)
        self.recorder.update_event(request.event)
        return first_s

    def seconds_since(self, request: ModelRequest) -> float:
        """How long ago a request came."""
        return round(self.recorder.now() - request.event["t"], 6)

    def note_reply_tool(self, name: str, text: str) -> None:
        """A stand-in was made to reply by a call of this tool."""
        self.own.may_reply_by(name, text)

    def is_own_tool(self, name: str) -> bool:
        """Whether a tool is none of a server's."""
        return self.seen.names.find_address(name) is None


def _arguments_in(text: Any) -> Any:
    """A proposal's arguments; text that is not JSON stays text."""
    try:
        return read_json(text or "{}")
    except (ValueError, TypeError):
        return text
