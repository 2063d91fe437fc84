"""Checks of where a script takes values from, and of matchers and patterns."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from ferox.core.json_paths import PathError
from ferox.core.json_paths import check_path as compiled_path
from ferox.core.matcher import Matcher, MatcherError
from ferox.core.matchers import compile_matcher
from ferox.core.mistaken_matchers import mistaken_matcher
from ferox.core.moment_matchers import source_of as read_source_of
from ferox.core.schema_paths import element_types, schemas_at, types_of, unlikely_name
from ferox.core.value_sources import ValueSource
from ferox.formats.suite import Expect, ExpectedCall, Times
from ferox.intake.patterns import PatternError
from ferox.intake.patterns import compile_pattern as compiled
from ferox.intake.yaml_text import ValuePath
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.yaml_files import YamlFile

if TYPE_CHECKING:
    from ferox.workspace.check_suite import TaskCheck


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


@dataclass
class SourceChecks:
    """What the checks of a task's expectations share: the task, the place of the expectations in
    its file, and the names that they may refer to."""

    task: TaskCheck
    expect: Expect
    at: ValuePath
    names: KnownNames

    @property
    def file(self) -> YamlFile:
        """The file that the task stands in."""
        return self.task.file

    def matcher_of(self, spec: Any, where: ValuePath, schema: Any = None) -> Matcher | Problem:
        """A matcher of the script, or what is wrong with it."""
        mistake = mistaken_matcher(spec, schema)
        if mistake:
            return self.file.problem_at(where, mistake)
        try:
            return compile_matcher(spec)
        except (MatcherError, PathError) as error:
            return self.file.problem_at(where, str(error).split("\n")[0])

    def source_of(self, spec: dict[str, Any], where: ValuePath) -> ValueSource | Problem:
        """A source of the script, or what is wrong with it."""
        try:
            return read_source_of(spec)
        except (MatcherError, PathError) as error:
            return self.file.problem_at(where, str(error).split("\n")[0])

    def check_from(
        self, call: ExpectedCall | None, values: ValueSource, where: ValuePath, here: set[str]
    ) -> Iterator[Problem]:
        """A source that is not there, comes later, or holds nothing at its path."""
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
            if call is not None and there is not None and is_optional(there):
                message = (
                    f"`{source}` is optional: when it is not called, it is enough that the value"
                )
                message += " was seen before; say `seen: true`, or require the call"
                yield self.file.problem_at(where, message, note=True)
            if values.path is not None:
                yield from self.check_path(source, values.path, where)

    def _output_schema(self, source: str) -> Any:
        """The schema of what a truth or a call gives; None if nobody tells."""
        tool = self.names.find_tool(source)
        return (self.task.find_tool(tool) or {}).get("outputSchema") if tool else None

    def check_path(self, source: str, path: Any, where: ValuePath) -> Iterator[Problem]:
        """A path that nothing can stand at in what a tool gives."""
        schema = self._output_schema(source)
        try:
            compiled_path(str(path))
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

    def check_kinds(
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


def is_optional(call: ExpectedCall) -> bool:
    """Whether a trial may do without a call."""
    return least_calls(call) == 0


def least_calls(call: ExpectedCall) -> int:
    """How many calls of it a trial must make."""
    if call.optional or call.each is not None:
        return 0
    return call.times.min if isinstance(call.times, Times) else call.times or 1
