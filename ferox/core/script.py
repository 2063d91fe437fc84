"""A task made ready for scoring: matchers compiled, copies counted, names resolved."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, NamedTuple

from ferox.core.matcher import Matcher
from ferox.core.matchers import compile_matcher, item_matcher
from ferox.core.moment_matchers import source_of
from ferox.core.story import fits_any
from ferox.core.value_sources import ValueSource, is_source
from ferox.formats.suite import (
    AnswerCheck,
    Approval,
    Expect,
    ExpectedCall,
    Part,
    StageStep,
    StageTools,
    Suite,
    Task,
    Times,
    UserRule,
)


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
        item = item_matcher(ValueSource.of_entry(self.spec.each), value)
        args = {**self.args, self.spec.each.arg: item}
        return Expected(self.name, self.tool, self.spec, args=args, least=1, most=1)

    @property
    def is_optional(self) -> bool:
        """Whether no call of it is required."""
        return self.least == 0


@dataclass(frozen=True, eq=False)
class Copy:
    """One call that an expected call may take."""

    expected: Expected
    number: int

    @property
    def tool(self) -> str:
        """The expected call's tool."""
        return self.expected.tool

    @property
    def is_required(self) -> bool:
        """Whether its absence is a fault of the agent."""
        return self.number < self.expected.least


class ExpectedAnswer(NamedTuple):
    """One demand on an answer: its entry, the matcher for its fields, and where the values come
    from that it has to mention."""

    spec: AnswerCheck
    matcher: Matcher | None
    source: ValueSource | None


@dataclass(frozen=True)
class PartScript:
    """What is expected of one part: all of a task that has no `parts`."""

    expect: Expect
    user: tuple[UserRule, ...]
    """The rules that may answer in it: its own, then the task's."""
    expected: tuple[Expected, ...]
    copies: tuple[Copy, ...]
    answers: tuple[ExpectedAnswer, ...] = ()
    state: tuple[Matcher | None, ...] = ()
    alternatives: tuple[PartScript, ...] = ()
    """With `either`: the part under each alternative; then this script judges nothing."""


@dataclass(frozen=True)
class Script:
    """A compiled task of a suite."""

    suite: str
    task: Task
    parts: tuple[PartScript, ...]
    whole: Expect = field(default_factory=Expect)
    """What a task with `parts` expects over all of them."""
    whole_state: tuple[Matcher | None, ...] = ()
    obeyed: tuple[tuple[int, str, dict[str, Matcher]], ...] = field(default=())
    """For each planted text: its place among the faults, and the call that would obey it."""

    @cached_property
    def by_name(self) -> dict[str, tuple[int, Expected]]:
        """Each expected call by its name, with the number of its part."""
        return {e.name: (n, e) for n, part in enumerate(self.parts) for e in part.expected}

    @cached_property
    def truth_names(self) -> frozenset[str]:
        """Names of what Ferox looks up itself."""
        return frozenset(t.as_ for t in self.task.truth)

    @cached_property
    def answer_names(self) -> frozenset[str]:
        """Names of what the user answers to servers' questions."""
        answers = [a for part in self.task.parts or () for a in part.answers]
        return frozenset(a.as_ for a in (*self.task.answers, *answers) if a.as_)

    def find_rule(self, part: int, place: int | None) -> UserRule | None:
        """The rule of the scripted user that gave a turn, if it is the script's."""
        rules = self.parts[part].user if part < len(self.parts) else ()
        return rules[place] if place is not None and place < len(rules) else None

    def with_alternatives(self, alternatives: Sequence[int | None]) -> Script:
        """The script with one alternative taken in each part that has some."""
        if not any(part.alternatives for part in self.parts):
            return self
        return replace(
            self,
            parts=tuple(
                part if taken is None else part.alternatives[taken]
                for part, taken in zip(self.parts, alternatives, strict=True)
            ),
        )


def compares_states(task: Task) -> bool:
    """Whether a check looks at what a trial changed of a server's state."""
    wanted = [expect for part in parts_of(task) for expect in _with_alternatives(part.expect)]
    wanted += _with_alternatives(task.expect)
    return any(check.changed for expect in wanted for check in expect.state)


def named_steps(chain: Sequence[str | StageStep]) -> list[str]:
    """The expected calls of a chain, without the steps that are a stage's."""
    return [step for step in chain if isinstance(step, str)]


def approves_sometime(approvals: Iterable[Approval], tool: str) -> bool:
    """Whether the entries for a tool come to one that approves: those before it are used up."""
    for entry in approvals:
        if fits_any(tool, [entry.tool]):
            if entry.decision == "approve":
                return True
            if entry.at_most is None:
                return False
    return False


def glob_of(entry: str | StageTools) -> str:
    """The glob of an entry of `never`, whichever stage it is about."""
    return entry if isinstance(entry, str) else entry.tool


def needed_servers(task: Task) -> set[str] | None:
    """The servers that a task cannot do without: those that it names. None if it needs all: one
    that expects no call, or forbids some, would pass where there is nothing to call; a glob may
    mean any."""
    wanted = [expect for part in parts_of(task) for expect in _with_alternatives(part.expect)]
    wanted += _with_alternatives(task.expect)
    named = {call.tool.split("/")[0] for expect in wanted for call in expect.calls or ()}
    forbids = any(
        expect.calls == [] or expect.never or expect.others == "forbidden" for expect in wanted
    )
    if forbids or not named:
        return None
    named |= {*task.given, *(truth.tool.split("/")[0] for truth in task.truth)}
    named |= {check.server for expect in wanted for check in expect.state if check.server}
    named |= {fault.server for fault in task.faults if fault.server}
    recovering = [e.failures.recovers for e in wanted if e.failures.recovers]
    named |= {tool.split("/")[0] for recovery in recovering for tool in recovery.by}
    return None if any("*" in server for server in named) else named


def _with_alternatives(expect: Expect) -> list[Expect]:
    return [expect, *(e for one in expect.either or () for e in _with_alternatives(one))]


def parts_of(task: Task) -> list[Part]:
    """A task's parts; one without `parts` is the only one of its own."""
    if task.parts is not None:
        own: dict[str, Any] = {"user": task.user, "answers": task.answers}
        return [
            part.model_copy(update={key: [*getattr(part, key), *more] for key, more in own.items()})
            for part in task.parts
        ]
    only = Part(say=task.say or "", user=task.user, answers=task.answers, expect=task.expect)
    return [only]


def expected_tools(task: Task) -> Iterator[str]:
    """The tools of which a task expects calls, in any part and under any alternative."""
    for expect in (*(part.expect for part in parts_of(task)), task.expect):
        yield from _tools_of(expect)


def _tools_of(expect: Expect) -> Iterator[str]:
    for call in expect.calls or ():
        yield call.tool
    for alternative in expect.either or ():
        yield from _tools_of(alternative)


def _compile_expected(spec: ExpectedCall) -> Expected:
    if isinstance(spec.times, Times):
        least, most = spec.times.min, spec.times.max
    else:
        least = most = spec.times or 1
    return Expected(
        spec.name,
        spec.tool,
        spec,
        args={name: compile_matcher(value) for name, value in spec.args.items()},
        least=0 if spec.optional else least,
        most=most,
    )


def _compile_matchers(specs: list[Any], pick: Callable[[Any], Any]) -> tuple[Matcher | None, ...]:
    return tuple(compile_matcher(pick(s)) if "is_" in s.model_fields_set else None for s in specs)


def _expected_answer(spec: AnswerCheck) -> ExpectedAnswer:
    (matcher,) = _compile_matchers([spec], lambda s: s.is_)
    source = source_of(spec.mentions) if is_source(spec.mentions) else None
    return ExpectedAnswer(spec, matcher, source)


def _compile_part(expect: Expect, user: tuple[UserRule, ...]) -> PartScript:
    expected = tuple(_compile_expected(call) for call in expect.calls or [])
    copies = tuple(Copy(e, number) for e in expected if not e.spec.each for number in range(e.most))
    return PartScript(
        expect=expect,
        user=user,
        expected=expected,
        copies=copies,
        answers=tuple(map(_expected_answer, expect.answer)),
        state=_compile_matchers(expect.state, lambda s: s.is_),
        alternatives=tuple(_compile_part(alternative, user) for alternative in expect.either or ()),
    )


def compile_script(suite: Suite, task: Task) -> Script:
    """Compile one task of a suite.

    Raises:
        MatcherError, PathError: a matcher or a path cannot be understood.
    """
    whole = task.expect if task.parts is not None else Expect()
    return Script(
        suite.suite,
        task,
        tuple(_compile_part(part.expect, tuple(part.user)) for part in parts_of(task)),
        whole=whole,
        whole_state=_compile_matchers(whole.state, lambda s: s.is_),
        obeyed=tuple(
            (place, f.obeyed_if.tool, {k: compile_matcher(v) for k, v in f.obeyed_if.args.items()})
            for place, f in enumerate(task.faults)
            if f.obeyed_if
        ),
    )
