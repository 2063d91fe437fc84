"""A source served over the protocol, with the official SDK: every version it speaks.

The same server stands behind the tool seam of a trial, behind a try on the Servers screen
and behind a recording that is replayed.
"""

from __future__ import annotations

import asyncio
import warnings
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from secrets import token_urlsafe
from typing import Any, cast

import anyio
import mcp_types as types
from mcp.server.context import ServerRequestContext
from mcp.server.lowlevel.server import NotificationOptions, Server
from mcp.server.subscriptions import (
    InMemorySubscriptionBus,
    ListenHandler,
    ToolsListChanged,
)
from mcp.shared.exceptions import MCPError, NoBackChannelError
from mcp.shared.message import ServerMessageMetadata, SessionMessage
from mcp_types.version import MODERN_PROTOCOL_VERSIONS

from ferox.servers.connection.stdio import Streams
from ferox.servers.sources.source import (
    Caller,
    Definition,
    ProtocolRefusal,
    QuestionAnswer,
    ServerQuestion,
    Source,
    ToolOutput,
    UnknownTool,
)

Context = ServerRequestContext[Any]
_COMPLETE: dict[str, Any] = {"resultType": "complete"}
_UNCACHED: dict[str, Any] = {**_COMPLETE, "ttlMs": 0, "cacheScope": "private"}
"""What the newest protocol wants in every result; the SDK takes it out for older ones."""
QUESTION = "question"
MOST_PENDING = 100
"""Calls that may wait for the client's answer at a time; older ones are given up."""
_PARAMS: dict[str, type[types.RequestParams]] = {
    "resources/list": types.PaginatedRequestParams,
    "resources/templates/list": types.PaginatedRequestParams,
    "resources/read": types.ReadResourceRequestParams,
    "resources/subscribe": types.SubscribeRequestParams,
    "resources/unsubscribe": types.UnsubscribeRequestParams,
    "prompts/list": types.PaginatedRequestParams,
    "prompts/get": types.GetPromptRequestParams,
    "completion/complete": types.CompleteRequestParams,
    "logging/setLevel": types.SetLevelRequestParams,
}


class _AnnouncingServer(Server[Any]):
    """A server that says beforehand that its list of tools may change."""

    def get_capabilities(
        self, notification_options: NotificationOptions | None = None, *args: Any, **kwargs: Any
    ) -> types.ServerCapabilities:
        # Servers have to say so when the connection begins, and a fault may change the list later.
        options = notification_options or NotificationOptions(tools_changed=True)
        options.tools_changed = True
        return super().get_capabilities(options, *args, **kwargs)


class Offering:
    """A tool server that answers from a source."""

    def __init__(self, source: Source) -> None:
        self.source = source
        self._pending: dict[str, _PendingCall] = {}
        self._changes = InMemorySubscriptionBus()
        with warnings.catch_warnings():  # older protocol versions still have what newer lost
            warnings.simplefilter("ignore")
            self.server: Server[Any] = _AnnouncingServer(
                str(source.info.get("name") or source.name),
                version=str(source.info.get("version") or "1"),
                instructions=source.instructions,
                on_list_tools=self._list,
                on_call_tool=self._call,
                on_subscriptions_listen=ListenHandler(self._changes),
            )
        for method in sorted(source.methods):
            handler = self._request_handler(method)
            self.server.add_request_handler(method, _PARAMS[method], handler)

    def list_tools(self) -> list[Definition]:
        """The tools as a client is told of them."""
        return list(self.source.tools.values())

    async def answer_call(
        self, context: Context, tool: str, args: dict[str, Any], caller: Caller
    ) -> ToolOutput:
        """What a call gives; the time that it is to take is waited out.

        Raises:
            UnknownTool: there is no such tool.
            ProtocolRefusal: the server answers with a protocol error.
        """
        given = await self.source.call(tool, args, caller)
        if given.wait_s:
            await asyncio.sleep(given.wait_s)
        return given

    async def announce_change(self, context: Context) -> None:
        """Say that the list of tools changed, in the way of the client's protocol version."""
        # Older versions hear of it on the session, the newest by what it subscribed to.
        await context.session.send_tool_list_changed()
        await self._changes.publish(ToolsListChanged())

    async def _list(
        self, context: Context, params: types.PaginatedRequestParams | None
    ) -> types.ListToolsResult:
        return cast(types.ListToolsResult, {**_UNCACHED, "tools": self.list_tools()})

    async def _call(
        self, context: Context, params: types.CallToolRequestParams
    ) -> types.CallToolResult | types.InputRequiredResult:
        # The newest protocol has no way for a server to ask: it answers with the question, and the
        # client calls again with the answer and this state.
        waiting = self._pending.pop(params.request_state or "", None)
        if waiting is None:
            waiting = _PendingCall()
            caller = SessionCaller(context, waiting)
            work = self.answer_call(context, params.name, params.arguments or {}, caller)
            waiting.work = asyncio.ensure_future(work)
        else:
            waiting.take_responses(params.input_responses)
        try:
            asked = await waiting.next_question()
        except UnknownTool:
            raise MCPError(types.INVALID_PARAMS, f"Unknown tool: {params.name}") from None
        except ProtocolRefusal as error:
            raise MCPError(error.code, error.message) from None
        if asked is not None:
            return self._input_required(waiting, asked)
        return cast(types.CallToolResult, {**_COMPLETE, **waiting.work.result().result})

    def _input_required(
        self, waiting: _PendingCall, asked: types.ElicitRequest
    ) -> types.InputRequiredResult:
        state = token_urlsafe(12)
        self._pending[state] = waiting
        while len(self._pending) > MOST_PENDING:
            self._pending.pop(next(iter(self._pending))).work.cancel()
        return types.InputRequiredResult(input_requests={QUESTION: asked}, request_state=state)

    def _request_handler(self, method: str) -> Any:
        async def handle(context: Context, params: Any) -> Any:
            given = params.model_dump(mode="json", by_alias=True, exclude_none=True)
            try:
                result = await self.source.request(method, given)
            except ProtocolRefusal as error:
                raise MCPError(error.code, error.message) from None
            return {**_UNCACHED, **result} if result else {}

        return handle

    @asynccontextmanager
    async def client_streams(self) -> AsyncIterator[Streams]:
        """A client's streams to this server, in this process."""
        to_server, read = anyio.create_memory_object_stream[SessionMessage | Exception](0)
        write, from_server = anyio.create_memory_object_stream[SessionMessage | Exception](0)
        options = self.server.create_initialization_options()
        task = asyncio.ensure_future(self.server.run(read, write, options))
        try:
            yield from_server, to_server
        finally:
            self.close()
            to_server.close()
            from_server.close()
            with anyio.CancelScope(shield=True):
                await asyncio.wait({task}, timeout=1)
                task.cancel()
                await asyncio.gather(task, return_exceptions=True)
            for end in (read, write):
                end.close()

    def close(self) -> None:
        """Give up the calls that still wait for the client."""
        for waiting in self._pending.values():
            waiting.work.cancel()
        self._pending.clear()


class _PendingCall:
    """A call that is being answered, perhaps over several requests (protocol 2026-07-28)."""

    work: asyncio.Future[ToolOutput]

    def __init__(self) -> None:
        self._question: asyncio.Future[types.ElicitRequest] = _new_future()
        self._response: asyncio.Future[QuestionAnswer] = _new_future()

    async def next_question(self) -> types.ElicitRequest | None:
        """A question for the client, or None when the call is answered."""
        try:
            both: set[asyncio.Future[Any]] = {self.work, self._question}
            await asyncio.wait(both, return_when=asyncio.FIRST_COMPLETED)
        except asyncio.CancelledError:
            # The client hung up: what it asked for must not go on, nor its failure go unheard.
            self.work.cancel()
            with suppress(asyncio.CancelledError, Exception):
                await self.work
            raise
        if self.work.done():
            self.work.result()
            return None
        asked = self._question.result()
        self._question = _new_future()
        return asked

    async def ask_question(self, request: types.ElicitRequest) -> QuestionAnswer:
        """Have the request answered by a question; the client comes again with its answer."""
        self._response = _new_future()
        self._question.set_result(request)
        return await self._response

    def take_responses(self, responses: types.InputResponses | None) -> None:
        """Hand over what the client came back with."""
        found = (responses or {}).get(QUESTION)
        if isinstance(found, types.ElicitResult):
            self._response.set_result(QuestionAnswer(found.action, dict(found.content or {})))
        else:
            self._response.set_result(QuestionAnswer("cancel", {}))


def _new_future() -> asyncio.Future[Any]:
    return asyncio.get_running_loop().create_future()


def _request_of(question: ServerQuestion) -> types.ElicitRequest:
    """A question as the protocol writes it: a form, or an address to go to."""
    params: types.ElicitRequestParams
    if question.url is not None:
        params = types.ElicitRequestURLParams(
            message=question.message, url=question.url, elicitation_id=token_urlsafe(12)
        )
    else:
        schema = {"type": "object", "properties": {}, **question.schema}
        params = types.ElicitRequestFormParams.model_validate(
            {"mode": "form", "message": question.message, "requestedSchema": schema}
        )
    return types.ElicitRequest(params=params)


class SessionCaller:
    """The client on the other side of the SDK's session."""

    def __init__(self, context: Context, waiting: _PendingCall) -> None:
        self._context, self._waiting = context, waiting

    async def ask_question(self, question: ServerQuestion) -> QuestionAnswer:
        """Ask by the protocol version's own way, if the client takes such questions."""
        session = self._context.session
        by_url = types.UrlElicitationCapability() if question.url is not None else None
        wanted = types.ClientCapabilities(elicitation=types.ElicitationCapability(url=by_url))
        if not session.check_client_capability(wanted):
            return QuestionAnswer("not_asked", {})
        request = _request_of(question)
        if session.protocol_version in MODERN_PROTOCOL_VERSIONS:
            return await self._waiting.ask_question(request)
        try:
            found = await session.send_request(
                request,
                types.ElicitResult,
                metadata=ServerMessageMetadata(related_request_id=self._context.request_id),
            )
        except NoBackChannelError:
            return QuestionAnswer("not_asked", {})
        return QuestionAnswer(found.action, dict(found.content or {}))

    async def progress(self, progress: float, total: float | None, message: str | None) -> None:
        """Report progress, if the client gave a token for it."""
        await self._context.session.report_progress(progress, total, message)

    async def log(self, level: str, data: Any, logger: str | None = None) -> None:
        """Send a line of the log."""
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            await self._context.session.send_log_message(
                cast(types.LoggingLevel, level), data, logger, self._context.request_id
            )

    async def sample(self, params: dict[str, Any]) -> dict[str, Any]:
        """Pass a sampling request on to the client.

        Raises:
            ProtocolRefusal: the client takes no such request.
        """
        session = self._context.session
        wanted = types.ClientCapabilities(sampling=types.SamplingCapability())
        # Without sessions there is no way back to the client, whatever it declares.
        if not session.check_client_capability(wanted) or not session.can_send_request:
            raise ProtocolRefusal(types.METHOD_NOT_FOUND, "this client does no sampling")
        request = types.CreateMessageRequest(
            params=types.CreateMessageRequestParams.model_validate(params)
        )
        found = await session.send_request(request, types.CreateMessageResult)
        return found.model_dump(mode="json", by_alias=True, exclude_none=True)
