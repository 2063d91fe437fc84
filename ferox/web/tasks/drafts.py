"""The interface of drafts: a task made from a trial or a recorded session; not yet written."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from ferox.core.naming import free_name
from ferox.formats.trace import Trace
from ferox.making.drafting import Inference, TaskDraft, draft_task, trace_of_session
from ferox.recordings.recording import Recording, read_recording
from ferox.runs.stored_snapshots import snapshot_of
from ferox.servers.sources.source import output_of_result
from ferox.store.database import read_session
from ferox.store.traces import read_trace
from ferox.store.trials import find_trial
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.shapes import TrialPath
from ferox.web.site import site
from ferox.web.tasks import shapes
from ferox.workspace.load import path_within
from ferox.workspace.write import as_yaml, edit_document, read_text, workspace_file, yaml_text

routes = Routes("drafts")

_KEPT = {
    "given": "where the trial's own task started",
    "offer": "the tools that were left to the agent in the trial",
}
"""What a task made from a trial takes over from the task of the trial, and why."""


@routes.post("/api/trials/<int:trial>/draft")
def from_trial(path: TrialPath, body: shapes.DraftRequest) -> shapes.DraftShape:
    """A trial as a task."""
    with read_session(site.engine) as session:
        record = find_trial(session, path.trial)
        trace = read_trace(session, path.trial)
        if record is None or trace is None:
            raise NotThere(f"there is no finished trial {path.trial}")
        suites = snapshot_of(session, record.run_id).suites
    made = draft_task(trace, body.task)
    task = next((t for t in suites[record.suite].tasks if t.task == record.task), None)
    if task is not None:
        written = task.model_dump(mode="json", by_alias=True, exclude_unset=True)
        for key, why in _KEPT.items():
            if written.get(key):
                made.task = {**made.task, key: written[key]}
                made.reasons.append(Inference(key, why))
    return _add_to_file(site.root, body.file, made, trace=trace, modes=suites[record.suite].servers)


@routes.post("/api/recording/draft")
def from_session(body: shapes.SessionDraftRequest) -> shapes.DraftShape:
    """A recorded session as a task."""
    try:
        recording = read_recording(path_within(site.root, body.recording))
    except ValueError as error:
        raise NotThere(str(error)) from None
    trace = _session_trace(recording, body.session)
    made = draft_task(trace, body.task)
    server = recording.header.server
    return _add_to_file(site.root, body.file, made, trace=trace, modes={server: "recorded"})


def _session_trace(recording: Recording, session: int) -> Trace:
    calls = [
        {
            "tool": e.tool,
            "args": e.args,
            "t": e.t,
            "s": e.s,
            **_came_about(e.result, e.error),
        }
        for e in recording.calls
        if e.session == session
    ]
    if not calls:
        raise NotThere(f"session {session} of this recording has no calls")
    header = recording.header
    return trace_of_session(calls, recording.tools, header.server, header.captured_at)


def _came_about(result: dict[str, Any] | None, error: dict[str, Any] | None) -> dict[str, Any]:
    """What a recorded call brought back: its result or its error."""
    if error is not None:
        return {"error": {"kind": "protocol_error", "message": str(error.get("message"))}}
    given = output_of_result(result or {})
    if given.is_error:
        return {"error": {"kind": "tool_error", "message": given.error or ""}}
    return {"result": given.value}


def _add_to_file(
    root: Path, name: str, made: TaskDraft, trace: Trace, modes: dict[str, str]
) -> shapes.DraftShape:
    """The text of a suite's file with the task added, and the servers that it uses."""
    path = workspace_file(root, name)
    used = {c["tool"].split("/")[0] for c in trace["events"] if c["kind"] == "call"}
    servers = {s: m for s, m in modes.items() if s in used} or modes
    reasons = [shapes.InferenceShape(what=r.what, why=r.why) for r in made.reasons]
    if not path.exists():
        document = {
            "ferox": 1,
            "suite": path.stem,
            "servers": servers,
            "clock": trace["clock"],
            "zone": trace["zone"],
            "tasks": [made.task],
        }
        text, stamp = yaml_text(document), None
    else:
        before, stamp = read_text(root, name)

        def put(document: Any) -> None:
            tasks = document.setdefault("tasks", [])
            wanted, taken = made.task["task"], {str(t.get("task")) for t in tasks}
            stem = re.sub(r"-[0-9]+$", "", wanted)
            made.task["task"] = free_name(wanted, taken, stem)
            tasks.append(as_yaml(made.task))
            listed = document.setdefault("servers", {})
            for server, mode in servers.items():
                if server not in listed:
                    listed[server] = mode

        text = edit_document(before, put)
    return shapes.DraftShape(
        name=name, text=text, stamp=stamp, task=made.task["task"], reasons=reasons
    )
