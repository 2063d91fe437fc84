"""Figures and sentences as all reports write them."""

from __future__ import annotations

from ferox.core.naming import counted_noun
from ferox.runs.changes import Change, Changes
from ferox.runs.run_report import AgentSummary, FamilySummary, RunReport

KINDS = {
    "broke": "broke",
    "otherwise": "fails differently",
    "mended": "mended",
    "fails": "fails always",
    "wavers": "wavers",
    "known": "known",
}
"""The kinds of changes, in the order in which they are told."""
OF_SEVERAL = {"otherwise": "fail differently", "fails": "fail always", "wavers": "waver"}
"""The same of more than one cell, where that is said otherwise."""


def changes_sentence(changes: Changes) -> str:
    """What changed, in a sentence: *Since run 3: 2 broke, 1 mended; 24 cells compared.*"""
    counts = [(kind, len(changes.of_kind(kind))) for kind in KINDS]
    found = ", ".join(f"{count} {_kind_words(kind, count)}" for kind, count in counts if count)
    if changes.since is None or not changes.compared:
        found = found or "nothing failed"
        return f"No predecessor to compare with: {found}."
    compared = counted_noun(changes.compared, "cell")
    return f"Since {changes.since}: {found or 'nothing changed'}; {compared} compared."


def changed_cells(changes: Changes) -> list[Change]:
    """The cells that are not as they were, the most pressing first; what only always fails, or
    wavers, stands among what failed."""
    return [one for kind in KINDS if kind not in STANDING for one in changes.of_kind(kind)]


STANDING = ("fails", "wavers")


def _kind_words(kind: str, count: int) -> str:
    return KINDS[kind] if count == 1 else OF_SEVERAL.get(kind, KINDS[kind])


def passed_text(agent: AgentSummary) -> str:
    """Passes of trials with the rate and its interval."""
    if not agent.n or agent.interval is None:
        return "no trial was judged"
    low, high = (f"{100 * limit:.0f}" for limit in agent.interval)
    return f"{agent.passes}/{agent.n} ({100 * agent.passes / agent.n:.0f} %; {low} to {high})"


def family_text(family: FamilySummary) -> str:
    """A family's mean with its limits, or that nothing tested it."""
    if family.score is None:
        return "not tested"
    limits = f" ({family.limits[0]:.2f} to {family.limits[1]:.2f})" if family.limits else ""
    return f"{family.score:.2f}{limits}"


def cost_text(report: RunReport) -> str:
    """What the run cost; *not known* where a price or the tokens are not."""
    costs = report.costs()
    if costs is not None:
        return ", ".join(f"{amount:.4g} {currency}" for currency, amount in costs.items())
    simulated = all(agent.simulated for agent in report.agents)
    return "nothing: all models are simulated" if simulated else "not known"


def tokens_text(agent: AgentSummary) -> str:
    """Tokens in and out together; *not seen* where they were not."""
    return "not seen" if agent.tokens is None else f"{agent.tokens:,}"


def run_name(report: RunReport) -> str:
    """A run as it is called: *Run 4 · arrivals*."""
    return f"Run {report.record.id} · {report.record.title}"


def set_up_lines(report: RunReport) -> list[tuple[str, str]]:
    """What was run: a name and a value each."""
    record, snapshot, counts = report.record, report.snapshot, report.counts
    done = counted_noun(counts.done, "trial")
    lines = [
        ("workspace", snapshot.workspace),
        ("planned", report.began),
        ("trials", done if counts.done == counts.total else f"{done} of {counts.total}"),
        ("models", ", ".join(_model_words(report)) or "not seen"),
        ("versions", f"Ferox {snapshot.ferox}, Python {snapshot.python}"),
        ("cost", cost_text(report)),
    ]
    if report.seconds is not None and record.origin is None:
        lines.insert(2, ("took", f"{report.seconds:,.0f} s"))
    if record.origin is not None:
        lines.insert(1, ("trials are", record.origin))
    if snapshot.commit is not None:
        lines.insert(1, ("commit", f"{snapshot.commit[:12]} was checked out"))
    if record.plan is not None:
        lines.insert(1, ("plan", record.plan))
    return lines


def _model_words(report: RunReport) -> list[str]:
    named = {a.model: a.simulated for a in report.agents if a.model is not None}
    return [f"{name} (simulated)" if sim else name for name, sim in sorted(named.items())]
