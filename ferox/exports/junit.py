"""A run as JUnit XML: a test suite for each suite and arm, a case for each task or trial.

Written case by case, so that a run of any length fits into memory.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple, TextIO
from xml.sax.saxutils import quoteattr

from junitparser import Error, Failure, Property, Skipped, TestCase
from junitparser.junitparser import FinalResult as CaseResult

from ferox.core.digest import summarize_trial
from ferox.core.naming import counted_noun
from ferox.core.statistics import wilson_interval
from ferox.exports.finished import OnTrial, finished_lines
from ferox.intake.visible import visible_text
from ferox.runs.known_cells import known_cells
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.board import Cause, Cell, Key, read_cells
from ferox.store.database import Session, let_go
from ferox.store.results import read_result
from ferox.store.runs import get_run
from ferox.store.tables import Trial
from ferox.store.traces import read_trace
from ferox.store.trials import cell_reasons, cell_seconds

_NOT_XML = re.compile("[\ufffe\uffff]")
"""Characters that no XML text may hold, besides those that are never shown as they are."""
Group = tuple[str, str]
"""A suite, and an agent or arm."""


class Case(NamedTuple):
    """A test case: what it is about, and why it failed, could not run or was skipped."""

    name: str
    seconds: float
    about: str
    failure: str | None = None
    error: str | None = None
    skipped: str | None = None
    failed_check: str | None = None
    trial: int | None = None
    """A failed trial, whose digest stands in the case."""


@dataclass
class Counts:
    """Cases, by what became of them."""

    tests: int = 0
    failures: int = 0
    errors: int = 0
    skipped: int = 0
    seconds: float = 0.0

    def add(self, case: Case) -> None:
        """Count a case."""
        self.tests += 1
        self.failures += case.failure is not None
        self.errors += case.error is not None
        self.skipped += case.skipped is not None
        self.seconds += case.seconds


def write_junit(
    session: Session, run: int, file: TextIO, done: OnTrial, *, trials: Sequence[int] | None = None
) -> None:
    """Write a run; a case for each task, or for each of `trials`, in their order."""
    source = _CaseSource(session, run, trials)
    whole, by_group = Counts(), {group: Counts() for group in source.groups}
    for group, counts in by_group.items():
        for case in source.cases(group):
            counts.add(case)
            whole.add(case)
    file.write('<?xml version="1.0" encoding="utf-8"?>\n')
    file.write(_opening_tag("testsuites", f"Ferox run {run}", whole))
    for group, counts in by_group.items():
        suite, agent = group
        file.write(_opening_tag("testsuite", f"{suite} · {agent}", counts))
        file.write(f"{source.properties(group)}\n")
        for case in source.cases(group):
            file.write(f"{source.element(group, case)}\n")
            done()
        file.write("</testsuite>\n")
    file.write("</testsuites>\n")


def _opening_tag(tag: str, name: str, counts: Counts) -> str:
    numbers = {
        "tests": counts.tests,
        "failures": counts.failures,
        "errors": counts.errors,
        **({"skipped": counts.skipped} if tag == "testsuite" else {}),
        "time": f"{counts.seconds:.3f}",
    }
    listed = "".join(f' {key}="{value}"' for key, value in numbers.items())
    return f"<{tag} name={quoteattr(_clean_text(name))}{listed}>\n"


def _clean_text(text: str) -> str:
    """A text that XML may hold, and that steers no terminal."""
    return _NOT_XML.sub("\N{REPLACEMENT CHARACTER}", visible_text(text))


class _CaseSource:
    """The cases of a run, read again each time they are asked for."""

    def __init__(self, session: Session, run: int, trials: Sequence[int] | None) -> None:
        self._session, self._run, self._trials = session, run, trials
        self._snapshot = snapshot_of(session, run)
        cells = read_cells(session, run)
        self._cells: defaultdict[Group, list[Cell]] = defaultdict(list)
        for cell in sorted(cells, key=lambda c: (c.suite, c.agent, c.task)):
            self._cells[cell.suite, cell.agent].append(cell)
        self._known = known_cells(session, get_run(session, run), [c.key for c in cells])
        self._reasons, self._seconds = cell_reasons(session, run), cell_seconds(session, run)

    @property
    def groups(self) -> list[Group]:
        return list(self._cells)

    def cases(self, group: Group) -> Iterator[Case]:
        if self._trials is None:
            yield from (self._case_of_cell(cell) for cell in self._cells[group])
            return
        for line in finished_lines(self._session, self._trials):
            if (line.suite, line.agent) == group:
                yield self._case_of_trial(line)

    def _case_of_cell(self, cell: Cell) -> Case:
        about = _passes_text(cell.passes, cell.n)
        case = Case(cell.task, self._seconds.get(cell.key, 0.0), about)
        if cell.errors:
            reason = self._reasons.get(cell.key) or "no reason was kept"
            count = counted_noun(cell.errors, "trial")
            return case._replace(error=f"{count} could not run: {reason}")
        if cell.passes < cell.n:
            return self._failed_case(case, cell.key, cell.cause or Cause(), about)
        if not cell.n:
            why = "nothing is demanded of it" if cell.unjudged else "it was not run"
            return case._replace(skipped=why)
        return case

    def _case_of_trial(self, line: Trial) -> Case:
        key = (line.suite, line.task, line.agent)
        about = f"trial {line.id} of run {line.run_id}"
        case = Case(f"{line.task} #{line.number}", (line.turn_ms or 0.0) / 1000, about)
        if line.verdict == "error":
            return case._replace(error=line.reason or "it could not run")
        if line.verdict == "fail":
            failed = (line.failed or [None])[0]
            cause = Cause(line.went_wrong, failed, (line.id,))
            return self._failed_case(case, key, cause, "failed")
        if line.verdict != "pass":
            return case._replace(skipped="nothing is demanded of it")
        return case

    def _failed_case(self, case: Case, key: Key, cause: Cause, what: str) -> Case:
        if key in self._known:
            return case._replace(skipped=f"known: {self._known[key]} ({what})")
        message = f"{what}. {cause.message}" if cause.message else what
        trial = cause.trials[0] if cause.trials else None
        return case._replace(failure=message, failed_check=cause.failed_check, trial=trial)

    def element(self, group: Group, case: Case) -> str:
        made = TestCase(
            _clean_text(case.name), _clean_text(f"{group[0]}.{group[1]}"), round(case.seconds, 3)
        )
        results: list[CaseResult] = []
        if case.error is not None:
            results.append(Error(_clean_text(case.error), "could_not_run"))
        if case.failure is not None:
            failure = Failure(_clean_text(case.failure), _clean_text(case.failed_check or "failed"))
            failure.text = _clean_text(self._digest_of(case.trial))
            results.append(failure)
        if case.skipped is not None:
            results.append(Skipped(_clean_text(case.skipped)))
        made.result = results
        made.system_out = _clean_text(case.about)
        return _element_text(made)

    def _digest_of(self, trial: int | None) -> str:
        """The checks that failed and the digest, which ends in them."""
        if trial is None:
            return ""
        trace, result = read_trace(self._session, trial), read_result(self._session, trial)
        let_go(self._session)
        return summarize_trial(trace, result) if trace and result else ""

    def properties(self, group: Group) -> str:
        """What the group was run with, and how often it passed."""
        cells = self._cells[group]
        passes, n = sum(c.passes for c in cells), sum(c.n for c in cells)
        agent = group[1]
        found: Mapping[str, object] = {
            "run": self._run,
            "ferox": self._snapshot.ferox,
            "model": self._snapshot.agents[agent].model or "not seen",
            "simulated": "yes" if self._snapshot.is_simulated(agent) else "no",
            "passes": passes,
            "trials": n,
        }
        if n:
            low, high = wilson_interval(passes, n)
            rate = {"pass_rate": f"{passes / n:.4f}", "pass_rate_95_low": f"{low:.4f}"}
            found = {**found, **rate, "pass_rate_95_high": f"{high:.4f}"}
        made = "".join(
            _element_text(Property(name, _clean_text(str(value)))) for name, value in found.items()
        )
        return f"<properties>{made}</properties>"


def _element_text(made: TestCase | Property) -> str:
    """An element as XML."""
    return bytes(made.tostring()).decode()  # type: ignore[no-untyped-call]


def _passes_text(passes: int, n: int) -> str:
    if not n:
        return "no trial was judged"
    low, high = wilson_interval(passes, n)
    return f"{passes} of {counted_noun(n, 'trial')} passed (95 %: {low:.2f} to {high:.2f}, Wilson)"
