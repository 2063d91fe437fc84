"""A server at hand: connected in one of its ways, looked at, read and tried."""

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
from ferox.core.json_values import brief
from ferox.core.masking import Masker
from ferox.core.matchers import Situation
from ferox.formats.server import ServerFile
from ferox.intake.limits import IntakeError, Limits, check_value
from ferox.recordings.recording import read_recording
from ferox.servers.by_hand.kept_content import bounded
from ferox.servers.connection.connecting import reach
from ferox.servers.connection.diagnosis import OutOfReach, plain
from ferox.servers.connection.tap import tapped
from ferox.servers.offering import Offering
from ferox.servers.opening import Stage, opened, reach_of
from ferox.servers.sources.live import every_page
from ferox.servers.sources.source import Definition, Source, answered, breaks_own_schema
from ferox.workspace.environment import known_secrets
from ferox.workspace.modes import MOCK, RECORDED

NOW = "2031-03-14T06:30:00Z"
"""The clock of a mock that is tried outside any task."""
MOST_MESSAGES = 400
"""Messages of a connection that are kept to be looked at."""
MOST_EVENTS = 1000
"""Messages of one try that are kept."""
"""Characters of one value that a try keeps; a longer one is told by its length."""
MOST_TOLD = 200
"""Lines of the log and reports of progress that a try keeps, the newest."""
TELLING_S = 0.05
LONGEST_CALL_S = 600.0
"""Seconds after which a call that a server does not answer is given up."""
COMPARED = Limits(max_nodes=20_000)
"""The largest state in which changes are looked for."""
RUNNING, DONE, FAILED, CANCELLED = "running", "done", "failed", "cancelled"


@dataclass
class Question:
    """A question of the server's that waits for an answer by hand."""

    message: str
    schema: dict[str, Any]
    answer: asyncio.Future[types.ElicitResult]


@dataclass
class Try:
    """One call by hand: what was said meanwhile, and what came of it.

    `events` are messages (`t` seconds, `dir`, `msg`) as they passed; `told` are progress
    and log lines.
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
    told: list[dict[str, Any]] = field(default_factory=list)
    question: Question | None = None
    ended: Callable[[Try], object] | None = None
    """Told of the try once it is over."""
    version: int = 0
    changed: asyncio.Event = field(default_factory=asyncio.Event)

    def note(self) -> None:
        """Something about the try changed; whoever waits for that goes on."""
        self.version += 1
        self.changed.set()
        self.changed = asyncio.Event()


class Hand:
    """One connected server."""

    def __init__(self, server: ServerFile, way: str, source: Source | None) -> None:
        self.server, self.way = server, way
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
        self._try: Try | None = None
        self._work: asyncio.Task[None] | None = None
        self._tools: dict[str, Definition] = {}

    # What the client of the SDK calls back.

    def heard(self, dir: str, message: dict[str, Any]) -> None:
        """Keep a message that passed."""
        t = round(time.perf_counter() - self._begun, 6)
        told = {"t": t, "dir": dir, "msg": self._masker.mask(message)}
        self.messages.append(told)
        if self._try is not None and len(self._try.events) < MOST_EVENTS:
            self._try.events.append(told)
        elif self._try is not None and "result" in message:
            self._try.events[-1] = told  # however much was said before it, the answer is kept

    async def elicit(
        self, context: ClientRequestContext, params: types.ElicitRequestParams
    ) -> types.ElicitResult:
        """Put the server's question to whoever tries the call."""
        if self._try is None:
            return types.ElicitResult(action="cancel")
        schema = dict(getattr(params, "requested_schema", None) or {})
        answer: asyncio.Future[types.ElicitResult] = asyncio.get_running_loop().create_future()
        self._try.question = Question(params.message, schema, answer)
        self._try.note()
        try:
            return await answer
        finally:
            if self._try:
                self._try.question = None
                self._try.note()

    async def log(self, params: types.LoggingMessageNotificationParams) -> None:
        """Keep a line of the server's log."""
        self._tell({"log": params.level, "text": params.data, "logger": params.logger})

    async def notified(self, message: Any) -> None:
        """Notice that the server says its list changed."""
        if isinstance(message, types.ToolListChangedNotification):
            self.list_changed = True
        elif isinstance(message, Exception):
            self._tell({"log": "error", "text": f"not understood: {plain(message)}"})

    def _tell(self, told: dict[str, Any]) -> None:
        if self._try is not None:
            self._try.told = [*self._try.told[-MOST_TOLD:], told]
            self._try.note()

    # What the screen asks.

    async def look(self) -> dict[str, Any]:
        """Everything that the server offers, read anew.

        Raises:
            OutOfReach: what it lists cannot be read.
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
            told = f"its list cannot be read: {_first_fault(error)}"
            raise OutOfReach("bad_list", told, "see what it sends under Wire, or its log") from None
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

    async def read(self, uri: str) -> list[dict[str, Any]]:
        """A resource's contents.

        Raises:
            MCPError: the server refuses.
        """
        self.used = time.monotonic()
        result = await self.client.read_resource(uri)
        return [
            c.model_dump(mode="json", by_alias=True, exclude_none=True) for c in result.contents
        ]

    async def prompt(self, name: str, args: dict[str, str]) -> list[dict[str, Any]]:
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
    def busy(self) -> bool:
        """Whether a call is going on."""
        return self._work is not None and not self._work.done()

    def begin(
        self, tool: str, args: dict[str, Any], ended: Callable[[Try], object] | None = None
    ) -> Try:
        """Begin a call by hand; one at a time. `ended` is told of it once it is over."""
        self.used = time.monotonic()
        self._try = Try(tool, args, ended=ended)
        self._work = asyncio.create_task(self._call(self._try))
        return self._try

    def cancel(self) -> None:
        """Cancel the call that goes on; the server is told."""
        if self._work is not None:
            self._work.cancel()

    async def _call(self, tried: Try) -> None:
        state = self._source.state if self._source else None
        tried.before = copy.deepcopy(state)
        begun = time.perf_counter()

        async def told(progress: float, total: float | None, message: str | None) -> None:
            self._tell({"progress": progress, "total": total, "text": message})

        try:
            if self.seen is None:  # its result is held against its schema
                with suppress(OutOfReach):
                    await self.look()
                tried.events.clear()  # they are not of the call
            begun = time.perf_counter()
            async with asyncio.timeout(LONGEST_CALL_S):
                await self.client.call_tool(tried.tool, tried.args, progress_callback=told)
            tried.state = DONE
        except TimeoutError:
            tried.state, tried.error = FAILED, f"no answer in {LONGEST_CALL_S:g} s: given up"
        except asyncio.CancelledError:
            await asyncio.sleep(TELLING_S)  # the server is still being told
            tried.state, tried.error = CANCELLED, "cancelled by hand"
        except MCPError as error:
            tried.state = FAILED
            tried.error = f"protocol error {error.code}: {error}"
        except Exception as error:  # what the SDK refuses is shown all the same
            tried.state = DONE
            tried.remark = plain(error)
        tried.ms = round((time.perf_counter() - begun) * 1000, 3)
        try:
            self._take(tried)
            self._compare_states(tried)
        except Exception as error:  # a call by hand ends, whatever it brought
            tried.state = FAILED
            tried.error = f"what came back cannot be shown: {plain(error)}"
        self._try = None
        self.used = time.monotonic()
        if tried.ended is not None:
            with suppress(Exception):  # what cannot be kept is shown all the same
                tried.ended(tried)
        tried.note()

    def _compare_states(self, tried: Try) -> None:
        """A mock's state after the call, and what changed in it."""
        if self._source is None or self._source.state is None:
            return
        tried.after = copy.deepcopy(self._source.state)
        try:
            check_value(tried.after, COMPARED)
        except IntakeError:
            return  # too large for what changed to be worth working out
        tried.changes = jsonpatch.make_patch(tried.before, tried.after).patch

    def _take(self, tried: Try) -> None:
        """The result as it came on the wire, before any client's library looked at it."""
        sent = [e["msg"] for e in tried.events if e["dir"] == "to_server"]
        asked = {repr(m.get("id")) for m in sent if m.get("method") == "tools/call"}
        answers: dict[str, Any] = {}  # an answer given twice counts once, as the client takes it
        for event in tried.events:
            id = repr(event["msg"].get("id"))
            if event["dir"] == "to_client" and "result" in event["msg"] and id in asked:
                answers.setdefault(id, event["msg"]["result"])
        last = next(reversed(answers.values()), None)
        if not isinstance(last, dict) or tried.state not in (DONE,):
            return
        content = last.get("content")
        if isinstance(content, list):
            tried.content = [bounded(c) for c in content if isinstance(c, dict)]
        else:
            tried.remark = "the result has no list of content"
        tried.structured = last.get("structuredContent")
        if last.get("isError"):
            words = [str(c.get("text", "")) for c in tried.content if c.get("type") == "text"]
            tried.error = "\n".join(words) or "the tool says that it failed"
        else:
            broken = breaks_own_schema(self._tools.get(tried.tool, {}), answered(last))
            if broken:
                tried.remark = f"the result breaks the tool's own output schema: {broken}"


def _first_fault(error: Exception) -> str:
    """What is wrong with a list, by the first of what is."""
    if not isinstance(error, ValidationError):
        return brief(plain(error), 300)
    fault = error.errors(include_url=False, include_input=False)[0]
    return f"{'.'.join(map(str, fault['loc']))}: {fault['msg']}"


def _dumped(model: BaseModel) -> dict[str, Any]:
    return model.model_dump(mode="json", by_alias=True, exclude_none=True)


@asynccontextmanager
async def at_hand(server: ServerFile, way: str, folder: Path) -> AsyncIterator[Hand]:
    """A server connected in one of its ways while the context is open.

    Raises:
        OutOfReach: a live server cannot be reached.
        RecordingError: the recording cannot be read.
    """
    async with AsyncExitStack() as stack:
        source: Source | None = None
        if way in (MOCK, RECORDED):
            stage = Stage(
                folder, 1, Situation(Clock(NOW)), lambda path: read_recording(folder / path)
            )
            source = await stack.enter_async_context(opened(server, way, stage))
        hand = Hand(server, way, source)
        callbacks: dict[str, Any] = {
            "elicitation_callback": hand.elicit,
            "logging_callback": hand.log,
            "message_handler": hand.notified,
        }
        if source is None:
            reached = reach(reach_of(server, way), folder, heard=hand.heard, **callbacks)
            hand.client = await stack.enter_async_context(reached)
        else:
            streams = tapped(Offering(source).streams(), hand.heard)
            hand.client = await stack.enter_async_context(
                Client(streams, mode="legacy", **callbacks)
            )
        try:
            yield hand
        finally:
            hand.cancel()
