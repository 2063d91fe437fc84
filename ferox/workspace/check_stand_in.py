"""Checks of a stand-in's file: its patterns, and the results that its words are made of."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ferox.core.expressions import ExpressionError, names_used
from ferox.formats.stand_in import Intent, StandInFile
from ferox.intake.patterns import PatternError, compile_pattern
from ferox.intake.yaml_text import ValuePath
from ferox.workspace.problems import Problem, did_you_mean
from ferox.workspace.yaml_files import YamlFile


def check_stand_in(file: YamlFile, document: StandInFile) -> Iterator[Problem]:
    """Everything in a stand-in's file that its schema cannot tell."""
    for i, scene in enumerate(document.scenes):
        try:
            compile_pattern(scene.heeds or "")
        except PatternError as error:
            yield file.problem_at(("scenes", i, "heeds"), f"`heeds`: {error}")
        yield from _check_intents(file, scene.does, ("scenes", i, "does"), results=set())


def _check_intents(
    file: YamlFile, intents: Sequence[Intent], at: ValuePath, *, results: set[str]
) -> Iterator[Problem]:
    """Names of results that no intent before brings; `results` grows by those that these bring."""
    for i, intent in enumerate(intents):
        here = (*at, i)
        sources = {("values", name): value.from_ for name, value in intent.values.items()}
        if intent.each:
            sources["each", "from"] = intent.each.from_
        for place, source in sources.items():
            if source is not None and source not in results:
                yield file.problem_at((*here, *place), _unknown_result(source, results))
        if intent.say is not None:
            try:
                unknown = names_used(intent.say, getter="value_of") - results
            except ExpressionError as error:
                yield file.problem_at((*here, "say"), str(error))
            else:
                for name in sorted(unknown):
                    yield file.problem_at((*here, "say"), _unknown_result(name, results))
        yield from _check_intents(file, intent.if_failed, (*here, "if_failed"), results=results)
        if intent.as_:
            results.add(intent.as_)


def _unknown_result(name: str, results: set[str]) -> str:
    hint = did_you_mean(name, results) if results else "; none does"
    return f"`{name}`: no intent before this one brings a result of that name{hint}"
