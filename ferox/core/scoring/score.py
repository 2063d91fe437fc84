"""The whole: six families, checks and a verdict."""

from __future__ import annotations

from typing import Literal

from ferox.core.scoring.arguments import argument_checks
from ferox.core.scoring.choice import choice_checks, choice_score, confusions, why_missing
from ferox.core.scoring.evidence import Evidence
from ferox.core.scoring.failures import failure_checks
from ferox.core.scoring.latency import budget_checks, figures, tokens
from ferox.core.scoring.order import order_checks
from ferox.core.scoring.outcome import outcome_checks
from ferox.core.script import Script
from ferox.core.story import Call, Story, read_story
from ferox.formats.result import FAMILIES, Result
from ferox.formats.trace import Trace

NOT_THE_AGENTS = ("could_not_run", "stopped")
"""Ends for a reason that is not the agent's: the verdict is `error`."""


def _ids(calls: dict[str, list[Call]]) -> dict[str, list[str]]:
    return {name: [c.id for c in found] for name, found in calls.items()}


def _error(script: Script, trace: Trace, story: Story) -> Result:
    return {
        "suite": script.suite,
        "task": script.task.task,
        "agent": trace["agent"],
        "trial": trace["trial"],
        "verdict": "error",
        "reason": story.reason or story.why,
        "scores": dict.fromkeys(FAMILIES),
        "alternative": None,
        "checks": [],
        "matched": {},
        "attempts": {},
        "extra": [],
        "missing": [],
        "confusions": [],
        "latency": figures(story),
        "tokens": tokens(story),
    }


def score(script: Script, trace: Trace) -> Result:
    """Score one trial. Pure: the same script and trace give the same result.

    With `either`, the alternative judged is the first that passes, else the one with
    the larger part of its checks held, else the earlier.
    """
    story = read_story(trace)
    if story.why in NOT_THE_AGENTS:
        return _error(script, trace, story)
    if script.alternatives:
        judged = [_judge(one, trace, story) for one in script.alternatives]
        best = max(range(len(judged)), key=lambda i: (*_merit(judged[i]), -i))
        return {**judged[best], "alternative": best}
    return _judge(script, trace, story)


def _merit(result: Result) -> tuple[bool, float]:
    decided = [c["passed"] for c in result["checks"] if c["passed"] is not None]
    return result["verdict"] == "pass", sum(decided) / len(decided) if decided else 1.0


def _judge(script: Script, trace: Trace, story: Story) -> Result:
    evidence = Evidence(script, story)
    arguments, argument_list = argument_checks(evidence)
    order, order_list = order_checks(evidence)
    failures, failure_list = failure_checks(evidence)
    taken = figures(story)
    latency, latency_list = budget_checks(evidence, taken)
    outcome, outcome_list = outcome_checks(evidence)
    checks = [
        *choice_checks(evidence),
        *argument_list,
        *order_list,
        *failure_list,
        *latency_list,
        *outcome_list,
    ]
    failed = [c for c in checks if c["passed"] is False]
    verdict: Literal["pass", "fail"] = "fail" if failed else "pass"
    return {
        "suite": script.suite,
        "task": script.task.task,
        "agent": trace["agent"],
        "trial": trace["trial"],
        "verdict": verdict,
        "reason": story.reason if story.why != "done" else None,
        "scores": {
            "choice": choice_score(evidence),
            "arguments": arguments,
            "order": order,
            "failures": failures,
            "latency": latency,
            "outcome": outcome,
        },
        "alternative": None,
        "checks": checks,
        "matched": _ids(evidence.matched),
        "attempts": _ids(evidence.attempts),
        "extra": [c.id for c in evidence.extra],
        "missing": [
            {"name": c.expected.name, "why": why_missing(evidence, c)} for c in evidence.missing
        ],
        "confusions": confusions(evidence),
        "latency": taken,
        "tokens": tokens(story),
    }
