"""The Flask application of one workspace."""

from __future__ import annotations

import logging
import time
from pathlib import Path
from secrets import token_hex
from typing import Any

from flask import Response, request, send_from_directory
from flask.json.provider import DefaultJSONProvider
from flask_openapi3.openapi import OpenAPI
from pydantic import ValidationError
from sqlalchemy import Engine, select
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session
from werkzeug.exceptions import HTTPException

from ferox.core.digest import digest
from ferox.intake.json_text import read_json
from ferox.intake.limits import GivenUp
from ferox.recordings.recording import RecordingError
from ferox.runs.overrides import Overrides
from ferox.runs.records import (
    RunError,
    make_ready_again,
    plan_failed,
    plan_run,
    start_worker,
    state_of,
    stop_run,
)
from ferox.runs.run_lock import RunLock
from ferox.runs.trial_by_hand import BY_HAND
from ferox.servers.by_hand.open_servers import Desk
from ferox.store import tables
from ferox.store.database import StoreError, check_in_place, explain
from ferox.store.holding import decide, set_rule
from ferox.store.traces import read_events, read_piece, read_result, read_trace
from ferox.web import shapes
from ferox.web.access import COOKIE, ENTER, READING, Access
from ferox.web.agents.conversations import add_talks
from ferox.web.agents.routes import add_agents
from ferox.web.files.routes import add_files
from ferox.web.interface import Interface
from ferox.web.responses import NotThere, as_json
from ferox.web.runs import reading
from ferox.web.servers.calls_by_hand import add_tries
from ferox.web.servers.recordings import add_recordings
from ferox.web.servers.relays import add_relays
from ferox.web.servers.routes import add_servers
from ferox.web.sign_in import enter_page, entered
from ferox.web.streams import GOING
from ferox.web.tasks.drafts import add_drafts
from ferox.web.tasks.routes import add_suites
from ferox.web.trials import shapes as trial_shapes
from ferox.web.trials.model_requests import model_request_shape
from ferox.web.trials.reading import trial_shape
from ferox.web.trials.shortening import PIECE
from ferox.workspace import WorkspaceError, load_workspace
from ferox.workspace.vault import open_vault
from ferox.workspace.write import WriteError

STATIC = Path(__file__).parent / "static"
LARGEST_BODY = 1024 * 1024

Answer = Any


def _invalid(error: ValidationError) -> Response:
    """What a request's fields should have been; what was given is not said again."""
    faults = error.errors(include_url=False, include_input=False, include_context=False)
    told = "; ".join(f"{'.'.join(map(str, e['loc']))}: {e['msg']}" for e in faults[:20])
    return as_json(shapes.Fault(message=told), 422)


def _guard(access: Access, engine: Engine) -> Response | None:
    """See who calls, and that what they call for is still there."""
    cookie = request.cookies.get(COOKIE)
    refusal = access.refusal(request.method, request.host, dict(request.headers), cookie)
    if refusal is not None and request.path != ENTER:
        if refusal.status == 401 and request.method == "GET" and not _is_api(request.path):
            return enter_page(401)
        return as_json(shapes.Fault(message=refusal.message), refusal.status)
    if request.path == ENTER:
        return None
    if request.content_length and request.mimetype != "application/json":
        return as_json(shapes.Fault(message="send application/json"), 415)
    if _is_api(request.path):
        check_in_place(engine)
    return None


def _secure(response: Response) -> Response:
    response.headers["Content-Security-Policy"] = (
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
        "media-src 'self' data:; form-action 'self'; base-uri 'none'; object-src 'none'; "
        "frame-ancestors 'none'"
    )
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "no-referrer"
    response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
    return response


class _DoorJson(DefaultJSONProvider):
    """JSON bodies are read within limits, like everything from outside."""

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        return read_json(s)


def create_app(workspace: Path, engine: Engine, access: Access | None = None) -> Interface:
    """The application of a workspace whose results are in `engine`."""
    access = access or Access()
    open_vault(workspace)
    app = Interface(__name__, validation_error_callback=_invalid, static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_BODY
    app.json = _DoorJson(app)
    app.before_request(lambda: _guard(access, engine))
    app.after_request(_secure)
    app.register_error_handler(RunError, lambda e: as_json(shapes.Fault(message=str(e)), 409))
    app.register_error_handler(NotThere, lambda e: as_json(shapes.Fault(message=str(e)), 404))
    app.register_error_handler(WorkspaceError, _unloadable)
    app.register_error_handler(WriteError, lambda e: as_json(shapes.Fault(message=str(e)), 409))
    app.register_error_handler(RecordingError, lambda e: as_json(shapes.Fault(message=str(e)), 422))
    app.register_error_handler(GivenUp, lambda e: as_json(shapes.Fault(message=str(e)), 422))
    app.register_error_handler(StoreError, lambda e: as_json(shapes.Fault(message=str(e)), 503))
    app.register_error_handler(DatabaseError, _unreadable)
    app.register_error_handler(OSError, _unwritable)
    app.register_error_handler(OverflowError, _beyond)
    app.register_error_handler(Exception, _failed)
    _workspace_and_runs(app, workspace, engine)
    _board(app, workspace, engine)
    _trials(app, workspace, engine)
    desk = Desk()
    app.extensions["desk"] = desk
    add_servers(app, workspace, engine, desk)
    add_agents(app, workspace, desk)
    add_talks(app, workspace, engine, desk)
    add_tries(app, workspace, engine, desk)
    add_files(app, workspace, engine, desk)
    add_suites(app, workspace, engine)
    add_drafts(app, workspace, engine)
    add_relays(app, workspace, desk)
    add_recordings(app, workspace, desk)
    _screens(app, access)
    return app


def _unloadable(error: WorkspaceError) -> Response:
    told = f"the workspace does not load: {error.problems[0]}"
    more = len(error.problems) - 1
    return as_json(shapes.Fault(message=told + (f" (and {more} more)" if more else "")), 409)


def _unreadable(error: DatabaseError) -> Response:
    logging.getLogger(__name__).exception("the database failed")
    return as_json(shapes.Fault(message=explain(error)), 503)


def _beyond(error: OverflowError) -> Response:
    """A number that nothing stored can have."""
    return as_json(shapes.Fault(message="a number is larger than any there is"), 422)


def _unwritable(error: OSError) -> Response:
    """A file or folder that cannot be used: a full disk, a right that is missing."""
    logging.getLogger(__name__).exception("a file cannot be used")
    what = Path(str(error.filename)).name if error.filename else "a file"
    told = f"{what}: {(error.strerror or str(error)).lower()}"
    return as_json(shapes.Fault(message=f"{told}; nothing was changed"), 503)


def _failed(error: Exception) -> Any:
    """What nobody foresaw: logged whole under a number, which is all that is told."""
    if isinstance(error, HTTPException):
        if error.code == 404 and request.method in READING and not _is_api(request.path):
            return _screen(request.path.lstrip("/"))
        answer = as_json(shapes.Fault(message=error.description or error.name), error.code or 500)
        for name, value in error.get_headers():
            if name == "Allow":
                answer.headers[name] = value
        return answer
    number = token_hex(4)
    logging.getLogger(__name__).exception("fault %s", number)
    told = f"Ferox could not do this (fault {number}); the output of `ferox serve` says why"
    return as_json(shapes.Fault(message=told), 500)


def _run(session: Session, run: int) -> tables.Run:
    record = session.get(tables.Run, run)
    if record is None:
        raise NotThere(f"there is no run {run}")
    return record


def _trial(session: Session, trial: int) -> tables.Trial:
    record = session.get(tables.Trial, trial)
    if record is None:
        raise NotThere(f"there is no trial {trial}")
    return record


def _workspace_and_runs(app: OpenAPI, root: Path, engine: Engine) -> None:
    @app.get("/api/workspace", responses={200: shapes.WorkspaceShape})
    def workspace() -> Answer:
        """The workspace on disk, or what is wrong with it."""
        try:
            return as_json(reading.workspace_shape(load_workspace(root)))
        except WorkspaceError as error:
            problems = [shapes.ProblemShape(**vars(p)) for p in error.problems]
            return as_json(
                shapes.WorkspaceShape(
                    name=root.name, suites=[], agents=[], trials=3, at_once=2, problems=problems
                )
            )

    @app.get("/api/runs", responses={200: shapes.RunList})
    def runs() -> Answer:
        """The newest hundred runs."""
        with Session(engine) as session:
            query = select(tables.Run).where(tables.Run.title != BY_HAND)
            records = session.scalars(query.order_by(tables.Run.id.desc()).limit(100))
            shown = [reading.run_shape(session, root, r) for r in records.all()]
        return as_json(shapes.RunList(runs=shown))

    @app.get("/api/going", responses={200: shapes.RunList})
    def going() -> Answer:
        """The runs that go on, whoever started them, the newest first."""
        with Session(engine) as session:
            query = select(tables.Run).where(
                tables.Run.title != BY_HAND, tables.Run.state.in_(GOING)
            )
            records = session.scalars(query.order_by(tables.Run.id.desc())).all()
            alive = [r for r in records if state_of(root, r) in GOING]
            shown = [reading.run_shape(session, root, r) for r in alive]
        return as_json(shapes.RunList(runs=shown))

    @app.post("/api/runs", responses={201: shapes.RunShape, 409: shapes.Fault})
    def start(body: shapes.RunRequest) -> Answer:
        """Plan a run and start its worker."""
        loaded = load_workspace(root)
        with RunLock(root) as lock:
            run = plan_run(
                engine, loaded, body.suites, body.agents, body.repeats, body.at_once, body.tasks,
                overrides=Overrides.model_validate(body.overrides.model_dump()),
                hold=body.hold.model_dump() if body.hold else None, lock=lock,
            )  # fmt: skip
            start_worker(root, run, lock)
        return _shape_of_run(engine, root, run, 201)

    @app.post("/api/runs/<int:run>/stop", responses={200: shapes.RunShape, 404: shapes.Fault})
    def stop(path: shapes.RunPath) -> Answer:
        """Ask a run's worker to stop."""
        with Session(engine) as session:
            _run(session, path.run)
        stop_run(engine, path.run)
        return _shape_of_run(engine, root, path.run)

    @app.post("/api/runs/<int:run>/again", responses={201: shapes.RunShape, 409: shapes.Fault})
    def again(path: shapes.RunPath) -> Answer:
        """Start a run of only what failed in this one."""
        with Session(engine) as session:
            _run(session, path.run)
        with RunLock(root) as lock:
            anew = plan_failed(engine, load_workspace(root), path.run, lock)
            start_worker(root, anew, lock)
        return _shape_of_run(engine, root, anew, 201)

    @app.post("/api/runs/<int:run>/hold", responses={200: shapes.RunShape, 404: shapes.Fault})
    def hold(path: shapes.RunPath, body: shapes.HoldChange) -> Answer:
        """Say which calls of a run are held from now on."""
        with Session(engine) as session:
            _run(session, path.run)
        set_rule(engine, path.run, body.hold.model_dump() if body.hold else None)
        return _shape_of_run(engine, root, path.run)

    @app.post("/api/held/<int:held>", responses={200: shapes.HeldList, 409: shapes.Fault})
    def let(path: shapes.HeldPath, body: shapes.LetRequest) -> Answer:
        """Let a held call go: as it is, with other arguments, answered, or failed."""
        if not decide(engine, path.held, body.do, body.value):
            raise RunError("this call does not wait any more")
        with Session(engine) as session:
            run = session.get_one(tables.Held, path.held).run_id
            return as_json(shapes.HeldList(held=reading.held_shapes(session, run)))

    @app.post("/api/runs/<int:run>/resume", responses={200: shapes.RunShape, 409: shapes.Fault})
    def resume(path: shapes.RunPath) -> Answer:
        """Do what a stopped or interrupted run has not done."""
        with RunLock(root) as lock:
            make_ready_again(engine, root, path.run, lock)
            start_worker(root, path.run, lock)
        return _shape_of_run(engine, root, path.run)


def _shape_of_run(engine: Engine, root: Path, run: int, status: int = 200) -> Response:
    with Session(engine) as session:
        return as_json(reading.run_shape(session, root, _run(session, run)), status)


def _board(app: OpenAPI, root: Path, engine: Engine) -> None:
    @app.get("/api/runs/<int:run>/board", responses={200: shapes.BoardShape, 404: shapes.Fault})
    def board(path: shapes.RunPath, query: shapes.BaseQuery) -> Answer:
        """Tasks against agents, and what changed since each cell's last comparable run."""
        with Session(engine) as session:
            if query.base is not None:
                _run(session, query.base)
            run = _run(session, path.run)
            return as_json(reading.board_shape(session, root, run, query.base))

    @app.get("/api/runs/<int:run>/trials", responses={200: shapes.TrialList})
    def trials(path: shapes.RunPath, query: shapes.CellQuery) -> Answer:
        """The trials of one cell."""
        with Session(engine) as session:
            rows = session.execute(
                select(tables.Trial, tables.Mark)
                .outerjoin(tables.Mark, tables.Mark.trial_id == tables.Trial.id)
                .filter_by(run_id=path.run, suite=query.suite, task=query.task, agent=query.agent)
                .order_by(tables.Trial.number)
            )
            return as_json(shapes.TrialList(trials=[reading.trial_line(t, m) for t, m in rows]))


def _trials(app: OpenAPI, root: Path, engine: Engine) -> None:
    @app.get("/api/trials/<int:trial>", responses={200: trial_shapes.TrialShape, 404: shapes.Fault})
    def trial(path: shapes.TrialPath, query: trial_shapes.ResultQuery) -> Answer:
        """Everything about one trial; while it runs, what happened so far."""
        with Session(engine) as session:
            record = _trial(session, path.trial)
            return as_json(trial_shape(session, root, record, query.result))

    @app.put(
        "/api/trials/<int:trial>/mark", responses={200: trial_shapes.MarkShape, 404: shapes.Fault}
    )
    def mark(path: shapes.TrialPath, body: trial_shapes.MarkRequest) -> Answer:
        """Keep a person's mark and note; the checks stay as they are."""
        with Session(engine) as session, session.begin():
            _trial(session, path.trial)
            told = {"mark": body.mark, "note": body.note.strip(), "at": time.time()}
            kept = session.merge(tables.Mark(trial_id=path.trial, **told))
            return as_json(trial_shapes.MarkShape.model_validate(kept))

    @app.get(
        "/api/trials/<int:trial>/wire/<call>",
        responses={200: trial_shapes.WireShape, 404: shapes.Fault},
    )
    def wire(path: trial_shapes.WirePath) -> Answer:
        """The raw messages of a call at the tool seam."""
        with Session(engine) as session:
            _trial(session, path.trial)
            kept = session.get(tables.Wire, (path.trial, path.call))
        if kept is None:
            told = "no raw messages are kept: the call did not pass Ferox's tool seam"
            raise NotThere(f"{told}, or it was made before they were")
        return as_json(trial_shapes.WireShape(request=kept.request, answer=kept.answer))

    @app.get(
        "/api/trials/<int:trial>/events/<int:place>",
        responses={200: trial_shapes.PieceShape, 404: shapes.Fault},
    )
    def piece(path: trial_shapes.EventPath, query: trial_shapes.PieceQuery) -> Answer:
        """A piece of an event that is too long to be sent whole."""
        with Session(engine) as session:
            found = read_piece(session, path.trial, path.place, query.field, query.start, PIECE)
        if found is None:
            raise NotThere("there is no such event, or it has no such field")
        told = trial_shapes.PieceShape(text=found.text, start=query.start, total=found.total)
        return as_json(told)

    @app.get(
        "/api/trials/<int:trial>/models/<event>",
        responses={200: trial_shapes.ModelRequestShape, 404: shapes.Fault},
    )
    def model_request(path: trial_shapes.RequestPath) -> Answer:
        """What a model was shown in one request."""
        with Session(engine) as session:
            record = _trial(session, path.trial)
            trace: Any = read_trace(session, path.trial) or {
                "events": read_events(session, path.trial), "tools": {}
            }  # fmt: skip
            task = reading.snapshot_of(session, record.run_id).task(record.suite, record.task)
            told = model_request_shape(session, path.trial, trace, task, path.event)
            return as_json(told)

    @app.get("/api/trials/<int:trial>/digest", responses={200: shapes.DigestShape})
    def trial_digest(path: shapes.TrialPath) -> Answer:
        """A finished trial in plain text."""
        with Session(engine) as session:
            _trial(session, path.trial)
            trace, result = read_trace(session, path.trial), read_result(session, path.trial)
        if trace is None or result is None:
            raise NotThere(f"trial {path.trial} is not finished yet")
        return as_json(shapes.DigestShape(text=digest(trace, result)))


def _is_api(path: str) -> bool:
    return path == "/api" or path.startswith("/api/")


_files = frozenset(str(path.relative_to(STATIC)) for path in STATIC.rglob("*") if path.is_file())
"""The built front end. What is no file of it is an address of its one page."""


def _screen(path: str = "") -> Response:
    """A file of the front end, or its page."""
    if path in _files:
        return send_from_directory(STATIC, path, max_age=3600 if "assets/" in path else 0)
    if path.startswith("assets/"):
        return as_json(shapes.Fault(message="no such address"), 404)
    if "index.html" not in _files:
        told = "The screens are not built yet: run script/setup, then start again.\n"
        return Response(told, 503, mimetype="text/plain")
    return send_from_directory(STATIC, "index.html", max_age=0)


def _screens(app: OpenAPI, access: Access) -> None:
    def enter() -> Response:
        """Take a token, and give the cookie that stands for it."""
        return entered(access, str(request.form.get("token", "")).strip())

    app.add_url_rule(ENTER, "enter", enter, methods=["POST"])
    app.add_url_rule("/", "screen", _screen)
