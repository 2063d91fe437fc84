"""What a trial itself would not pass of a task drafted from it: taken out, made up for, or said."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.core.story import read_story
from ferox.formats.result import Check
from ferox.formats.suite import Suite
from ferox.formats.trace import Trace
from ferox.making.drafted_user import Inference, plain_pattern

_TELLS = re.compile(
    r"(?i)\b(could not|couldn't|cannot|can't|unable|did not work|failed|error|not available"
    r"|unavailable|sorry)\b"
)
"""Words of a reply that tells the user of a failure."""


def leave_out_what_fails(task: dict[str, Any], trace: Trace) -> Iterator[Inference]:
    """Change a drafted task so that its trial passes it, and say how; what cannot be changed is
    said too."""
    for failed in reversed(_failing_checks(task, trace)):  # the last first, so that places stay
        if _take_out(task, failed):
            why = f"the trial itself would not pass it: {failed['message']}"
            yield Inference(failed["id"], why)
    for failed in _failing_checks(task, trace):
        if failed["family"] == "failures":
            yield from _make_up_for(task, trace, failed)
    for failed in _failing_checks(task, trace):
        why = f"the trial fails on it, and so would the task: {failed['message']}"
        yield Inference(failed["id"], why)


def _take_out(task: dict[str, Any], failed: Check) -> bool:
    """Take out what a check tests, if the draft wrote it."""
    expect = _expect_of(task, failed)
    kind, _, rest = failed["id"].partition(".")
    if kind == "answer":
        del expect["answer"][int(rest) - _answers_before(task, failed)]
        return True
    if kind == "order" and rest.startswith("grant:"):
        name = rest.rpartition(".")[2]
        return any(_drop(call, "after_grant") for call in _calls_of(task) if call["as"] == name)
    if kind == "order" and rest.startswith("approval."):
        tools = {c["tool"] for c in _calls_of(task) if c["as"] == rest.rpartition(".")[2]}
        kept = [a for a in task.get("approvals", ()) if a["tool"] not in tools]
        task["approvals"] = kept
        return True
    if kind == "order":
        return _drop(expect, "order")
    for call in _calls_of(task):
        if call["as"] != kind:
            continue
        if rest.startswith("args."):
            return _drop(call.get("args") or {}, rest.removeprefix("args."))
        if rest == "as_approved":
            return _drop(call, "as_approved")
    return False


def _drop(holder: dict[str, Any], key: str) -> bool:
    return holder.pop(key, None) is not None


def _make_up_for(task: dict[str, Any], trace: Trace, failed: Check) -> Iterator[Inference]:
    """Say how the trial went on after a failure, where it did."""
    story, id = read_story(trace), failed["id"].partition(".")[2]
    calls = {call.id: call for call in story.calls}
    expect: dict[str, Any] = task.setdefault("expect", {})
    if id.startswith("loop."):
        tool = calls[id.removeprefix("loop.")].tool
        if tool not in expect.setdefault("may_poll", []):
            expect["may_poll"].append(tool)
            yield Inference("may_poll", f"{tool} was asked again and again in the trial")
        return
    if id not in calls:
        return
    telling = next((m for t in story.turns if t.reply and (m := _TELLS.search(t.reply))), None)
    if telling is not None:
        expect.setdefault("failures", {})["tells_user"] = f"(?i){plain_pattern(telling[1].lower())}"
        yield Inference("failures", f"a call failed, and the user was told: “{telling[1]}”")
        return
    later = [c for c in story.calls if c.start > calls[id].start and not c.failed]
    if later:
        recovers = expect.setdefault("failures", {}).setdefault("recovers", {"by": []})
        if later[0].tool not in recovers["by"]:
            recovers["by"].append(later[0].tool)
            why = f"after {calls[id].tool} failed, {later[0].tool} was called"
            yield Inference("failures", why)


def _failing_checks(task: dict[str, Any], trace: Trace) -> list[Check]:
    suite = Suite.model_validate(
        {"ferox": 1, "suite": "draft", "zone": trace["zone"], "tasks": [task]}
    )
    result = score_trial(compile_script(suite, suite.tasks[0]), trace)
    return [check for check in result["checks"] if check["passed"] is False]


def _calls_of(task: dict[str, Any]) -> Iterator[dict[str, Any]]:
    for holder in task.get("parts") or [task]:
        yield from holder["expect"].get("calls", ())


def _answers_before(task: dict[str, Any], check: Check) -> int:
    earlier = (task.get("parts") or [])[: check.get("part", 0)]
    return sum(len(part["expect"].get("answer", ())) for part in earlier)


def _expect_of(task: dict[str, Any], check: Check) -> dict[str, Any]:
    parts = task.get("parts")
    holder = parts[check.get("part", 0)] if parts else task
    expect: dict[str, Any] = holder["expect"]
    return expect
