"""Everything about one trial, from the store to the shape of the interface."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import Any

from ferox.core.clock import Clock
from ferox.core.fault_words import describe_injection
from ferox.core.remarks import trial_remarks
from ferox.core.script import Script, compile_script, named_steps
from ferox.core.story import read_story, to_micros
from ferox.core.support import Sources, judge_reply, sources_of
from ferox.formats.suite import Suite, Task
from ferox.formats.trace import Event, Trace
from ferox.intake.limits import GivenUp
from ferox.runs.snapshot import Snapshot, script_hash
from ferox.runs.stored_snapshots import snapshot_of, snapshot_of_trial
from ferox.store.database import Session
from ferox.store.results import KeptResult, find_script, results_of, verdict_of
from ferox.store.runs import get_run
from ferox.store.tables import Trial
from ferox.store.traces import read_events, read_trace
from ferox.store.trials import find_mark, neighbouring_trials
from ferox.web.runs.from_store import agent_shape, run_shape, trial_line
from ferox.web.shapes import TrialRemark
from ferox.web.trials import shapes
from ferox.web.trials.setup import setup_shape
from ferox.web.trials.shortened import MOST_ITEMS, room_for_each, shorten_value


def trial_shape(
    session: Session, root: Path, trial: Trial, shown: int | None = None
) -> shapes.TrialShape:
    """One trial under its newest result, or under an earlier one by its number."""
    snapshot = snapshot_of_trial(session, trial)
    kept = results_of(session, trial.id)
    row = next((r for r in kept if shown in (None, r.id)), None)
    result: Any = row.result if row else None
    suite, task = _script_of(session, snapshot, trial, row.script if row else None)
    script = compile_script(suite, task)
    ways = [len(part.alternatives) for part in script.parts]
    script = _under_alternatives(script, (result or {}).get("alternatives"))
    part: Any = {"events": read_events(session, trial.id)}
    trace: Trace = read_trace(session, trial.id) or part
    shown_trace, long = _fit_to_screen(trace)
    own = snapshot.find_task(trial.suite, trial.task)
    mark = find_mark(session, trial.id)
    line = trial_line(trial, mark)
    if result:
        line.verdict, line.reason = verdict_of(result), result["reason"]
    return shapes.TrialShape(
        trial=line,
        title=task.title,
        agent=agent_shape(trial.agent, snapshot.agents[trial.agent], snapshot.models),
        run=run_shape(session, root, get_run(session, trial.run_id)),
        trace=shown_trace,
        result=result,
        expected=_expected_shapes(script),
        order=[
            named_steps(chain)
            for expect in (*(part.expect for part in script.parts), script.whole)
            for chain in expect.order
        ],
        near=neighbouring_trials(session, trial),
        remarks=[TrialRemark(kind=r.kind, text=r.text) for r in trial_remarks(trace)]
        if result
        else [],
        says=[part.say for part in task.parts] if task.parts else [str(task.say)],
        ways=ways,
        rules=[
            [shapes.RuleShape(matches=r.if_reply.matches, grants=r.grants) for r in part.user]
            for part in script.parts
        ],
        values=_values_by_place(trace) if result else {},
        long=long,
        planted=_planted_texts(trace, task),
        injected=injected_at(trace["events"], own),
        setup=setup_shape(session, trial, trace, own),
        mentions=_mention_shapes(script),
        results=_result_lines(kept),
        shown=row.id if row else None,
        script=_script_shape(snapshot, trial, suite, task),
        mark=shapes.MarkShape.model_validate(mark) if mark else None,
    )


HEAD_ROOM = 300_000
"""Characters of what a trace holds besides its events: tools, state, truth."""


def _fit_to_screen(trace: Trace) -> tuple[Any, list[int]]:
    """A trace as much of it as a screen takes, and the places of the events that were cut."""
    room = room_for_each(len(trace["events"]))
    events = [shorten_value(event, room) for event in trace["events"]]
    head = {key: value for key, value in trace.items() if key != "events"}
    fitted = {key: shorten_value(value, HEAD_ROOM)[0] for key, value in head.items()}
    if len(trace.get("tools") or ()) > MOST_ITEMS:  # those that were called are needed
        called = {e.get("tool") for e in trace["events"]}
        fitted["tools"] |= {a: t for a, t in trace["tools"].items() if a in called}
    fitted["events"] = [event for event, _ in events]
    return fitted, [place for place, (_, short) in enumerate(events) if short]


def _script_of(
    session: Session, snapshot: Snapshot, trial: Trial, hashed: str | None
) -> tuple[Suite, Task]:
    """The script of a result: the run's own, or one that it was scored under again."""
    suite = snapshot.suites[trial.suite]
    again = find_script(session, hashed) if hashed else None
    if again is None:
        return suite, snapshot.find_task(trial.suite, trial.task)
    task = Task.model_validate(again["task"])
    now = {"clock": again["clock"], "zone": again["zone"], "tasks": [task]}
    arm = snapshot_of(session, trial.run_id).arms.get(trial.agent)
    suite = suite.model_copy(update=now)
    if arm is not None:
        suite = arm.change_suite(suite)
    return suite, suite.tasks[0]


def _under_alternatives(script: Script, alternatives: list[int | None] | None) -> Script:
    """The script with the alternatives that were judged; without a result, the first."""
    taken = alternatives or [None] * len(script.parts)
    return script.with_alternatives(
        [
            (n or 0) if part.alternatives else None
            for n, part in zip(taken, script.parts, strict=True)
        ]
    )


def _expected_shapes(script: Script) -> list[shapes.ExpectedShape]:
    return [
        shapes.ExpectedShape(
            name=e.name,
            tool=e.tool,
            args=e.spec.args,
            descriptions={name: matcher.description for name, matcher in e.args.items()},
            least=e.least,
            most=e.most,
            after_grant=e.spec.after_grant,
            part=n,
            optional=e.is_optional,
        )
        for n, part in enumerate(script.parts)
        for e in part.expected
    ]


def _mention_shapes(script: Script) -> list[shapes.MentionShape]:
    """What answers have to mention of calls and truths; answers are numbered over the parts."""
    sources = [demand.source for part in script.parts for demand in part.answers]
    return [
        shapes.MentionShape(source=source.name, path=source.path or "$", check=f"answer.{n}")
        for n, source in enumerate(sources)
        if source is not None
    ]


def _values_by_place(trace: Trace) -> dict[int, list[shapes.ValueShape]]:
    """The values of every reply, with their sources."""
    story = read_story(trace)
    clock = Clock(trace["clock"], trace["zone"])
    by_place = {}
    for place, event in enumerate(trace["events"]):
        text = event.get("text") if event["kind"] == "reply" else None
        if not text:
            continue
        sources = sources_of(story, to_micros(event["t"]), clock)
        with suppress(GivenUp):  # what is too long is shown without marks
            by_place[place] = _value_shapes(text, sources)
    return by_place


def _value_shapes(reply: str, sources: Sources) -> list[shapes.ValueShape]:
    return [
        shapes.ValueShape(
            text=v.text,
            start=v.start,
            kind=v.kind,
            origin=v.origin,
            sources=list(dict.fromkeys(sources.place_name(i) for i in v.sources)),
            how=v.how,
            chance=v.chance,
        )
        for v in judge_reply(reply, sources).values
    ]


def _planted_texts(trace: Trace, task: Task) -> dict[str, str]:
    """The texts that were planted in results, by call."""
    planted = {}
    for event in trace["events"]:
        if event["kind"] == "call" and event.get("fault") == "planted_text":
            place = event.get("fault_n")
            known = place is not None and place < len(task.faults)
            fault = task.faults[place or 0] if known else None
            planted[event["id"]] = (fault.text if fault else None) or ""
    return planted


def injected_at(events: list[Event], task: Task) -> dict[str, str]:
    """What was injected at calls and requests; `task` is the run's own."""
    found = {}
    for event in events:
        if event["kind"] in ("call", "model") and event.get("fault"):
            found[event["id"]] = describe_injection(
                event["fault"], event.get("fault_n"), task.faults
            )
    return {id: text for id, text in found.items() if text}


def _result_lines(kept: list[KeptResult]) -> list[shapes.ResultLine]:
    first = min((r.id for r in kept), default=0)
    return [
        shapes.ResultLine(
            id=r.id,
            script=r.script,
            at=r.scored_at,
            verdict=verdict_of(r.result),
            first=r.id == first,
        )
        for r in kept
    ]


def _script_shape(snapshot: Snapshot, trial: Trial, suite: Suite, task: Task) -> shapes.ScriptShape:
    own = snapshot.find_task(trial.suite, trial.task)
    first = script_hash(snapshot.suites[trial.suite], own)
    hashed = script_hash(suite, task)
    return shapes.ScriptShape(
        hash=hashed, task=_as_written(task), before=None if hashed == first else _as_written(own)
    )


def _as_written(task: Task) -> dict[str, Any]:
    body: dict[str, Any] = task.model_dump(mode="json", by_alias=True, exclude_unset=True)
    return body
