"""Latency: where the time went, and were the budgets kept? Intervals are microseconds."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from decimal import Decimal

from ferox.core.naming import counted_noun
from ferox.core.scoring.evidence import Evidence, make_check, share_held
from ferox.core.scoring.stages import stage_models
from ferox.core.story import Story, to_micros
from ferox.core.unseen import unseen_text
from ferox.formats.result import Check, LatencyFigures, TokenCounts
from ferox.formats.trace import AskEvent, HoldEvent, ModelEvent, TokenPrice, Trace, Usage

Interval = tuple[int, int]
TOOL_TIMES = frozenset({"calls", "times"})
"""What has to be seen of calls to say how long tools took."""


TIMES = frozenset({"turn_ms", "tool_ms", "first_words_ms"})
"""Budgets of time."""


BUDGETS_NEED = {
    "turn_ms": frozenset({"turns", "reply"}),
    "tool_ms": TOOL_TIMES,
    "model_calls": frozenset[str](),
    "tokens": frozenset({"usage"}),
    "money": frozenset({"usage"}),
    "first_words_ms": frozenset({"turns", "reply"}),
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
    """Each turn, and the shares of model, tools, approvals and the agent itself; of a fork none,
    for its past was played back at once."""
    if story.is_fork:
        return {
            "turn_ms": [None for _ in story.turns],
            "model_ms": None,
            "tool_ms": None,
            "ask_ms": 0.0,
            "agent_ms": None,
        }
    model = _spans_of(story.models, story.end_at)
    tool = [(c.start, story.end_at if c.end is None else c.end) for c in story.calls]
    ask = _spans_of(story.asks, story.end_at)
    turns = [(t.start, story.end_at if t.replied is None else t.replied) for t in story.turns]
    away = [*model, *tool, *ask, *_spans_of(story.holds, story.end_at)]
    return {
        "turn_ms": [
            None if t.replied is None else _as_milliseconds(t.replied - t.start - waited)
            for t, waited in zip(story.turns, _waits_in(story, turns), strict=True)
        ],
        "model_ms": _as_milliseconds(union_length(model)) if story.trace["model_seam"] else None,
        "tool_ms": None if story.unseen & TOOL_TIMES else _as_milliseconds(union_length(tool)),
        "ask_ms": _as_milliseconds(union_length(ask)),
        "agent_ms": None
        if story.unseen & (TOOL_TIMES | {"turns"})
        else _as_milliseconds(union_length(turns) - _overlap_of(turns, away)),
    }


def _waits_in(story: Story, turns: list[Interval]) -> list[int]:
    """How long each turn waited for its models' rate limits, which is not the agent's time. A
    request waits before it goes out."""
    waits = [
        (start, start + to_micros(e["waited_s"]))
        for e in story.models
        if e.get("waited_s")
        for start in [to_micros(e["t"])]
    ]
    return [_overlap_of([turn], waits) if waits else 0 for turn in turns]


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


OF_THE_MODEL = ("model_calls", "tokens", "money")
"""Budgets of what passes the model seam."""


def budget_checks(evidence: Evidence, taken: LatencyFigures) -> tuple[float | None, list[Check]]:
    """`budget.KEY` for each budget set (limits included), and the part kept; of one stage
    `budget.KEY.by.STAGE`."""
    budget = evidence.script.task.budget
    checks = [
        _budget_check(evidence.story, key, limit, taken=taken, stage=None)
        for key, limit in budget.model_dump(exclude_none=True, exclude={"by"}).items()
    ]
    checks += [
        _budget_check(evidence.story, key, limit, taken=taken, stage=stage)
        for stage, limits in budget.by.items()
        for key, limit in limits.model_dump(exclude_none=True).items()
    ]
    return share_held(checks), checks


def _budget_check(
    story: Story, key: str, limit: float, *, taken: LatencyFigures, stage: str | None
) -> Check:
    id = f"budget.{key}" if stage is None else f"budget.{key}.by.{stage}"
    if key in OF_THE_MODEL and not story.trace["model_seam"]:
        message = "the model's traffic was not seen, so this budget is not tested"
        return make_check("latency", id, None, message)
    if story.is_fork and key in TIMES:
        return make_check("latency", id, None, "not tested: its past was played back at once")
    lacking = story.unseen & BUDGETS_NEED[key]
    if lacking:
        message = f"not tested: this trace does not tell {unseen_text(lacking)}"
        return make_check("latency", id, None, message)
    if stage is not None and not stage_models(story, stage):
        return make_check("latency", id, None, f"not tested: {stage} was not seen at the model")
    models = story.models if stage is None else stage_models(story, stage)
    try:
        figure, message = _budget_figure(story, key, models, taken)
    except _NotKnown as unknown:
        return make_check("latency", id, None, f"not tested: {unknown}")
    if stage is not None:
        message = f"{stage}: {message}"
    if figure is None:
        return make_check("latency", id, False, message)
    return make_check("latency", id, figure <= limit, f"{message}; at most {limit:g}")


class _NotKnown(Exception):
    """A figure that nobody can tell; the message says why."""


def _budget_figure(
    story: Story, key: str, models: Sequence[ModelEvent], taken: LatencyFigures
) -> tuple[float | None, str]:
    """A budget's figure and how it is told; None if it is broken without one.

    Raises:
        _NotKnown: nobody can tell it.
    """
    if key == "turn_ms":
        turns = taken["turn_ms"]
        slowest = max((t for t in turns if t is not None), default=0.0)
        if any(t is None for t in turns) or not turns:
            return None, "a turn got no reply"
        return slowest, f"the slowest turn took {slowest:g} ms"
    if key == "first_words_ms":
        waits = [t.heard and _as_milliseconds(t.heard - t.start) for t in story.turns]
        if not all(waits) or not waits:
            return None, "a turn got no words"
        longest = max(wait or 0.0 for wait in waits)
        return longest, f"the first words came after {longest:g} ms at the latest"
    if key == "tool_ms":
        return taken["tool_ms"], f"tools took {taken['tool_ms']:g} ms"
    if key == "model_calls":
        return len(models), counted_noun(
            len(models), "request to the model", "requests to the model"
        )
    if any(e.get("usage") is None and not e.get("error") for e in models):
        return None, "a request to the model reported no usage"
    if key == "money":
        return _money_figure(story.trace, models)
    usages = [usage for event in models if (usage := event.get("usage"))]
    total = sum(usage["input"] + usage.get("output", 0) for usage in usages)
    return total, f"{total} tokens"


def _money_figure(trace: Trace, models: Sequence[ModelEvent]) -> tuple[float, str]:
    """What requests to models cost, by the prices that the trace holds."""
    prices = trace.get("prices") or {}
    exact, currencies = Decimal(0), set()
    for event in models:
        usage, model = event.get("usage"), event.get("model") or "main"
        if usage is None:
            continue
        price = prices.get(model)
        if price is None:
            raise _NotKnown(f"what the model {model} costs is not known")
        if price.get("free"):
            continue
        exact += _cost_of(usage, price)
        currencies.add(price.get("currency", ""))
    if len(currencies) > 1:
        raise _NotKnown(f"it cost sums in {' and '.join(sorted(currencies))}")
    sum_ = float(round(exact, 9))
    return sum_, f"it cost {sum_:g} {currencies.pop()}" if currencies else "it cost nothing"


def _cost_of(usage: Usage, price: TokenPrice) -> Decimal:
    sent, answered = Decimal(usage["input"]), Decimal(usage.get("output", 0))
    cached = Decimal(usage.get("cached", 0))
    dear = Decimal(str(price.get("sent", 0)))
    kept = Decimal(str(price.get("cached", price.get("sent", 0))))
    made = Decimal(str(price.get("answered", 0)))
    return ((sent - cached) * dear + cached * kept + answered * made) / price.get("per", 1_000_000)
