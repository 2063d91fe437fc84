"""The interface of drafts: a task made from a trial or a recorded session; not yet written."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from ferox.core.clock import REAL
from ferox.core.definitions import only_reads
from ferox.core.naming import free_name
from ferox.formats.suite import Suite
from ferox.formats.trace import Trace
from ferox.intake.yaml_text import read_yaml_text
from ferox.making.drafted_user import Inference
from ferox.making.drafting import TaskDraft, draft_task, trace_of_session
from ferox.recordings.recording import Recording, read_recording
from ferox.runs.stored_snapshots import snapshot_of
from ferox.runs.suite_tools import tools_of_suite
from ferox.servers.sources.source import output_of_result
from ferox.store.database import read_session
from ferox.store.traces import read_trace
from ferox.store.trials import find_trial
from ferox.web.responses import NotThere
from ferox.web.routing import Routes
from ferox.web.shapes import TrialPath
from ferox.web.site import site
from ferox.web.tasks import shapes
from ferox.workspace.appending import with_task
from ferox.workspace.load import file_of, load_loosely, path_within
from ferox.workspace.modes import RECORDED
from ferox.workspace.write import read_text, workspace_file, yaml_text

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
    workspace, _ = load_loosely(site.root)
    tools = tools_of_suite(workspace, suites[record.suite], site.engine)
    reads = frozenset(address for address, tool in tools.items() if only_reads(tool))
    made = draft_task(trace, body.task, reads)
    task = next((t for t in suites[record.suite].tasks if t.task == record.task), None)
    if task is not None:
        written = task.model_dump(mode="json", by_alias=True, exclude_unset=True)
        for key, why in _KEPT.items():
            if written.get(key):
                made.task = {**made.task, key: written[key]}
                made.reasons.append(Inference(key, why))
    return add_to_file(site.root, body.file, made, trace=trace, suite=suites[record.suite])


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
    suite = Suite(ferox=1, suite=server, servers={server: RECORDED}, clock=trace["clock"], tasks=[])
    return add_to_file(site.root, body.file, made, trace=trace, suite=suite)


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


def add_to_file(
    root: Path, name: str, made: TaskDraft, trace: Trace, suite: Suite
) -> shapes.DraftShape:
    """The text of a suite's file with the task added, and the servers that it uses. `suite` is
    that of the trial, or stands for it."""
    path = workspace_file(root, name)
    servers = _used_servers(trace, suite.servers)
    if not path.exists():
        document = {
            "ferox": 1,
            "suite": path.stem,
            "servers": servers,
            "clock": REAL if suite.clock == REAL else trace["clock"],
            "zone": trace["zone"],
            "tasks": [made.task],
        }
        text, stamp = yaml_text(document), None
    else:
        before, stamp = read_text(root, name)
        there = read_yaml_text(before).value
        there = there if isinstance(there, dict) else {}
        taken = {str(t.get("task")) for t in there.get("tasks") or () if isinstance(t, dict)}
        wanted = made.task["task"]
        made.task["task"] = free_name(wanted, taken, re.sub(r"-[0-9]+$", "", wanted))
        made.reasons += _changes_of_others(there, servers, suite, trace)
        text = with_task(before, made.task, servers)
    reasons = [shapes.InferenceShape(what=r.what, why=r.why) for r in made.reasons]
    return shapes.DraftShape(
        name=name, text=text, stamp=stamp, task=made.task["task"], reasons=reasons
    )


def _used_servers(trace: Trace, modes: dict[str, str]) -> dict[str, str]:
    """The servers that a trial called or was asked by, with their modes; all, if it used none."""
    used = {c["tool"].split("/")[0] for c in trace["events"] if c["kind"] == "call"}
    used |= {str(q.get("server")) for q in trace["events"] if q["kind"] == "question"}
    return {server: mode for server, mode in modes.items() if server in used} or modes


def _changes_of_others(
    there: dict[str, Any], servers: dict[str, str], suite: Suite, trace: Trace
) -> Iterator[Inference]:
    """What a file's other tasks get by the new one, and where they differ."""
    listed = there.get("servers") or {}
    for server, mode in servers.items():
        if server not in listed:
            yield Inference("servers", f"adds `{server}: {mode}` to the suite, for all its tasks")
        elif listed[server] != mode:
            yield Inference(
                "servers", f"{server} is {listed[server]} in this suite; the trial had it {mode}"
            )
    clock = there.get("clock", Suite.model_fields["clock"].default)
    if clock != suite.clock and clock != trace["clock"]:
        yield Inference(
            "clock", f"it is {clock} in this suite; in the trial it was {trace['clock']}"
        )


@routes.get("/api/trials/<int:trial>/keep")
def where_to_keep(path: TrialPath) -> shapes.KeepShape:
    """The suite that a trial's task belongs into: one that uses its servers, in its modes."""
    with read_session(site.engine) as session:
        record = find_trial(session, path.trial)
        trace = read_trace(session, path.trial)
        if record is None or trace is None:
            raise NotThere(f"there is no finished trial {path.trial}")
        suite = snapshot_of(session, record.run_id).suites[record.suite]
    used = _used_servers(trace, suite.servers)
    workspace, _ = load_loosely(site.root)
    fitting = [s for s in workspace.suites.values() if used.keys() <= s.servers.keys()]

    def nearness(one: Suite) -> tuple[bool, int, int]:
        same = sum(one.servers[server] == mode for server, mode in used.items())
        return one.suite == record.suite, same, -len(one.servers)

    best = max(fitting, key=nearness, default=None)
    file = file_of(workspace, "tasks", "suite", best.suite).name if best else None
    return shapes.KeepShape(file=file, servers=used)
