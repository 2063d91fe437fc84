"""What a comparison says, in words a hurried person reads once."""

from __future__ import annotations

from ferox.core.comparison.intervals import FEW_TASKS, NoInterval
from ferox.core.comparison.verdict import MOST_REPEATS, Verdict
from ferox.formats.comparison import IntervalReport, MetricReport

HIGHER_AND_LOWER: dict[str, tuple[str, str]] = {
    "pass": ("passes more often", "passes less often"),
    "choice": ("chooses tools better", "chooses tools worse"),
    "arguments": ("gives better arguments", "gives worse arguments"),
    "order": ("keeps the order better", "keeps the order worse"),
    "failures": ("handles failures better", "handles failures worse"),
    "latency": ("keeps its budgets better", "keeps its budgets worse"),
    "outcome": ("reaches better outcomes", "reaches worse outcomes"),
    "calls": ("makes more calls", "makes fewer calls"),
    "model_calls": ("asks its model more often", "asks its model less often"),
    "tokens": ("takes more tokens", "takes fewer tokens"),
    "money": ("costs more", "costs less"),
    "turn_ms": ("takes longer turns", "takes shorter turns"),
    "tool_ms": ("waits longer for tools", "waits less for tools"),
    "agent_ms": ("takes longer itself", "takes less time itself"),
    "first_words_ms": ("speaks later", "speaks sooner"),
}
"""What B does where its values are higher, and where they are lower."""
COUNTED = ("calls", "model_calls", "tokens", "money")


def verdict_text(metric: str, verdict: Verdict | NoInterval, margin: float) -> str:
    """What B does, measured by a metric; `margin` as it was given for rates."""
    if isinstance(verdict, NoInterval):
        return f"cannot be told: {verdict.why}"
    if verdict.is_decided:
        return f"{'B ' if verdict.differs else ''}{decided_text(metric, verdict, margin)}"
    hides = f"a difference of up to {_amount(metric, verdict.may_hide or 0.0)} may hide"
    more = (
        f"about {verdict.repeats} more {'repeat' if verdict.repeats == 1 else 'repeats'} would tell"
        if verdict.repeats is not None
        else f"more than {MOST_REPEATS} more repeats would be needed to tell"
    )
    return f"cannot be told apart: {hides}; {more}"


def decided_text(metric: str, verdict: Verdict, margin: float) -> str:
    """What a side does against the other where that is decided: *passes more often*."""
    said = []
    if verdict.differs:
        said.append(HIGHER_AND_LOWER[metric][verdict.differs == "lower"])
    if verdict.same:
        same = "the same" if metric in COUNTED else f"the same within {_amount(metric, margin)}"
        said.append(same)
    return ", yet ".join(said)


def look_text(verdict: Verdict | NoInterval, margin: float) -> str:
    """What a look at a run says of an arm against its baseline, by their pass rates."""
    if isinstance(verdict, NoInterval):
        return f"cannot be told: {verdict.why}"
    if verdict.is_decided:
        return decided_text("pass", verdict, margin)
    return f"not decided: a difference of up to {_amount('pass', verdict.may_hide or 0.0)} may hide"


def _amount(metric: str, amount: float) -> str:
    """A difference in the metric's own measure: points of a rate or score, a share of a time."""
    if metric in COUNTED:
        return f"{amount:.3g}"
    hundredths = 100 * amount
    shown = f"{hundredths:.0f}" if hundredths >= 1 else f"{hundredths:.1g}"
    return f"{shown} %" if metric.endswith("_ms") else f"{shown} points"


def verdict_sentence(rate: MetricReport) -> str:
    """What the pass rate says, with its figures: *B passes more often: 91 % against 74 %, 17 points
    more (9 to 25). On tasks like these: 3 to 31.*"""
    head, _, rest = rate.says.partition(": ")
    if not head.startswith("B "):
        head = f"B and A {'are ' if head.startswith('the same') else ''}{head}"
    if rate.a is None or rate.b is None or rate.difference is None or rate.these is None:
        return f"{head}: {rest}." if rest else f"{head}."
    fewer = rate.difference < 0
    points = f"{abs(100 * rate.difference):.0f}"
    reach = _reach_text(rate.these, fewer=fewer)
    figures = (
        f"no difference ({reach} points)"
        if points == "0"
        else f"{points} points {'fewer' if fewer else 'more'} ({reach})"
    )
    said = f"{head}: {100 * rate.b:.0f} % against {100 * rate.a:.0f} %, {figures}"
    others = (
        f"On tasks like these: {_reach_text(rate.like_these, fewer=fewer)}."
        if rate.like_these is not None
        else f"{FEW_TASKS[0].upper()}{FEW_TASKS[1:]}."
    )
    return f"{said}{f'; {rest}' if rest else ''}. {others}"


def _reach_text(found: IntervalReport, *, fewer: bool) -> str:
    """Limits of a difference that is told as so many points more, or fewer."""
    low, high = (-found.high, -found.low) if fewer else (found.low, found.high)
    # Adding 0 makes 0 of the −0 that rounding leaves.
    return " to ".join(f"{round(100 * limit) + 0:d}".replace("-", "−") for limit in (low, high))
