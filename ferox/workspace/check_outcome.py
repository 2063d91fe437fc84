"""Checks of what a script expects to come of a trial: answers, states and failures."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ferox.core.json_paths import PathError, check_path
from ferox.core.json_schema import definition_fault, foreign_references
from ferox.core.value_sources import ValueSource
from ferox.formats.suite import AnswerCheck
from ferox.intake.limits import GivenUp
from ferox.intake.yaml_text import ValuePath
from ferox.workspace.check_sources import SourceChecks, check_regex
from ferox.workspace.modes import MOCK, RECORDED
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.yaml_files import YamlFile


class OutcomeChecks(SourceChecks):
    """The checks of what is expected to come of a part, or of the whole."""

    def problems(self) -> Iterator[Problem]:
        """Everything that is wrong."""
        for i, answer in enumerate(self.expect.answer):
            yield from self._check_answer(answer, (*self.at, "answer", i))
        yield from self._check_state()
        yield from self._check_failures()

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
            read = self.source_of(answer.mentions, where)
            if isinstance(read, Problem):
                yield read
                return
            source = read
            yield from self.check_from(None, source, where=where, here=set())
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
        matcher = self.matcher_of(spec, where)
        if isinstance(matcher, Problem):
            yield matcher
            return
        for source in matcher.sources:
            yield from self.check_from(None, source, where=where, here=set())

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
                    yield from self.check_path(state.from_, state.path, (*path, "path"))
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


def _schema_of(file: YamlFile, schema: Any, path: ValuePath) -> Iterator[Problem]:
    try:
        fault = definition_fault(schema)
    except GivenUp as error:
        fault = (), str(error)
    if fault is not None:
        yield file.problem_at((*path, *fault[0]), f"no JSON Schema: {fault[1]}")
    for reference in foreign_references(schema):
        yield file.problem_at(path, f"`{reference}` leads out of the schema, and is never followed")
