"""Checks of what a script expects: names, values, chains and paths."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from ferox.core.chains import path_between
from ferox.core.definitions import properties_of, required_of
from ferox.core.schema_fit import never_fits
from ferox.core.script import approves_sometime, glob_of, named_steps
from ferox.core.story import fits_any
from ferox.core.value_sources import ValueSource, is_source
from ferox.formats.suite import Expect, ExpectedCall, Times
from ferox.intake.yaml_text import ValuePath
from ferox.workspace.check_outcome import OutcomeChecks
from ferox.workspace.check_sources import (
    KnownNames,
    SourceChecks,
    check_regex,
    is_optional,
    least_calls,
)
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.yaml_files import YamlFile

if TYPE_CHECKING:
    from ferox.workspace.check_suite import TaskCheck

OF_THE_WHOLE = {"never", "at_most", "order", "may_poll", "failures", "state"}
"""What a task with `parts` may expect over all of them."""


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
class _Expectations(SourceChecks):
    part: int | None

    def __post_init__(self) -> None:
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
        outcome = OutcomeChecks(self.task, self.expect, self.at, self.names)
        yield from outcome.problems()

    # One expected call

    def _check_call(self, call: ExpectedCall, path: ValuePath, here: set[str]) -> Iterator[Problem]:
        yield from self.task.check_address(call.tool, (*path, "tool"))
        yield from self.task.given_args(call.tool, call.args, (*path, "args"))
        schema = (self.task.find_tool(call.tool) or {}).get("inputSchema") or {}
        required, properties = required_of(schema), properties_of(schema)
        for name, spec in call.args.items():
            where = (*path, "args", name)
            matcher = self.matcher_of(spec, where, properties.get(name))
            if isinstance(matcher, Problem):
                yield matcher
                continue
            for source in matcher.sources:
                self.flows.append((source.name, call.name))
                yield from self.check_from(call, source, where=where, here=here)
            if name in properties:
                why = never_fits(spec, properties[name], schema, name in required)
                if why:
                    yield self.file.problem_at(where, f"`{name}` can never be so: {why}")
                elif is_source(spec) and not matcher.sources[0].is_of_text:
                    yield from self.check_kinds(matcher.sources[0], properties[name], name, where)
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
        yield from self.check_from(call, source, where=where, here=here)
        yield from self.task.given_args(call.tool, {call.each.arg: None}, where)
        if call.each.arg in call.args:
            message = f"`{call.each.arg}` stands under `args` too; `each` gives it its value"
            yield self.file.problem_at(where, message)

    def _has_approval(self, call: ExpectedCall, decision: str) -> bool:
        entries = self.task.task.approvals
        there = any(fits_any(call.tool, [entry.tool]) for entry in entries)
        return there and approves_sometime(entries, call.tool) == (decision == "approve")

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
            if is_optional(call):
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
        required = sum(least_calls(c) for c in self.calls)
        most = self.expect.at_most.calls
        if most is not None and most < required:
            message = f"at most {most} calls are allowed, and {required} are required"
            yield self.file.problem_at((*self.at, "at_most", "calls"), message)
