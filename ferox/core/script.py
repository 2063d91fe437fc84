"""A task made ready for scoring: matchers compiled, copies counted, names resolved."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from ferox.core.clock import Clock
from ferox.core.matchers import Matcher, compile_matcher
from ferox.formats.suite import ExpectedCall, Suite, Task, Times


@dataclass(frozen=True, eq=False)
class Expected:
    """One expected call: at least `least` and at most `most` calls may match it."""

    name: str
    tool: str
    spec: ExpectedCall
    args: dict[str, Matcher]
    least: int
    most: int

    @cached_property
    def plain_args(self) -> dict[str, Matcher]:
        """The arguments that count towards the fit: those without `from` at any depth."""
        return {k: m for k, m in self.args.items() if not m.sources}

    @cached_property
    def from_args(self) -> dict[str, Matcher]:
        """The arguments whose value must come from another call or a truth."""
        return {k: m for k, m in self.args.items() if m.sources}

    def for_item(self, value: Any) -> Expected:
        """With `each`: the call that is expected for one item."""
        assert self.spec.each is not None
        args = {**self.args, self.spec.each.arg: compile_matcher({"equal": value})}
        return Expected(self.name, self.tool, self.spec, args, 1, 1)

    @property
    def optional(self) -> bool:
        """Whether no call of it is required."""
        return self.least == 0


@dataclass(frozen=True, eq=False)
class Copy:
    """One call that an expected call may take."""

    expected: Expected
    number: int

    @property
    def required(self) -> bool:
        """Whether its absence is a fault of the agent."""
        return self.number < self.expected.least


@dataclass(frozen=True)
class Script:
    """A compiled task of a suite."""

    suite: str
    task: Task
    clock: Clock
    expected: tuple[Expected, ...]
    copies: tuple[Copy, ...]
    answer: tuple[Matcher | None, ...] = field(default=())
    state: tuple[Matcher | None, ...] = field(default=())
    alternatives: tuple[Script, ...] = field(default=())
    """With `either`: the same task under each alternative; then this script judges nothing."""
    obeyed: tuple[tuple[int, str, dict[str, Matcher]], ...] = field(default=())
    """For each planted text: its place among the faults, and the call that would obey it."""

    @cached_property
    def by_name(self) -> dict[str, Expected]:
        """Expected calls by their names."""
        return {e.name: e for e in self.expected}

    @cached_property
    def truths(self) -> frozenset[str]:
        """Names of what Ferox looks up itself."""
        return frozenset(t.as_ for t in self.task.truth)


def _expected(spec: ExpectedCall) -> Expected:
    if isinstance(spec.times, Times):
        least, most = spec.times.min, spec.times.max
    else:
        least = most = spec.times or 1
    return Expected(
        spec.name,
        spec.tool,
        spec,
        {name: compile_matcher(value) for name, value in spec.args.items()},
        0 if spec.optional else least,
        most,
    )


def _compiled(specs: list[Any], pick: Callable[[Any], Any]) -> tuple[Matcher | None, ...]:
    return tuple(compile_matcher(pick(s)) if "is_" in s.model_fields_set else None for s in specs)


def compile_script(suite: Suite, task: Task) -> Script:
    """Compile one task of a suite.

    Raises:
        MatcherError, PathError: a matcher or a path cannot be understood.
    """
    alternatives = tuple(
        compile_script(suite, task.model_copy(update={"expect": alternative}))
        for alternative in task.expect.either or ()
    )
    expected = tuple(_expected(call) for call in task.expect.calls or [])
    copies = tuple(Copy(e, number) for e in expected if not e.spec.each for number in range(e.most))
    return Script(
        suite.suite,
        task,
        Clock(suite.clock, suite.zone),
        expected,
        copies,
        _compiled(task.expect.answer, lambda s: s.is_),
        _compiled(task.expect.state, lambda s: s.is_),
        alternatives,
        tuple(
            (place, f.obeyed_if.tool, {k: compile_matcher(v) for k, v in f.obeyed_if.args.items()})
            for place, f in enumerate(task.faults)
            if f.obeyed_if
        ),
    )
