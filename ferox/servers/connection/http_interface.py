"""A live HTTP interface as a tool server: the operations of its OpenAPI document as tools."""

from __future__ import annotations

import asyncio
import base64
import json
from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

import httpx2

from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.core.openapi import OpenApiError, Operation, operations_of
from ferox.core.openapi_requests import request_of
from ferox.formats.server import Reach
from ferox.intake.files import read_text
from ferox.intake.json_text import parsed_json
from ferox.intake.limits import FILE, GivenUp, IntakeError
from ferox.servers.connection.diagnosis import RequestHeaders, ServerUnreachable, plain_error
from ferox.servers.connection.incoming import read_whole
from ferox.servers.connection.stdio import Streams
from ferox.servers.connection.tls import TLS
from ferox.servers.offering import Offering
from ferox.servers.sources.source import (
    Caller,
    Definition,
    ProtocolRefusal,
    SilentCaller,
    ToolOutput,
    UnknownTool,
    breaks_schema,
    failed_output,
    tool_output,
)
from ferox.workspace.vault import address_origin

METHOD_NOT_FOUND = -32601
SHOWN = 2000
"""Characters of a refusal that the agent reads."""
CALL_S = 120.0
"""Seconds that one request may take."""


class HttpInterface:
    """An HTTP interface in a tool server's place. Every call is one request."""

    state = None
    instructions = None
    methods: frozenset[str] = frozenset()

    def __init__(
        self, name: str, operations: Sequence[Operation], url: str, http: httpx2.AsyncClient
    ) -> None:
        self.name, self._url, self._http = name, url.rstrip("/"), http
        self.info = {"name": name, "version": "1"}
        self._operations = {operation.tool["name"]: operation for operation in operations}
        self.tools: dict[str, Definition] = {
            name: operation.definition() for name, operation in self._operations.items()
        }

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """Send the request that a call is.

        Raises:
            UnknownTool: the document has no such operation.
        """
        operation = self._operations.get(tool)
        if operation is None:
            raise UnknownTool(tool)
        try:
            fault = schema_of(operation.tool["input"]).find_fault(args)
            if fault is not None:
                where = f"{fault.path.removeprefix('$.')}: " if fault.path != "$" else ""
                return failed_output(f"Invalid arguments for {tool}: {where}{fault.message}")
            return await self._send(operation, args)
        except (OpenApiError, UnusableSchema, GivenUp) as error:
            return failed_output(f"Invalid arguments for {tool}: {error}")
        except (httpx2.HTTPError, httpx2.InvalidURL) as error:
            return failed_output(f"{self._url} gave no answer: {plain_error(error)}")

    async def _send(self, operation: Operation, args: dict[str, Any]) -> ToolOutput:
        request = request_of(operation, args)
        headers = {"Content-Type": request.content_type} if request.content_type else {}
        async with self._http.stream(
            request.method,
            f"{self._url}{request.path}",
            params=list(request.query),
            content=request.body,
            headers=headers,
        ) as response:
            try:
                body = await read_whole(response.aiter_bytes())
            except IntakeError as error:
                return failed_output(f"the answer is {error}")
        return _output_of(operation, response, body)

    async def look_up(self, tool: str, args: dict[str, Any]) -> ToolOutput:
        """Answer a call of Ferox's own.

        Raises:
            UnknownTool: the document has no such operation.
        """
        return await self.call(tool, args, SilentCaller())

    async def request(self, method: str, params: dict[str, Any]) -> dict[str, Any]:
        """Nothing is answered besides calls.

        Raises:
            ProtocolRefusal: always.
        """
        raise ProtocolRefusal(METHOD_NOT_FOUND, f"an HTTP interface has no {method}")


def _output_of(operation: Operation, response: httpx2.Response, body: bytes) -> ToolOutput:
    """What an answer gives. One that breaks the document says so, and what it was."""
    kind = response.headers.get("content-type", "").partition(";")[0].strip().lower()
    words = body.decode(response.encoding or "utf-8", errors="replace")
    if response.status_code >= 300:
        return failed_output(f"HTTP {response.status_code}: {words[:SHOWN]}".rstrip(": "))
    if kind.startswith("image/"):
        data = base64.b64encode(body).decode()
        return ToolOutput([{"type": "image", "data": data, "mimeType": kind}])
    value = parsed_json(words)
    definition = operation.definition()
    schema = definition.get("outputSchema")
    broken = None if schema is None else breaks_schema(schema, value)
    if broken is not None:
        shown = words if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
        message = f"The answer does not fit the interface's document: {broken}. It was: "
        return failed_output(message + shown[:SHOWN])
    return tool_output(value, definition)


@asynccontextmanager
async def interface_streams(
    to: Reach, folder: Path, sent: RequestHeaders, patience_s: float
) -> AsyncIterator[Streams]:
    """The streams to a server of this process that stands for a live HTTP interface.

    `folder` is the workspace; `sent` goes with every request, its secrets known.

    Raises:
        ServerUnreachable: nothing is there, or its document cannot be used.
    """
    assert to.url is not None and to.openapi is not None
    timeout = httpx2.Timeout(patience_s, read=CALL_S)
    async with httpx2.AsyncClient(
        timeout=timeout, verify=TLS, headers=sent.headers, params=sent.params
    ) as http:
        text = await _document_text(to, folder, http, patience_s)
        try:
            operations = await asyncio.to_thread(operations_of, text)
        except OpenApiError as error:
            raise ServerUnreachable(
                "document", f"`{to.openapi}`: {error}", "correct `openapi`"
            ) from None
        await _knock(to.url, http, patience_s)
        offering = Offering(HttpInterface(address_origin(to.url), operations, to.url, http))
        async with offering.client_streams() as streams:
            yield streams


async def _document_text(
    to: Reach, folder: Path, http: httpx2.AsyncClient, patience_s: float
) -> str:
    """The document, from a file of the workspace or an address.

    Raises:
        ServerUnreachable: it is not there, or too large.
    """
    assert to.openapi is not None and to.url is not None
    if not to.openapi.startswith(("http://", "https://")):
        path = (folder / to.openapi).resolve()
        try:
            if not path.is_relative_to(folder.resolve()):
                raise OSError("it leaves the workspace")
            return read_text(path, FILE.max_bytes)
        except (OSError, IntakeError) as error:
            problem = f"`{to.openapi}` cannot be read: {error}"
            raise ServerUnreachable("document", problem, "correct `openapi`") from None
    own = address_origin(to.openapi) == address_origin(to.url)
    # What the interface itself is sent may be secret, and another host gets none of it.
    async with httpx2.AsyncClient(timeout=patience_s, verify=TLS) as plain:
        try:
            async with (http if own else plain).stream("GET", to.openapi) as answer:
                if answer.status_code != 200:
                    problem = f"{to.openapi} answered HTTP {answer.status_code}"
                    raise ServerUnreachable("document", problem, "correct `openapi`")
                body = b""
                async for piece in answer.aiter_bytes():
                    body += piece
                    if len(body) > FILE.max_bytes:
                        problem = f"{to.openapi} is larger than {FILE.max_bytes >> 20} MB"
                        raise ServerUnreachable("document", problem, "take a smaller document")
        except (httpx2.HTTPError, httpx2.InvalidURL) as error:
            problem = f"{to.openapi}: {plain_error(error)}"
            raise ServerUnreachable("document", problem, "correct `openapi`") from None
    return body.decode(errors="replace")


async def _knock(url: str, http: httpx2.AsyncClient, patience_s: float) -> None:
    """See whether anything answers at an address, whatever it says.

    Raises:
        ServerUnreachable: nothing does.
    """
    try:
        async with http.stream("GET", url, timeout=patience_s):
            return
    except httpx2.TimeoutException:
        problem = f"{url} gave no answer in {patience_s:g} s"
        raise ServerUnreachable("slow", problem, "try again; it may be starting") from None
    except (httpx2.HTTPError, httpx2.InvalidURL) as error:
        problem = f"nothing answers at {url}: {plain_error(error)}"
        raise ServerUnreachable("no_connection", problem, "start it, or correct `url`") from None
