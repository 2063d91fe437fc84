"""Questions of the server in the middle of a call: to the client, else to the user."""

from __future__ import annotations

from dataclasses import replace

from ferox.gateway.answering_questions import AnsweredQuestion, QuestionTaker
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.step import ToolCall, ToolStep
from ferox.servers.sources.source import (
    Caller,
    Definition,
    QuestionAnswer,
    ServerQuestion,
    ToolOutput,
)


class WithQuestions:
    """Notes what a server asks, and has the user answer what the agent's client cannot take."""

    def __init__(
        self, behind: ToolStep, server: str, taker: QuestionTaker, recorder: Recorder
    ) -> None:
        self._behind, self._server = behind, server
        self._taker, self._recorder = taker, recorder

    @property
    def tools(self) -> dict[str, Definition]:
        """The tools as they are behind."""
        return self._behind.tools

    async def call(self, call: ToolCall) -> ToolOutput:
        """Pass a call on; its questions come back here."""
        return await self._behind.call(replace(call, caller=self._caller_of(call)))

    def _caller_of(self, call: ToolCall) -> Caller:
        id = call.event["id"] if call.event is not None else None
        return _ClientOrUser(call.caller, self._server, id, self._taker, recorder=self._recorder)


class _ClientOrUser:
    """The client that made a call; a question that it cannot take goes to the user."""

    def __init__(
        self,
        caller: Caller,
        server: str,
        call: str | None,
        taker: QuestionTaker,
        *,
        recorder: Recorder,
    ) -> None:
        self._caller, self._server, self._call = caller, server, call
        self._taker, self._recorder = taker, recorder
        self.progress, self.log, self.sample = caller.progress, caller.log, caller.sample

    async def ask_question(self, question: ServerQuestion) -> QuestionAnswer:
        """Ask the client, else the user."""
        event = self._recorder.question(
            question.message, server=self._server, call=self._call, url=question.url
        )
        by_client = await self._caller.ask_question(question)
        answered = AnsweredQuestion(by_client, "client")
        if by_client.action == "not_asked":
            answered = await self._taker.answer_question(self._server, question)
        self._recorder.finish_question(event, answered)
        return answered.answer
