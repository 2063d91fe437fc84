"""A run as markdown, short enough for a merge request."""

from __future__ import annotations

import re

from ferox.core.gate import RuleVerdict
from ferox.core.naming import counted_noun
from ferox.formats.result import FAMILIES
from ferox.intake.visible import visible_text
from ferox.reports.words import (
    KINDS,
    changed_cells,
    changes_sentence,
    cost_text,
    family_text,
    passed_text,
    run_name,
    set_up_lines,
)
from ferox.runs.changes import Change
from ferox.runs.run_report import FailingCell, RunReport

MOST_CHANGES, MOST_AGENTS, MOST_FAILING = 12, 12, 8
"""Lines of each table; the rest is counted. All together are fewer than 60."""
LONGEST = 140
_MARKUP = re.compile(r"([\\`*_{}\[\]|<>~&$!])")
"""What markdown takes for something else."""
_LINKED = re.compile(r"([@#]|:(?=//)|www(?=\.))")
"""After which services that show markdown make links of words, whether they are escaped or not."""
_JOINER = "\u2060"
"""Keeps what it stands between from being one word, and is not seen."""


def run_markdown(report: RunReport, verdicts: list[RuleVerdict] | None = None) -> str:
    """The run: the sentence, what broke and was mended, families, cost; with the rules of a gate,
    what came of them first."""
    lines = [f"### {plain_text(run_name(report))}", ""]
    lines += [
        f"- {_held_text(verdict.held)} {plain_text(verdict.says)}" for verdict in verdicts or ()
    ]
    lines += [""] if verdicts else []
    lines += [plain_text(changes_sentence(report.changes)), ""]
    if report.sentence is not None:
        lines += [f"B is this run: {plain_text(report.sentence)}", ""]
    changes = changed_cells(report.changes)
    if changes:
        lines += ["| | task | agent | passed |", "|---|---|---|---|"]
        lines += [_change_row(change) for change in changes[:MOST_CHANGES]]
        lines += _rest_lines(len(changes) - MOST_CHANGES, "cell")
    failing = [cell for cell in report.failing if cell.known is None]
    if failing:
        lines += [*[""] * bool(changes), *(_failing_line(cell) for cell in failing[:MOST_FAILING])]
        lines += _rest_lines(len(failing) - MOST_FAILING, "failing cell")
    tested = [f for f in FAMILIES if any(_is_tested(report, a.name, f) for a in report.agents)]
    lines += ["", f"| agent | passed, 95 % | {' | '.join(tested)} |".replace("|  |", "|")]
    lines += [f"|---|---|{'---|' * len(tested)}"]
    for agent in report.agents[:MOST_AGENTS]:
        scores = [family_text(f) for f in agent.families if f.family in tested]
        simulated = " (simulated)" if agent.simulated else ""
        row = [f"{plain_text(agent.name)}{simulated}", passed_text(agent), *scores]
        lines.append(f"| {' | '.join(row)} |")
    lines += _rest_lines(len(report.agents) - MOST_AGENTS, "agent")
    about = [
        f"{name} {plain_text(value)}" for name, value in set_up_lines(report) if name != "cost"
    ]
    lines += ["", f"{'; '.join(about)}. Cost: {plain_text(cost_text(report))}."]
    return "\n".join(lines) + "\n"


def plain_text(text: str) -> str:
    """A text in one line in which nothing is markup, and that is not too long."""
    flat = " ".join(visible_text(text).split())
    short = flat if len(flat) <= LONGEST else f"{flat[: LONGEST - 1]}…"
    return _LINKED.sub(rf"\1{_JOINER}", _MARKUP.sub(r"\\\1", short))


def _held_text(held: bool | None) -> str:
    return {True: "holds", False: "**fails**", None: "cannot be told"}[held]


def _change_row(change: Change) -> str:
    suite, task, agent = change.key
    now = f"{change.now[0]}/{change.now[1]}"
    counts = f"{change.before[0]}/{change.before[1]} → {now}" if change.before else now
    words = f"**{KINDS[change.kind]}**" if change.kind == "broke" else KINDS[change.kind]
    why = f": {plain_text(change.known)}" if change.known else ""
    return f"| {words}{why} | {plain_text(f'{suite}/{task}')} | {plain_text(agent)} | {counts} |"


def _failing_line(cell: FailingCell) -> str:
    why = cell.cause.message or cell.failed_check or "see the trial"
    where = plain_text(f"{cell.key[0]}/{cell.key[1]} · {cell.key[2]}")
    return f"- {where}: {cell.counts[0]}/{cell.counts[1]}. {plain_text(why)}"


def _rest_lines(more: int, noun: str) -> list[str]:
    return ["", f"… and {counted_noun(more, noun)} more"] if more > 0 else []


def _is_tested(report: RunReport, agent: str, family: str) -> bool:
    return any(
        one.family == family and one.score is not None
        for summary in report.agents
        if summary.name == agent
        for one in summary.families
    )
