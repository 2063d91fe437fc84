"""The Flask application of one workspace."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from flask import Response, request
from flask.json.provider import DefaultJSONProvider

from ferox.intake.json_text import read_json
from ferox.store.database import Engine, check_in_place
from ferox.web.access import COOKIE, ENTER, Access
from ferox.web.agents import conversations, probing
from ferox.web.agents import routes as agents
from ferox.web.beginning import routes as beginning
from ferox.web.comparison import routes as comparison
from ferox.web.errors import add_errors, invalid_request, is_api
from ferox.web.files import routes as files
from ferox.web.finding import routes as finding
from ferox.web.forks import routes as forks
from ferox.web.interface import Interface
from ferox.web.models import routes as models
from ferox.web.plans import routes as plans
from ferox.web.replays import routes as replays
from ferox.web.responses import as_json
from ferox.web.runs import routes as runs
from ferox.web.screens import add_screens
from ferox.web.secrets import routes as secrets
from ferox.web.servers import beside, calls_by_hand, drift_jobs, making, recordings, relays
from ferox.web.servers import routes as servers
from ferox.web.shapes import ErrorMessage
from ferox.web.sharing import bringings, exports, reports
from ferox.web.shrinking import routes as shrinking
from ferox.web.sign_in import enter_page
from ferox.web.site import Site
from ferox.web.tasks import drafts
from ferox.web.tasks import routes as tasks
from ferox.web.trials import routes as trials
from ferox.workspace.vault import open_vault

PLACES = (
    runs, trials, servers, beside, calls_by_hand, making, recordings, drift_jobs, relays, agents,
    probing, conversations, tasks, drafts, files, finding, comparison, plans,
    forks, replays, shrinking, models, secrets, beginning, reports, exports, bringings,
)  # fmt: skip
LARGEST_BODY = 1024 * 1024


def create_app(workspace: Path, engine: Engine, access: Access | None = None) -> Interface:
    """The application of a workspace whose results are in `engine`.

    What it keeps running is in `app.extensions["ferox"]`, a `Site`, whose `loop` is to be closed.
    """
    access = access or Access()
    open_vault(workspace)
    app = Interface(__name__, validation_error_callback=invalid_request, static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_BODY
    app.json = _BoundedJson(app)
    app.extensions["ferox"] = Site(workspace, engine)
    app.before_request(lambda: _guard_request(access, engine))
    app.after_request(_add_headers)
    add_errors(app)
    for place in PLACES:
        app.add_routes(place.routes)
    app.add_url_rule("/api/exports/<number>/file", "export_file", exports.export_file)
    add_screens(app, access)
    return app


class _BoundedJson(DefaultJSONProvider):
    """JSON bodies are read within limits, like everything from outside."""

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        return read_json(s)


def _guard_request(access: Access, engine: Engine) -> Response | None:
    """See who calls, and that what they call for is still there."""
    cookie = request.cookies.get(COOKIE)
    refusal = access.refusal(request.method, request.host, dict(request.headers), cookie)
    if refusal is not None and request.path != ENTER:
        if refusal.status == 401 and request.method == "GET" and not is_api(request.path):
            return enter_page(401)
        return as_json(ErrorMessage(message=refusal.message), refusal.status)
    if request.path == ENTER:
        return None
    # A form of another site can send text or form data, and JSON only with its leave (CORS).
    if request.content_length and request.mimetype != "application/json":
        return as_json(ErrorMessage(message="send application/json"), 415)
    if is_api(request.path):
        check_in_place(engine)
    return None


def _add_headers(response: Response) -> Response:
    response.headers["Content-Security-Policy"] = (
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
        "media-src 'self' data:; form-action 'self'; base-uri 'none'; object-src 'none'; "
        "frame-ancestors 'none'"
    )
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "no-referrer"
    response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
    return response
