"""One trial: everything about it, in pieces where it is long."""

from __future__ import annotations

from typing import Any

from ferox.core.digest import summarize_trial
from ferox.intake.collector import collector_at_rest
from ferox.runs.stored_snapshots import snapshot_of_trial
from ferox.store.database import Session, read_session, write_session
from ferox.store.results import read_result
from ferox.store.tables import Trial
from ferox.store.traces import read_events, read_piece, read_trace, read_wire
from ferox.store.trials import find_trial, keep_mark
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.shapes import TrialPath
from ferox.web.site import site
from ferox.web.trials import shapes
from ferox.web.trials.from_store import trial_shape
from ferox.web.trials.model_requests import model_request_shape
from ferox.web.trials.shortened import PIECE

routes = Routes("trials")


def the_trial(session: Session, trial: int) -> Trial:
    """A trial by its number.

    Raises:
        NotThere: there is none.
    """
    record = find_trial(session, trial)
    if record is None:
        raise NotThere(f"there is no trial {trial}")
    return record


@routes.get("/api/trials/<int:trial>")
def read_one_trial(path: TrialPath, query: shapes.ResultQuery) -> shapes.TrialShape:
    """Everything about one trial; while it runs, what happened so far."""
    with collector_at_rest(), read_session(site.engine) as session:
        record = the_trial(session, path.trial)
        return trial_shape(session, site.root, record, query.result)


@routes.put("/api/trials/<int:trial>/mark")
def mark_trial(path: TrialPath, body: shapes.MarkRequest) -> shapes.MarkShape:
    """Keep a person's mark and note; the checks stay as they are."""
    with write_session(site.engine) as session:
        the_trial(session, path.trial)
        kept = keep_mark(session, path.trial, body.mark, body.note.strip())
        return shapes.MarkShape.model_validate(kept)


@routes.get("/api/trials/<int:trial>/wire/<call>")
def raw_messages(path: shapes.WirePath) -> shapes.WireShape:
    """The raw messages of a call at the tool seam."""
    with read_session(site.engine) as session:
        the_trial(session, path.trial)
        kept = read_wire(session, path.trial, path.call)
    if kept is None:
        why = (
            "the call did not pass Ferox's tool seam, or they were not kept (`keep` in ferox.yaml)"
        )
        raise NotThere(f"there are no raw messages: {why}")
    return shapes.WireShape(request=kept.request, answer=kept.answer)


@routes.get("/api/trials/<int:trial>/events/<int:place>")
def event_piece(path: shapes.EventPath, query: shapes.PieceQuery) -> shapes.PieceShape:
    """A piece of an event that is too long to be sent whole."""
    with read_session(site.engine) as session:
        found = read_piece(
            session, path.trial, path.place, field=query.field, start=query.start, size=PIECE
        )
    if found is None:
        raise NotThere("there is no such event, or it has no such field")
    return shapes.PieceShape(text=found.text, start=query.start, total=found.total)


@routes.get("/api/trials/<int:trial>/models/<event>")
def what_model_was_shown(path: shapes.RequestPath) -> shapes.ModelRequestShape:
    """What a model was shown in one request."""
    with read_session(site.engine) as session:
        record = the_trial(session, path.trial)
        trace: Any = read_trace(session, path.trial) or {
            "events": read_events(session, path.trial), "tools": {}
        }  # fmt: skip
        task = snapshot_of_trial(session, record).find_task(record.suite, record.task)
        return model_request_shape(session, path.trial, trace, task=task, event_id=path.event)


@routes.get("/api/trials/<int:trial>/digest")
def trial_digest(path: TrialPath) -> shapes.DigestShape:
    """A finished trial in plain text."""
    with read_session(site.engine) as session:
        the_trial(session, path.trial)
        trace, result = read_trace(session, path.trial), read_result(session, path.trial)
    if trace is None or result is None:
        raise NotThere(f"trial {path.trial} is not finished yet")
    return shapes.DigestShape(text=summarize_trial(trace, result))
