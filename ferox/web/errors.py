"""What went wrong, as an answer: a status and a message that says what to do."""

from __future__ import annotations

import logging
from pathlib import Path
from secrets import token_hex
from typing import Any

from flask import Flask, Response, request
from mcp.shared.exceptions import MCPError
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException

from ferox.intake.limits import GivenUp
from ferox.making.mocks import MakingError
from ferox.making.new_workspace import BeginningError
from ferox.making.pasted_server import PasteError
from ferox.recordings.recording import RecordingError
from ferox.runs.records import RunError
from ferox.servers.by_hand.open_servers import ServerBusy
from ferox.servers.connection.diagnosis import ServerUnreachable
from ferox.store.database import DatabaseError, StoreError, explain_failure
from ferox.web.access import READING
from ferox.web.responses import NotThere, RequestRefused, as_json
from ferox.web.screens import serve_screen
from ferox.web.shapes import ErrorMessage
from ferox.workspace import WorkspaceError
from ferox.workspace.write import WriteError

STATUSES: dict[type[Exception], int] = {
    NotThere: 404,
    RunError: 409,
    ServerBusy: 409,
    WriteError: 409,
    GivenUp: 422,
    MakingError: 422,
    BeginningError: 409,
    PasteError: 422,
    RecordingError: 422,
    ServerUnreachable: 502,
    StoreError: 503,
}
"""Errors whose own message is the answer."""


def add_errors(app: Flask) -> None:
    """Answer every error of a handler with a status and a message."""
    for kind, status in STATUSES.items():
        app.register_error_handler(kind, _answer_with(status))
    app.register_error_handler(RequestRefused, lambda e: _message_response(str(e), e.status))
    app.register_error_handler(
        MCPError, lambda e: _message_response(f"the server refuses: {e}", 422)
    )
    app.register_error_handler(WorkspaceError, _answer_unloadable)
    app.register_error_handler(DatabaseError, _answer_unreadable)
    app.register_error_handler(OSError, _answer_unwritable)
    app.register_error_handler(OverflowError, _too_large)
    app.register_error_handler(Exception, _answer_unforeseen)


def _answer_with(status: int) -> Any:
    return lambda error: _message_response(str(error), status)


def _message_response(message: str, status: int) -> Response:
    return as_json(ErrorMessage(message=message), status)


def invalid_request(error: ValidationError) -> Response:
    """What a request's fields should have been; what was given is not repeated."""
    faults = error.errors(include_url=False, include_input=False, include_context=False)
    return _message_response(
        "; ".join(f"{'.'.join(map(str, e['loc']))}: {e['msg']}" for e in faults[:20]), 422
    )


def is_api(path: str) -> bool:
    """Whether an address is of the interface, not of the screens."""
    return path == "/api" or path.startswith("/api/")


def _answer_unloadable(error: WorkspaceError) -> Response:
    more = len(error.problems) - 1
    others = f" (and {more} more)" if more else ""
    return _message_response(f"the workspace does not load: {error.problems[0]}{others}", 409)


def _answer_unreadable(error: DatabaseError) -> Response:
    logging.getLogger(__name__).exception("the database failed")
    return _message_response(explain_failure(error), 503)


def _too_large(error: OverflowError) -> Response:
    """A number that nothing stored can have."""
    return _message_response("a number is larger than Ferox can store", 422)


def _answer_unwritable(error: OSError) -> Response:
    """A file or folder that cannot be used: a full disk, a right that is missing."""
    logging.getLogger(__name__).exception("a file cannot be used")
    what = Path(str(error.filename)).name if error.filename else "a file"
    reason = (error.strerror or str(error)).lower()
    return _message_response(f"{what}: {reason}; nothing was changed", 503)


def _answer_unforeseen(error: Exception) -> Any:
    """An unforeseen error: logged in full under a number, which is all the client is given."""
    if isinstance(error, HTTPException):
        if error.code == 404 and request.method in READING and not is_api(request.path):
            return serve_screen(request.path.lstrip("/"))
        answer = as_json(ErrorMessage(message=error.description or error.name), error.code or 500)
        for name, value in error.get_headers():
            if name == "Allow":
                answer.headers[name] = value
        return answer
    number = token_hex(4)
    logging.getLogger(__name__).exception("fault %s", number)
    message = f"Ferox could not do this (fault {number}); the output of `ferox serve` says why"
    return _message_response(message, 500)
