"""The whole: six families, checks and a verdict."""

from __future__ import annotations

from collections.abc import Callable

from ferox.core.scoring.arguments import arguments_score, part_arguments
from ferox.core.scoring.choice import (
    choice_score,
    part_choice,
    tool_confusions,
    whole_choice,
)
from ferox.core.scoring.choices import expected_choices
from ferox.core.scoring.evidence import Evidence, PartEvidence, share_held
from ferox.core.scoring.failures import failure_checks
from ferox.core.scoring.first_fault import went_wrong
from ferox.core.scoring.latency import budget_checks, latency_figures, token_counts
from ferox.core.scoring.missing import why_missing
from ferox.core.scoring.order import part_order, whole_order
from ferox.core.scoring.outcome import part_outcome, states_checked
from ferox.core.script import Script
from ferox.core.story import Call, Story, read_story
from ferox.formats.result import FAMILIES, Check, Family, Result
from ferox.formats.trace import Trace

NOT_THE_AGENTS = ("could_not_run", "stopped")
"""Ends for a reason that is not the agent's: the verdict is `error`."""


def _ids_of(calls: dict[str, list[Call]]) -> dict[str, list[str]]:
    return {name: [c.id for c in found] for name, found in calls.items()}


def _error_result(script: Script, trace: Trace, story: Story) -> Result:
    return {
        "suite": script.suite,
        "task": script.task.task,
        "agent": trace["agent"],
        "trial": trace["trial"],
        "verdict": "error",
        "judged": False,
        "went_wrong": None,
        "reason": story.reason or story.why,
        "scores": dict.fromkeys(FAMILIES),
        "alternatives": [None for _ in script.parts],
        "checks": [],
        "matched": {},
        "attempts": {},
        "extra": [],
        "missing": [],
        "confusions": [],
        "choices": {},
        "latency": latency_figures(story),
        "tokens": token_counts(story),
    }


def score_trial(script: Script, trace: Trace) -> Result:
    """Score one trial. Pure: the same script and trace give the same result.

    With `either`, the alternative judged is the first that passes, else the one with
    the larger part of its checks held, else the earlier; each part by itself.
    """
    story = read_story(trace)
    if story.why in NOT_THE_AGENTS:
        return _error_result(script, trace, story)
    taken: list[int | None] = [0 if part.alternatives else None for part in script.parts]
    for n, part in enumerate(script.parts):
        tried = [[*taken[:n], i, *taken[n + 1 :]] for i in range(len(part.alternatives))]
        if tried:
            merits = [
                _Judgement(Evidence(script.with_alternatives(one), story)).merit(n) for one in tried
            ]
            taken = tried[max(range(len(tried)), key=lambda i: (*merits[i], -i))]
    judged = _Judgement(Evidence(script.with_alternatives(taken), story))
    return judged.result(trace, taken)


class _Judgement:
    """The checks of a trial, and of which part each is (None: of the whole)."""

    def __init__(self, evidence: Evidence) -> None:
        self.evidence = evidence
        self.figures = latency_figures(evidence.story)
        self.checks: list[Check] = []
        self._several = evidence.script.task.parts is not None
        choice = self._by_part(lambda part: part_choice(part)) + whole_choice(evidence)
        shares: list[float] = []
        argument_list = self._by_part(lambda part: self._argument_checks(part, shares))
        order = self._by_part(lambda part: part_order(evidence, part))
        made = {c["id"] for c in order}
        order += [c for c in whole_order(evidence) if c["id"] not in made]
        failures, failure_list = failure_checks(evidence)
        latency, latency_list = budget_checks(evidence, self.figures)
        outcome = self._outcome_checks()
        self.checks = [*choice, *argument_list, *order, *failure_list, *latency_list, *outcome]
        self.scores: dict[Family, float | None] = {
            "choice": choice_score(evidence),
            "arguments": arguments_score(shares),
            "order": share_held(order),
            "failures": failures,
            "latency": latency,
            "outcome": share_held(outcome),
        }

    def _by_part(self, of: Callable[[PartEvidence], list[Check]]) -> list[Check]:
        made: list[Check] = []
        for part in self.evidence.parts:
            for one in of(part):
                if self._several:
                    one["part"] = part.number
                made.append(one)
        return made

    def _argument_checks(self, part: PartEvidence, shares: list[float]) -> list[Check]:
        held, checks = part_arguments(self.evidence, part)
        shares += held
        return checks

    def _outcome_checks(self) -> list[Check]:
        answers = states = 0
        starts = {}
        for part in self.evidence.parts:
            starts[part.number] = (answers, states)
            answers += len(part.script.answers)
            states += len(part.script.state)
        script = self.evidence.script
        return [
            *self._by_part(lambda part: part_outcome(part, *starts[part.number])),
            *states_checked(self.evidence, script.whole.state, script.whole_state, states),
        ]

    def merit(self, number: int) -> tuple[bool, float]:
        """Whether a part passes, and how much of its checks holds. A failure is of the part
        in which its call stands; of a task's only part is everything."""
        calls = {c.id for c in self.evidence.parts[number].calls}
        decided = [
            c["passed"]
            for c in self.checks
            if c["passed"] is not None
            and (
                not self._several
                or c.get("part") == number
                or (c["family"] == "failures" and bool(calls & set(c["calls"][:1])))
            )
        ]
        return all(decided), sum(decided) / len(decided) if decided else 1.0

    def result(self, trace: Trace, alternatives: list[int | None]) -> Result:
        """The result under the alternatives taken."""
        evidence, story = self.evidence, self.evidence.story
        parts = evidence.parts
        attempts: dict[str, list[Call]] = {}
        for part in parts:
            attempts |= part.failed_attempts
        failed = any(c["passed"] is False for c in self.checks)
        return {
            "suite": evidence.script.suite,
            "task": evidence.script.task.task,
            "agent": trace["agent"],
            "trial": trace["trial"],
            "verdict": "fail" if failed else "pass",
            "judged": any(c["passed"] is not None for c in self.checks),
            "went_wrong": went_wrong(evidence, self.checks) if failed else None,
            "reason": story.reason if story.why != "done" else None,
            "scores": self.scores,
            "alternatives": alternatives,
            "checks": self.checks,
            "matched": _ids_of(evidence.matched),
            "attempts": _ids_of(attempts),
            "extra": [c.id for part in parts for c in part.extra_calls],
            "missing": [
                {"name": c.expected.name, "why": why_missing(part, c).kind}
                for part in parts
                for c in part.missing_copies
            ],
            "confusions": [confusion for part in parts for confusion in tool_confusions(part)],
            "choices": expected_choices(parts),
            "latency": self.figures,
            "tokens": token_counts(story),
        }
