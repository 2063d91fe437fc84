"""Checks of what a script expects: names, values, chains and paths."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from ferox.core.chains import path_between
from ferox.core.definitions import properties_of, required_of
from ferox.core.json_paths import PathError, check_path
from ferox.core.json_schema import definition_fault, foreign_references
from ferox.core.matcher import Matcher, MatcherError
from ferox.core.matchers import compile_matcher
from ferox.core.mistaken_matchers import mistaken_matcher
from ferox.core.moment_matchers import source_of
from ferox.core.schema_fit import never_fits
from ferox.core.schema_paths import element_types, schemas_at, types_of, unlikely_name
from ferox.core.script import approves_sometime, glob_of, named_steps
from ferox.core.story import fits_any
from ferox.core.value_sources import ValueSource, is_source
from ferox.formats.suite import AnswerCheck, Expect, ExpectedCall, Times
from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError
from ferox.intake.patterns import compile_pattern as compiled
from ferox.intake.yaml_text import ValuePath
from ferox.workspace.modes import MOCK, RECORDED
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.yaml_files import YamlFile

if TYPE_CHECKING:
    from ferox.workspace.check_suite import TaskCheck

OF_THE_WHOLE = {"never", "at_most", "order", "may_poll", "failures", "state"}
"""What a task with `parts` may expect over all of them."""


@dataclass
class KnownNames:
    """The names that expectations may refer to, so far: truths, calls and grants."""

    truths: dict[str, str] = field(default_factory=dict)
    """Name → tool."""
    calls: dict[str, ExpectedCall] = field(default_factory=dict)
    parts: dict[str, int] = field(default_factory=dict)
    """The part of each call."""
    grants: set[str] = field(default_factory=set)
    answers: set[str] = field(default_factory=set)
    """Names of what the user answers to servers' questions."""

    def copy(self) -> KnownNames:
        """The same names, to add to."""
        return KnownNames(
            dict(self.truths),
            dict(self.calls),
            dict(self.parts),
            set(self.grants),
            answers=set(self.answers),
        )

    def add(self, more: KnownNames) -> None:
        """Take in the calls of an alternative."""
        self.calls |= more.calls
        self.parts |= more.parts

    def find_tool(self, name: str) -> str | None:
        """The tool of a truth or a call."""
        if name in self.truths:
            return self.truths[name]
        return self.calls[name].tool if name in self.calls else None

    @property
    def steps(self) -> set[str]:
        """What may be a step of a chain."""
        return {*self.calls, *self.answers}

    def __contains__(self, name: str) -> bool:
        return name in self.truths or name in self.calls or name in self.answers


def check_whole(file: YamlFile, expect: Expect, at: ValuePath) -> Iterator[Problem]:
    """What may not stand at a task that has parts."""
    for key in sorted(expect.model_fields_set - OF_THE_WHOLE):
        message = f"`{key}` belongs to one part; move it into the part's own `expect`"
        yield file.problem_at((*at, key), message)


def check_expect(
    task: TaskCheck, expect: Expect, at: ValuePath, names: KnownNames, part: int | None
) -> Iterator[Problem]:
    """The expectations of one part (None: of the whole). Its calls' names are added to `names`."""
    yield from _Expectations(task, expect, at, names=names, part=part).problems()


@dataclass
class _Expectations:
    task: TaskCheck
    expect: Expect
    at: ValuePath
    names: KnownNames
    part: int | None

    def __post_init__(self) -> None:
        self.file = self.task.file
        self.calls = list(self.expect.calls or ())
        self.flows: list[tuple[str, str]] = []
        """Source and taker of every value that one call takes from another, or from a truth."""

    def problems(self) -> Iterator[Problem]:
        later = {c.name for c in self.calls}
        for i, call in enumerate(self.calls):
            path: ValuePath = (*self.at, "calls", i)
            if call.name in self.names:
                yield self.file.problem_at(
                    path, f"the name `{call.name}` is taken; give another with `as`"
                )
            yield from self._check_call(call, path, later)
            self.names.calls[call.name] = call
            self.names.parts[call.name] = self.part or 0
        yield from self._check_order()
        yield from self._check_tools()
        yield from self._check_limits()
        rules = self.expect.code
        for key, pattern in (("matches", rules.matches), ("never", rules.never)) if rules else ():
            if pattern is not None:
                yield from check_regex(self.file, pattern, (*self.at, "code", key))
        for i, answer in enumerate(self.expect.answer):
            yield from self._check_answer(answer, (*self.at, "answer", i))
        yield from self._check_state()
        yield from self._check_failures()

    # One expected call

    def _check_call(self, call: ExpectedCall, path: ValuePath, here: set[str]) -> Iterator[Problem]:
        yield from self.task.check_address(call.tool, (*path, "tool"))
        yield from self.task.given_args(call.tool, call.args, (*path, "args"))
        schema = (self.task.find_tool(call.tool) or {}).get("inputSchema") or {}
        required, properties = required_of(schema), properties_of(schema)
        for name, spec in call.args.items():
            where = (*path, "args", name)
            matcher = self._compile_matcher(spec, where, properties.get(name))
            if isinstance(matcher, Problem):
                yield matcher
                continue
            for source in matcher.sources:
                self.flows.append((source.name, call.name))
                yield from self._check_from(call, source, where=where, here=here)
            if name in properties:
                why = never_fits(spec, properties[name], schema, name in required)
                if why:
                    yield self.file.problem_at(where, f"`{name}` can never be so: {why}")
                elif is_source(spec) and not matcher.sources[0].is_of_text:
                    yield from self._check_kinds(matcher.sources[0], properties[name], name, where)
        if call.only_args:
            each = {call.each.arg} if call.each else set()
            for name in sorted(set(required) - set(call.args) - each):
                message = f"`only_args` forbids `{name}`, which `{call.tool}` requires"
                yield self.file.problem_at(
                    (*path, "only_args"), f"{message}; expect it under `args`"
                )
        yield from self._check_copies(call, path)
        yield from self._check_each(call, path, here)
        if call.after_grant and call.after_grant not in self.names.grants:
            message = f"no rule of the user grants `{call.after_grant}`"
            message += did_you_mean(call.after_grant, self.names.grants)
            yield self.file.problem_at((*path, "after_grant"), message)
        if call.as_approved and not self._has_approval(call, "approve"):
            message = f"nothing under `approvals` approves `{call.tool}`, so this can never hold"
            yield self.file.problem_at((*path, "as_approved"), message)

    def _compile_matcher(
        self, spec: Any, where: ValuePath, schema: Any = None
    ) -> Matcher | Problem:
        mistake = mistaken_matcher(spec, schema)
        if mistake:
            return self.file.problem_at(where, mistake)
        try:
            return compile_matcher(spec)
        except (MatcherError, PathError) as error:
            return self.file.problem_at(where, str(error).split("\n")[0])

    def _check_copies(self, call: ExpectedCall, path: ValuePath) -> Iterator[Problem]:
        if isinstance(call.times, Times) and call.times.min > call.times.max:
            message = f"`min` ({call.times.min}) is more than `max` ({call.times.max})"
            yield self.file.problem_at((*path, "times"), message)
        elif isinstance(call.times, int) and call.times < 1:
            message = "`times` is 1 or more; a call that must not come belongs under `never`"
            yield self.file.problem_at((*path, "times"), message)

    def _check_each(self, call: ExpectedCall, path: ValuePath, here: set[str]) -> Iterator[Problem]:
        if call.each is None:
            return
        where = (*path, "each")
        source = ValueSource.of_entry(call.each)
        if source.pattern is not None:
            yield from check_regex(self.file, source.pattern, (*where, "pattern"))
        self.flows.append((source.name, call.name))
        yield from self._check_from(call, source, where=where, here=here)
        yield from self.task.given_args(call.tool, {call.each.arg: None}, where)
        if call.each.arg in call.args:
            message = f"`{call.each.arg}` stands under `args` too; `each` gives it its value"
            yield self.file.problem_at(where, message)

    def _has_approval(self, call: ExpectedCall, decision: str) -> bool:
        entries = self.task.task.approvals
        there = any(fits_any(call.tool, [entry.tool]) for entry in entries)
        return there and approves_sometime(entries, call.tool) == (decision == "approve")

    # Where values come from

    def _source_of(self, spec: dict[str, Any], where: ValuePath) -> ValueSource | Problem:
        try:
            return source_of(spec)
        except (MatcherError, PathError) as error:
            return self.file.problem_at(where, str(error).split("\n")[0])

    def _check_from(
        self, call: ExpectedCall | None, values: ValueSource, where: ValuePath, here: set[str]
    ) -> Iterator[Problem]:
        source = values.name
        if call is not None and source == call.name:
            message = f"`from: {source}` is this call itself; take it from an earlier one"
            yield self.file.problem_at(where, message)
        elif source not in self.names and source in here:
            message = f"`from: {source}` points forward: it stands after this call"
            yield self.file.problem_at(where, f"{message}; list `{source}` first")
        elif source not in self.names:
            known = {*self.names.truths, *self.names.calls, *self.names.answers}
            hint = did_you_mean(source, known)
            yield self.file.problem_at(where, f"`from: {source}`: no such call{hint}")
        else:
            there = self.names.calls.get(source)
            if call is not None and there is not None and _is_optional(there):
                message = (
                    f"`{source}` is optional: when it is not called, it is enough that the value"
                )
                message += " was seen before; say `seen: true`, or require the call"
                yield self.file.problem_at(where, message, note=True)
            if values.path is not None:
                yield from self._check_path(source, values.path, where)

    def _output_schema(self, source: str) -> Any:
        """The schema of what a truth or a call gives; None if nobody tells."""
        tool = self.names.find_tool(source)
        return (self.task.find_tool(tool) or {}).get("outputSchema") if tool else None

    def _check_path(self, source: str, path: Any, where: ValuePath) -> Iterator[Problem]:
        """A path that nothing can stand at in what a tool gives."""
        schema = self._output_schema(source)
        try:
            check_path(str(path))
            if schema is None:
                return
            there, why = schemas_at(schema, str(path))
            if not there:
                yield self.file.problem_at(
                    where,
                    f"`{path}` cannot exist in what `{self.names.find_tool(source)}` gives: {why}",
                )
            elif near := unlikely_name(schema, str(path)):
                yield self.file.problem_at(
                    where,
                    f"`{path}` in what `{self.names.find_tool(source)}` gives: {near}",
                    note=True,
                )
        except PathError as error:
            yield self.file.problem_at(where, str(error))

    def _check_kinds(
        self, source: ValueSource, wanted: Any, name: str, where: ValuePath
    ) -> Iterator[Problem]:
        """A `from` whose values are of another type than the argument takes."""
        schema = self._output_schema(source.name)
        if schema is None or source.path is None:
            return
        try:
            there, _ = schemas_at(schema, source.path)
        except PathError:
            return  # told already
        given = element_types(there)
        takes = types_of(wanted)
        if "number" in takes or "integer" in takes:
            takes |= {"number", "integer"}
        if there and not given & takes:
            message = f"`{name}` takes {' or '.join(sorted(types_of(wanted)))}"
            message += f", and `{source.path}` gives {' or '.join(sorted(given))}"
            yield self.file.problem_at(where, f"{message}; the two are never equal")

    # Chains

    def _check_order(self) -> Iterator[Problem]:
        before: dict[str, list[str]] = {}
        chains: list[tuple[Sequence[str], ValuePath]] = [
            (named_steps(chain), (*self.at, "order", i))
            for i, chain in enumerate(self.expect.order)
        ]
        for i, steps in enumerate(self.expect.order):
            path = (*self.at, "order", i)
            for j, name in enumerate(steps):
                if isinstance(name, str) and name not in self.names.steps:
                    hint = did_you_mean(name, self.names.steps)
                    yield self.file.problem_at((*path, j), f"`{name}`: no expected call{hint}")
        for x, y in self.flows:
            if x in self.names.calls:
                before.setdefault(x, []).append(y)
        for chain, path in chains:
            for j, (x, y) in enumerate(pairwise(chain)):
                where = (*path, j + 1)
                if self.names.parts.get(x, 0) > self.names.parts.get(y, 0):
                    message = f"`{x}` belongs to a later part than `{y}`, so it cannot come before"
                    yield self.file.problem_at(where, message)
                    continue
                back = path_between(before, y, x)
                if x == y or back is not None:
                    yield self.file.problem_at(
                        where, self._contradiction_message(x, y, back or [x])
                    )
                else:
                    before.setdefault(x, []).append(y)

    def _contradiction_message(self, x: str, y: str, back: Sequence[str]) -> str:
        if x == y:
            return f"`{x}` cannot come before itself; take one of the two out"
        message = " before ".join(f"`{name}`" for name in back)
        return f"`{x}` before `{y}` contradicts {message}; take one of the two out"

    # Tools and limits

    def _check_tools(self) -> Iterator[Problem]:
        lists: list[tuple[str, Any]] = [
            ("never", [glob_of(entry) for entry in self.expect.never]),
            ("may_poll", self.expect.may_poll),
            ("others", self.expect.others if isinstance(self.expect.others, list) else []),
        ]
        for key, globs in lists:
            for i, glob in enumerate(globs):
                yield from self.task.check_glob(glob, (*self.at, key, i))
        for i, call in enumerate(self.calls):
            if _is_optional(call):
                continue
            path: ValuePath = (*self.at, "calls", i)
            globs = [entry for entry in self.expect.never if isinstance(entry, str)]
            never = next((glob for glob in globs if fits_any(call.tool, [glob])), None)
            if never is not None:
                message = f"`{call.name}` is required, and `never: {never}` forbids `{call.tool}`"
                yield self.file.problem_at(path, f"{message}; take one of the two out")
            if self._has_approval(call, "deny"):
                message = f"`{call.name}` is required, and its approval is denied"
                yield self.file.problem_at(
                    path, f"{message}; approve it, or make the call optional"
                )

    def _check_limits(self) -> Iterator[Problem]:
        required = sum(_least_calls(c) for c in self.calls)
        most = self.expect.at_most.calls
        if most is not None and most < required:
            message = f"at most {most} calls are allowed, and {required} are required"
            yield self.file.problem_at((*self.at, "at_most", "calls"), message)

    # Answer, state and failures

    def _check_answer(self, answer: AnswerCheck, path: ValuePath) -> Iterator[Problem]:
        yield from self._check_mentions(answer, path)
        if answer.by is not None:
            for key in sorted({"data", "claims_tools"} & answer.model_fields_set):
                message = f"`{key}` looks at the reply's data; what a stage says is a text"
                yield self.file.problem_at((*path, key), message)
        for key, pattern in (("matches", answer.matches), ("not_matches", answer.not_matches)):
            if pattern is not None:
                yield from check_regex(self.file, pattern, (*path, key))
        for key, at in (("data", answer.data), ("claims_tools", answer.claims_tools)):
            yield from self._own_path(at, (*path, key))
        if answer.json_ is not None:
            yield from _schema_of(self.file, answer.json_, (*path, "json"))
        if "is_" in answer.model_fields_set:
            if answer.data is None:
                yield self.file.problem_at(
                    (*path, "is"), "`is` goes with `data`, the path of a field"
                )
            yield from self._check_matcher(answer.is_, (*path, "is"))

    def _check_mentions(self, answer: AnswerCheck, path: ValuePath) -> Iterator[Problem]:
        where = (*path, "mentions")
        source: ValueSource | None = None
        if isinstance(answer.mentions, dict) and "from" in answer.mentions:
            read = self._source_of(answer.mentions, where)
            if isinstance(read, Problem):
                yield read
                return
            source = read
            yield from self._check_from(None, source, where=where, here=set())
        for key in sorted({"at_least", "only"} & answer.model_fields_set):
            if "mentions" not in answer.model_fields_set:
                yield self.file.problem_at((*path, key), f"`{key}` goes with `mentions`")
        found_in_text = source is not None and bool(source.pattern or source.of == "links")
        if answer.only and not found_in_text and answer.as_ in (None, "text"):
            message = "`only` has to know what else in the answer is such a value"
            message += ": give a `pattern`, `of: links`, or `as: number`, `day` or `time`"
            yield self.file.problem_at((*path, "only"), message)

    def _own_path(self, at: str | None, where: ValuePath) -> Iterator[Problem]:
        try:
            if at is not None:
                check_path(at)
        except PathError as error:
            yield self.file.problem_at(where, str(error))

    def _check_matcher(self, spec: Any, where: ValuePath) -> Iterator[Problem]:
        matcher = self._compile_matcher(spec, where)
        if isinstance(matcher, Problem):
            yield matcher
            return
        for source in matcher.sources:
            yield from self._check_from(None, source, where=where, here=set())

    def _check_state(self) -> Iterator[Problem]:
        for i, state in enumerate(self.expect.state):
            path: ValuePath = (*self.at, "state", i)
            yield from self._own_path(state.path, (*path, "path"))
            if "is_" in state.model_fields_set:
                yield from self._check_matcher(state.is_, (*path, "is"))
            if state.from_ is not None:
                if state.from_ not in self.names.truths:
                    hint = did_you_mean(state.from_, self.names.truths)
                    yield self.file.problem_at((*path, "from"), f"`{state.from_}`: no truth{hint}")
                else:
                    yield from self._check_path(state.from_, state.path, (*path, "path"))
                    truth = next(t for t in self.task.task.truth if t.as_ == state.from_)
                    if state.changed and truth.when != "both":
                        message = f"`{state.from_}` is looked up {truth.when} only"
                        message += "; say `when: both`"
                        yield self.file.problem_at((*path, "changed"), message)
            elif self.task.around.servers is not None:
                yield from self._check_stateful(str(state.server), (*path, "server"))

    def _check_stateful(self, server: str, where: ValuePath) -> Iterator[Problem]:
        modes = self.task.suite.servers
        if server not in modes:
            hint = did_you_mean(server, modes)
            yield self.file.problem_at(where, f"`{server}` is not a server of this suite{hint}")
        elif modes[server] != MOCK and self.task.around.has_mode(server, modes[server]):
            file = (self.task.around.servers or {})[server]
            if modes[server] != RECORDED and file.state is not None:
                return
            message = f"`{server}` is {modes[server]} here, and has no state that can be looked at"
            advice = "say `state: {tool: …}` in its file, or look it up as a `truth`"
            yield self.file.problem_at(where, f"{message}; {advice}", note=True)

    def _check_failures(self) -> Iterator[Problem]:
        rules, path = self.expect.failures, (*self.at, "failures")
        if rules.write is not None and rules.write not in self.names.calls:
            hint = did_you_mean(rules.write, self.names.calls)
            yield self.file.problem_at((*path, "write"), f"`{rules.write}`: no expected call{hint}")
        if (rules.claims is None) != (rules.write is None):
            missing = "write" if rules.write is None else "claims"
            yield self.file.problem_at(
                path, f"`claims` and `write` go together; `{missing}` is missing"
            )
        for key, pattern in (("tells_user", rules.tells_user), ("claims", rules.claims)):
            if pattern is not None:
                yield from check_regex(self.file, pattern, (*path, key))
        for i, glob in enumerate(rules.recovers.by if rules.recovers else ()):
            yield from self.task.check_glob(glob, (*path, "recovers", "by", i))


def _is_optional(call: ExpectedCall) -> bool:
    return _least_calls(call) == 0


def _least_calls(call: ExpectedCall) -> int:
    if call.optional or call.each is not None:
        return 0
    return call.times.min if isinstance(call.times, Times) else call.times or 1


def check_matcher(file: YamlFile, spec: Any, path: ValuePath) -> Iterator[Problem]:
    """A matcher that is none, or that looks at what is not there yet."""
    mistake = mistaken_matcher(spec)
    try:
        matcher = compile_matcher(spec)
    except (MatcherError, PathError) as error:
        mistake = mistake or str(error).split("\n")[0]
    else:
        if matcher.sources:
            mistake = mistake or "no result can be looked at here"
    if mistake:
        yield file.problem_at(path, mistake)


def check_regex(file: YamlFile, pattern: str, path: ValuePath) -> Iterator[Problem]:
    """A pattern that is none."""
    try:
        compiled(pattern)
    except PatternError as error:
        yield file.problem_at(path, f"`{pattern[:60]}`: {error}")


def _schema_of(file: YamlFile, schema: Any, path: ValuePath) -> Iterator[Problem]:
    try:
        fault = definition_fault(schema)
    except GivenUp as error:
        fault = (), str(error)
    if fault is not None:
        yield file.problem_at((*path, *fault[0]), f"no JSON Schema: {fault[1]}")
    for reference in foreign_references(schema):
        yield file.problem_at(path, f"`{reference}` leads out of the schema, and is never followed")
