"""The built front end, and signing in."""

from __future__ import annotations

import gzip
import mimetypes
import re
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path

from flask import Response, request, send_from_directory
from flask_openapi3.openapi import OpenAPI

from ferox.web.access import ENTER, Access
from ferox.web.responses import as_json
from ferox.web.shapes import ErrorMessage
from ferox.web.sign_in import token_answer

STATIC = Path(__file__).parent / "static"

_files = frozenset(str(path.relative_to(STATIC)) for path in STATIC.rglob("*") if path.is_file())
"""The built front end. What is not a file of it is an address of its one page."""


YEAR_S = 365 * 24 * 3600


def serve_screen(path: str = "") -> Response:
    """A file of the front end, or its page."""
    if path in _files and path.startswith("assets/"):
        return _serve_asset(path)
    if path in _files:
        return send_from_directory(STATIC, path, max_age=0)
    if path.startswith("assets/"):
        return as_json(ErrorMessage(message="no such address"), 404)
    if "index.html" not in _files:
        message = "The screens are not built yet: run script/setup, then start again.\n"
        return Response(message, 503, mimetype="text/plain")
    page = send_from_directory(STATIC, "index.html", max_age=0)
    for address in _data_of(path):
        page.headers.add("Link", f"<{address}>; rel=preload; as=fetch; crossorigin=anonymous")
    return page


def _data_of(path: str) -> Iterator[str]:
    """What a screen asks for first, so that browsers fetch it while they load the front end."""
    yield "/api/workspace"
    if re.fullmatch(r"(board(/\d+)?)?", path):
        yield "/api/runs"
    if board := re.fullmatch(r"board/(\d+)", path):
        yield f"/api/runs/{board[1]}/board{_number_in_query('base')}"
    elif trial := re.fullmatch(r"trial/(\d+)", path):
        yield f"/api/trials/{trial[1]}{_number_in_query('result')}"


def _number_in_query(name: str) -> str:
    value = request.args.get(name, type=int)
    return f"?{name}={value}" if value else ""


def _serve_asset(path: str) -> Response:
    """A file whose name holds a hash of what is in it, so that browsers keep it for good."""
    if path.endswith((".js", ".css")) and request.accept_encodings["gzip"]:
        answer = Response(_compressed_file(path), mimetype=mimetypes.guess_type(path)[0])
        answer.content_encoding = "gzip"
        answer.vary.add("Accept-Encoding")
    else:
        answer = send_from_directory(STATIC, path)
    answer.cache_control.public, answer.cache_control.immutable = True, True
    answer.cache_control.no_cache = None
    answer.cache_control.max_age = YEAR_S
    return answer


@lru_cache(maxsize=64)
def _compressed_file(path: str) -> bytes:
    return gzip.compress((STATIC / path).read_bytes())


def add_screens(app: OpenAPI, access: Access) -> None:
    """Routes of the front end, and of signing in."""

    def enter() -> Response:
        """Take a token, and give the cookie that stands for it."""
        return token_answer(access, str(request.form.get("token", "")).strip())

    app.add_url_rule(ENTER, "enter", enter, methods=["POST"])
    app.add_url_rule("/", "screen", serve_screen)
