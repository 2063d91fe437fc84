"""Latency: where the time went, and were the budgets kept? Intervals are microseconds."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from ferox.core.naming import counted_noun
from ferox.core.scoring.evidence import Evidence, make_check, share_held
from ferox.core.story import Story, to_micros
from ferox.core.unseen import unseen_text
from ferox.formats.result import Check, LatencyFigures, TokenCounts
from ferox.formats.trace import AskEvent, HoldEvent, ModelEvent

Interval = tuple[int, int]
TOOL_TIMES = frozenset({"calls", "times"})
"""What has to be seen of calls to say how long tools took."""


BUDGETS_NEED = {
    "turn_ms": frozenset({"turns", "reply"}),
    "tool_ms": TOOL_TIMES,
    "model_calls": frozenset[str](),
    "tokens": frozenset({"usage"}),
}
"""What a trace has to tell for a budget to be tested."""


def union_intervals(intervals: Iterable[Interval]) -> list[Interval]:
    """The same time without overlaps, in order."""
    merged: list[Interval] = []
    for start, end in sorted(intervals):
        if merged and start <= merged[-1][1]:
            merged[-1] = (merged[-1][0], max(merged[-1][1], end))
        else:
            merged.append((start, end))
    return merged


def union_length(intervals: Iterable[Interval]) -> int:
    """How long the union of the intervals is."""
    return sum(end - start for start, end in union_intervals(intervals))


def _overlap_of(a: list[Interval], b: list[Interval]) -> int:
    return union_length(a) + union_length(b) - union_length([*a, *b])


def _as_milliseconds(microseconds: int) -> float:
    return round(microseconds / 1000, 3)


def _spans_of(events: Sequence[ModelEvent | AskEvent | HoldEvent], end_at: int) -> list[Interval]:
    return [
        (to_micros(e["t"]), end_at if e.get("s") is None else to_micros(e["t"] + (e["s"] or 0)))
        for e in events
    ]


def latency_figures(story: Story) -> LatencyFigures:
    """Each turn, and the shares of model, tools, approvals and the agent itself."""
    model = _spans_of(story.models, story.end_at)
    tool = [(c.start, story.end_at if c.end is None else c.end) for c in story.calls]
    ask = _spans_of(story.asks, story.end_at)
    turns = [(t.start, story.end_at if t.replied is None else t.replied) for t in story.turns]
    away = [*model, *tool, *ask, *_spans_of(story.holds, story.end_at)]
    return {
        "turn_ms": [
            None if t.replied is None else _as_milliseconds(t.replied - t.start)
            for t in story.turns
        ],
        "model_ms": _as_milliseconds(union_length(model)) if story.trace["model_seam"] else None,
        "tool_ms": None if story.unseen & TOOL_TIMES else _as_milliseconds(union_length(tool)),
        "ask_ms": _as_milliseconds(union_length(ask)),
        "agent_ms": None
        if story.unseen & (TOOL_TIMES | {"turns"})
        else _as_milliseconds(union_length(turns) - _overlap_of(turns, away)),
    }


def token_counts(story: Story) -> TokenCounts | None:
    """Input and output tokens over the trial; None if the model's traffic was not seen, or if an
    answer came without its tokens: what they were is then not known."""
    if not story.trace["model_seam"]:
        return None
    usages = []
    for event in story.models:
        usage = event.get("usage")
        if usage:
            usages.append(usage)
        elif event.get("s") is not None and not event.get("error"):
            return None
    counts: TokenCounts = {
        "input": sum(u["input"] for u in usages),
        "output": sum(u.get("output", 0) for u in usages),
    }
    cached = sum(u.get("cached", 0) for u in usages)
    return {**counts, "cached": cached} if cached else counts


def budget_checks(evidence: Evidence, taken: LatencyFigures) -> tuple[float | None, list[Check]]:
    """`budget.KEY` for each budget set (limits included), and the part kept."""
    story = evidence.story
    checks = []
    for key, limit in evidence.script.task.budget.model_dump(exclude_none=True).items():
        id = f"budget.{key}"
        if key in ("model_calls", "tokens") and not story.trace["model_seam"]:
            message = "the model's traffic was not seen, so this budget is not tested"
            checks.append(make_check("latency", id, None, message))
            continue
        lacking = story.unseen & BUDGETS_NEED[key]
        if lacking:
            message = f"not tested: this trace does not tell {unseen_text(lacking)}"
            checks.append(make_check("latency", id, None, message))
            continue
        figure, message = _budget_figure(evidence, key, taken)
        if figure is None:
            checks.append(make_check("latency", id, False, message))
        else:
            checks.append(
                make_check("latency", id, figure <= limit, f"{message}; at most {limit:g}")
            )
    return share_held(checks), checks


def _budget_figure(evidence: Evidence, key: str, taken: LatencyFigures) -> tuple[float | None, str]:
    """A budget's figure and how it is told; None if it is broken without one."""
    story = evidence.story
    if key == "turn_ms":
        turns = taken["turn_ms"]
        slowest = max((t for t in turns if t is not None), default=0.0)
        if any(t is None for t in turns) or not turns:
            return None, "a turn got no reply"
        return slowest, f"the slowest turn took {slowest:g} ms"
    if key == "tool_ms":
        return taken["tool_ms"], f"tools took {taken['tool_ms']:g} ms"
    if key == "model_calls":
        return len(story.models), counted_noun(
            len(story.models), "request to the model", "requests to the model"
        )
    if any(e.get("usage") is None and not e.get("error") for e in story.models):
        return None, "a request to the model reported no usage"
    spent = token_counts(story)
    total = spent["input"] + spent["output"] if spent else 0
    return total, f"{total} tokens"
