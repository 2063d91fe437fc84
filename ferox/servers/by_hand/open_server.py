"""An open server: connected in one of its modes, looked at, read and called by hand."""

from __future__ import annotations

import asyncio
import copy
import time
from collections import deque
from collections.abc import AsyncIterator, Callable
from contextlib import AsyncExitStack, asynccontextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import jsonpatch
import mcp_types as types
from mcp import Client
from mcp.client.context import ClientRequestContext
from mcp.shared.exceptions import MCPError
from pydantic import BaseModel, ValidationError

from ferox.core.clock import Clock
from ferox.core.json_values import brief_json
from ferox.core.masking import Masker
from ferox.core.matcher import MatchContext
from ferox.formats.server import ServerFile
from ferox.intake.limits import IntakeError, Limits, check_value
from ferox.recordings.recording import read_recording
from ferox.servers.by_hand.kept_content import bounded_block
from ferox.servers.by_hand.watched import Watched
from ferox.servers.connection.connecting import connect_client
from ferox.servers.connection.diagnosis import ServerUnreachable, plain_error
from ferox.servers.connection.tap import tap_streams
from ferox.servers.offering import Offering
from ferox.servers.opening import TrialContext, open_source, reach_of
from ferox.servers.sources.live import every_page, question_of
from ferox.servers.sources.source import (
    Definition,
    ServerQuestion,
    Source,
    breaks_own_schema,
    output_of_result,
)
from ferox.workspace.environment import known_secrets
from ferox.workspace.modes import MOCK, RECORDED

NOW = "2031-03-14T06:30:00Z"
"""The clock of a mock that is call outside any task."""
MOST_MESSAGES = 400
"""Messages of a connection that are kept to be looked at."""
MOST_EVENTS = 1000
"""Messages of one call that are kept."""
MOST_LOG = 200
"""Lines of the log and reports of progress that a call keeps, the newest."""
TELLING_S = 0.05
LONGEST_CALL_S = 600.0
"""Seconds after which a call that a server does not answer is given up."""
COMPARED = Limits(max_nodes=20_000)
"""The largest state in which changes are looked for."""
RUNNING, DONE, FAILED, CANCELLED = "running", "done", "failed", "cancelled"


@dataclass
class PendingQuestion:
    """A question of the server's that waits for an answer by hand."""

    asked: ServerQuestion
    answer: asyncio.Future[types.ElicitResult]


@dataclass(eq=False)
class CallByHand(Watched):
    """One call by hand: what was said meanwhile, and what came of it.

    `events` are messages (`t` seconds, `dir`, `msg`) as they passed; `log` are its log lines
    and reports of progress.
    """

    tool: str
    args: dict[str, Any]
    state: str = RUNNING
    ms: float = 0.0
    content: list[dict[str, Any]] = field(default_factory=list)
    structured: Any = None
    error: str | None = None
    remark: str | None = None
    nearest: bool = False
    changes: list[dict[str, Any]] = field(default_factory=list)
    before: dict[str, Any] | None = None
    after: dict[str, Any] | None = None
    events: list[dict[str, Any]] = field(default_factory=list)
    log: list[dict[str, Any]] = field(default_factory=list)
    question: PendingQuestion | None = None
    ended: Callable[[CallByHand], object] | None = None
    """Given the call once it is over."""
    task: asyncio.Task[None] | None = None

    def __post_init__(self) -> None:
        super().__init__()

    def cancel(self) -> None:
        """Cancel the call if it goes on; the server is told."""
        if self.task is not None:
            self.task.cancel()

    def answer_question(self, action: str, content: dict[str, Any]) -> None:
        """Answer the question that it waits for."""
        if self.question is not None and not self.question.answer.done():
            answer = {"action": action, "content": content if action == "accept" else None}
            self.question.answer.set_result(types.ElicitResult.model_validate(answer))


class OpenServer:
    """One connected server."""

    def __init__(self, server: ServerFile, mode: str, source: Source | None) -> None:
        self.server, self.mode = server, mode
        self.list_changed = False
        self.lost: str | None = None
        self.seen: dict[str, Any] | None = None
        """What the last look found."""
        self.messages: deque[dict[str, Any]] = deque(maxlen=MOST_MESSAGES)
        self.used = time.monotonic()
        self.client: Client
        self._source = source
        self._masker = Masker(known_secrets(), names=False)
        self._begun = time.perf_counter()
        self._call: CallByHand | None = None
        self._tools: dict[str, Definition] = {}

    # What the client of the SDK calls back.

    def keep_message(self, dir: str, message: dict[str, Any]) -> None:
        """Keep a message that passed."""
        t = round(time.perf_counter() - self._begun, 6)
        event = {"t": t, "dir": dir, "msg": self._masker.mask(message)}
        self.messages.append(event)
        if self._call is not None and len(self._call.events) < MOST_EVENTS:
            self._call.events.append(event)
        elif self._call is not None and "result" in message:
            self._call.events[-1] = event  # however much was said before it, the answer is kept

    async def elicit(
        self, context: ClientRequestContext, params: types.ElicitRequestParams
    ) -> types.ElicitResult:
        """Put the server's question to whoever tries the call."""
        if self._call is None:
            return types.ElicitResult(action="cancel")
        asked = question_of(params)
        answer: asyncio.Future[types.ElicitResult] = asyncio.get_running_loop().create_future()
        self._call.question = PendingQuestion(asked, answer)
        self._call.note_change()
        try:
            return await answer
        finally:
            if self._call:
                self._call.question = None
                self._call.note_change()

    async def log(self, params: types.LoggingMessageNotificationParams) -> None:
        """Keep a line of the server's log."""
        self._add_to_log({"log": params.level, "text": params.data, "logger": params.logger})

    async def notified(self, message: Any) -> None:
        """Notice that the server says its list changed."""
        if isinstance(message, types.ToolListChangedNotification):
            self.list_changed = True
        elif isinstance(message, Exception):
            self._add_to_log({"log": "error", "text": f"not understood: {plain_error(message)}"})

    def _add_to_log(self, line: dict[str, Any]) -> None:
        if self._call is not None:
            self._call.log = [*self._call.log[-MOST_LOG:], line]
            self._call.note_change()

    # What the screen asks.

    async def read_offer(self) -> dict[str, Any]:
        """Read everything that the server offers.

        Raises:
            ServerUnreachable: what it lists cannot be read.
        """
        self.used = time.monotonic()
        self.list_changed = False
        client = self.client
        can = client.server_capabilities
        info = client.server_info
        try:
            tools = await every_page(client.list_tools, "tools") if can.tools else []
            resources, templates, prompts = [], [], []
            if can.resources:
                resources = await every_page(client.list_resources, "resources")
                with suppress(MCPError):  # many servers know no templates, and say so
                    found = await every_page(client.list_resource_templates, "resource_templates")
                    templates = found
            if can.prompts:
                prompts = await every_page(client.list_prompts, "prompts")
        except (MCPError, ValueError, RuntimeError) as error:
            problem = f"its list cannot be read: {_first_fault(error)}"
            advice = "see what it sends under Wire, or its log"
            raise ServerUnreachable("bad_list", problem, advice) from None
        self._tools = {t["name"]: t for t in tools}
        self.seen = {
            "protocol": client.protocol_version,
            "server_info": info.model_dump(mode="json", exclude_none=True) if info else None,
            "instructions": client.instructions,
            "tools": tools,
            "resources": [*resources, *templates],
            "prompts": prompts,
        }
        return self.seen

    async def read_resource(self, uri: str) -> list[dict[str, Any]]:
        """A resource's contents.

        Raises:
            MCPError: the server refuses.
        """
        self.used = time.monotonic()
        result = await self.client.read_resource(uri)
        return [
            c.model_dump(mode="json", by_alias=True, exclude_none=True) for c in result.contents
        ]

    async def fill_prompt(self, name: str, args: dict[str, str]) -> list[dict[str, Any]]:
        """A prompt's messages, filled in.

        Raises:
            MCPError: the server refuses.
        """
        self.used = time.monotonic()
        result = await self.client.get_prompt(name, args)
        return [
            m.model_dump(mode="json", by_alias=True, exclude_none=True) for m in result.messages
        ]

    @property
    def is_busy(self) -> bool:
        """Whether a call is going on."""
        task = self._call.task if self._call else None
        return task is not None and not task.done()

    def begin_call(
        self, tool: str, args: dict[str, Any], ended: Callable[[CallByHand], object] | None = None
    ) -> CallByHand:
        """Begin a call by hand; one at a time. `ended` is given it once it is over."""
        self.used = time.monotonic()
        self._call = CallByHand(tool, args, ended=ended)
        self._call.task = asyncio.create_task(self._carry_out(self._call))
        return self._call

    def cancel_call(self) -> None:
        """Cancel the call that goes on, if there is one."""
        if self._call is not None:
            self._call.cancel()

    async def _carry_out(self, call: CallByHand) -> None:
        state = self._source.state if self._source else None
        call.before = copy.deepcopy(state)
        begun = time.perf_counter()

        async def report_progress(
            progress: float, total: float | None, message: str | None
        ) -> None:
            self._add_to_log({"progress": progress, "total": total, "text": message})

        try:
            if self.seen is None:  # its result is held against its schema
                with suppress(ServerUnreachable):
                    await self.read_offer()
                call.events.clear()  # they are not of the call
            begun = time.perf_counter()
            async with asyncio.timeout(LONGEST_CALL_S):
                await self.client.call_tool(call.tool, call.args, progress_callback=report_progress)
            call.state = DONE
        except TimeoutError:
            call.state, call.error = FAILED, f"no answer in {LONGEST_CALL_S:g} s: given up"
        except asyncio.CancelledError:
            # The SDK sends the cancellation after the call is cancelled here: it needs the
            # connection a moment longer.
            await asyncio.sleep(TELLING_S)
            call.state, call.error = CANCELLED, "cancelled by hand"
        except MCPError as error:
            call.state = FAILED
            call.error = f"protocol error {error.code}: {error}"
        except Exception as error:  # what the SDK refuses is shown all the same
            call.state = DONE
            call.remark = plain_error(error)
        call.ms = round((time.perf_counter() - begun) * 1000, 3)
        try:
            self._take_result(call)
            self._compare_states(call)
        except Exception as error:  # a call by hand ends, whatever it brought
            call.state = FAILED
            call.error = f"what came back cannot be shown: {plain_error(error)}"
        self._call = None
        self.used = time.monotonic()
        if call.ended is not None:
            with suppress(Exception):  # what cannot be kept is shown all the same
                call.ended(call)
        call.note_change(over=True)

    def _compare_states(self, call: CallByHand) -> None:
        """A mock's state after the call, and what changed in it."""
        if self._source is None or self._source.state is None:
            return
        call.after = copy.deepcopy(self._source.state)
        try:
            check_value(call.after, COMPARED)
        except IntakeError:
            return  # too large for what changed to be worth working out
        call.changes = jsonpatch.make_patch(call.before, call.after).patch

    def _take_result(self, call: CallByHand) -> None:
        """The result as it came on the wire, before any client's library looked at it."""
        sent = [e["msg"] for e in call.events if e["dir"] == "to_server"]
        asked = {repr(m.get("id")) for m in sent if m.get("method") == "tools/call"}
        answers: dict[str, Any] = {}  # an answer given twice counts once, as the client takes it
        for event in call.events:
            id = repr(event["msg"].get("id"))
            if event["dir"] == "to_client" and "result" in event["msg"] and id in asked:
                answers.setdefault(id, event["msg"]["result"])
        last = next(reversed(answers.values()), None)
        if not isinstance(last, dict) or call.state not in (DONE,):
            return
        content = last.get("content")
        if isinstance(content, list):
            call.content = [bounded_block(c) for c in content if isinstance(c, dict)]
        else:
            call.remark = "the result has no list of content"
        call.structured = last.get("structuredContent")
        if last.get("isError"):
            words = [str(c.get("text", "")) for c in call.content if c.get("type") == "text"]
            call.error = "\n".join(words) or "the tool says that it failed"
        else:
            broken = breaks_own_schema(self._tools.get(call.tool, {}), output_of_result(last))
            if broken:
                call.remark = f"the result breaks the tool's own output schema: {broken}"


def _first_fault(error: Exception) -> str:
    """What is wrong with a list, by the first of what is."""
    if not isinstance(error, ValidationError):
        return brief_json(plain_error(error), 300)
    fault = error.errors(include_url=False, include_input=False)[0]
    return f"{'.'.join(map(str, fault['loc']))}: {fault['msg']}"


def _dumped_model(model: BaseModel) -> dict[str, Any]:
    return model.model_dump(mode="json", by_alias=True, exclude_none=True)


@asynccontextmanager
async def opened_by_hand(server: ServerFile, mode: str, folder: Path) -> AsyncIterator[OpenServer]:
    """A server connected in one of its modes while the context is open.

    Raises:
        ServerUnreachable: a live server cannot be reached.
        RecordingError: the recording cannot be read.
    """
    async with AsyncExitStack() as stack:
        source: Source | None = None
        if mode in (MOCK, RECORDED):
            context = TrialContext(
                folder, 1, MatchContext(Clock(NOW)), lambda path: read_recording(folder / path)
            )
            source = await stack.enter_async_context(open_source(server, mode, context))
        open_server = OpenServer(server, mode, source)
        callbacks: dict[str, Any] = {
            "elicitation_callback": open_server.elicit,
            "logging_callback": open_server.log,
            "message_handler": open_server.notified,
        }
        if source is None:
            reached = connect_client(
                reach_of(server, mode), folder, heard=open_server.keep_message, **callbacks
            )
            open_server.client = await stack.enter_async_context(reached)
        else:
            streams = tap_streams(Offering(source).client_streams(), open_server.keep_message)
            open_server.client = await stack.enter_async_context(
                Client(streams, mode="legacy", **callbacks)
            )
        try:
            yield open_server
        finally:
            open_server.cancel_call()
