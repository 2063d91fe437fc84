"""A comparison as a page."""

from __future__ import annotations

import math
from typing import NamedTuple

from ferox.core.comparison.words import COUNTED
from ferox.formats.comparison import ComparisonReport, IntervalReport, MetricReport
from ferox.reports.pages import page_template
from ferox.runs.setup_differences import SetupDifference

WIDTH = 240
"""Pixels of an interval's axis."""


class DrawnInterval(NamedTuple):
    """Pixels on the axis of a metric: the difference, and both intervals' limits."""

    at: float
    these: tuple[float, float] | None
    like_these: tuple[float, float] | None


def comparison_page(report: ComparisonReport, setup: list[SetupDifference]) -> str:
    """The page. Everything that agents, tools and files said stands in it as text."""
    metrics = [one for one in report.metrics if one.difference is not None]
    reach = _reach_of(metrics)
    changed = sorted(
        (task for task in report.tasks if task.difference),
        key=lambda task: -abs(task.difference or 0.0),
    )
    return page_template("comparison.html").render(
        report=report,
        setup=setup,
        metrics=[(one, _drawn(one, reach)) for one in metrics],
        changed=changed,
        alike=len(report.tasks) - len(changed),
        middle=WIDTH / 2,
        width=WIDTH,
        value=_value_text,
        difference=_difference_text,
    )


def _placed(metric: MetricReport, value: float) -> float:
    """A ratio is drawn by its logarithm, so that half and twice lie as far from the middle."""
    return math.log(value) if metric.ratio else value


def _limits_of(metric: MetricReport) -> list[float]:
    found = [i for i in (metric.these, metric.like_these) if i is not None]
    return [_placed(metric, limit) for i in found for limit in (i.low, i.high)]


def _reach_of(metrics: list[MetricReport]) -> float:
    limits = [abs(x) for one in metrics if one.metric not in COUNTED for x in _limits_of(one)]
    return min(2.0, max([0.1, *limits]))


def _drawn(metric: MetricReport, reach: float) -> DrawnInterval | None:
    """Where a metric's difference stands; counts have no scale in common with rates."""
    if metric.metric in COUNTED or metric.difference is None:
        return None

    def at(value: float) -> float:
        share = max(-1.0, min(1.0, _placed(metric, value) / reach))
        return round(WIDTH / 2 + share * (WIDTH / 2 - 6), 1)

    def limits(found: IntervalReport | None) -> tuple[float, float] | None:
        return None if found is None else (at(found.low), at(found.high))

    return DrawnInterval(at(metric.difference), limits(metric.these), limits(metric.like_these))


def _value_text(metric: MetricReport, value: float | None) -> str:
    if value is None:
        return "–"
    if metric.ratio:
        return f"{value:,.0f} ms"
    return f"{value:,.0f}" if abs(value) >= 100 else f"{value:.2f}"


def _difference_text(metric: MetricReport, value: float) -> str:
    if metric.ratio:
        return f"× {value:.2f}"
    if metric.metric in COUNTED:
        return f"{value:+,.2f}"
    return f"{100 * value:+.0f} points"
