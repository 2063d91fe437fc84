"""A task as a picture: the conversation, the expected calls and what is forbidden."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from typing import Any

from ferox.core.json_paths import PathError
from ferox.core.json_values import brief_json
from ferox.core.matcher import Matcher, MatcherError
from ferox.core.matchers import compile_matcher
from ferox.core.moment_matchers import source_of
from ferox.core.naming import counted_noun
from ferox.core.script import glob_of, named_steps, parts_of
from ferox.core.story import fits_any
from ferox.core.value_sources import ValueSource, is_source
from ferox.formats.suite import (
    AnswerCheck,
    Budget,
    Count,
    Expect,
    ExpectedCall,
    Part,
    ServerAnswer,
    StageStep,
    StageTools,
    StateCheck,
    Task,
    Times,
    TruthLookup,
)
from ferox.intake.yaml_text import ValuePath
from ferox.web.tasks import shapes
from ferox.workspace.yaml_files import YamlFile


def task_picture(file: YamlFile, place: int, task: Task) -> shapes.PictureShape:
    """The picture of the task at a place of a suite's file."""
    at: ValuePath = ("tasks", place)
    several = task.parts is not None
    parts = []
    for n, part in enumerate(parts_of(task)):
        path = (*at, "parts", n) if several else at
        parts.append(_part_picture(file, path, task, part))
    whole = task.expect if several else Expect()
    return shapes.PictureShape(
        task=task.task,
        title=task.title,
        parts=parts,
        truths=[_truth_picture(t) for t in task.truth],
        given=[g for name, given in task.given.items() for g in _given_picture(name, given)],
        faults=[_fault_picture(f) for f in task.faults],
        whole=_limit_pictures(file, (*at, "expect"), whole),
        budget=list(_budget_texts(task.budget)),
        approvals=[_approval_picture(a) for a in task.approvals],
        answers=[
            _answer_picture(entry)
            for entries in (task.answers, *(part.answers for part in task.parts or ()))
            for entry in entries
        ],
    )


def _line_of(file: YamlFile, path: ValuePath) -> int:
    return file.problem_at(path, "").line


def _part_picture(file: YamlFile, path: ValuePath, task: Task, part: Part) -> shapes.PartPicture:
    expects: list[tuple[Expect, ValuePath]] = [
        (one, (*path, "expect", "either", i)) for i, one in enumerate(part.expect.either or ())
    ] or [(part.expect, (*path, "expect"))]
    return shapes.PartPicture(
        say=part.say,
        fresh=part.fresh,
        line=_line_of(file, (*path, "say")),
        rules=[
            shapes.RulePicture(
                matches=rule.if_reply.matches,
                say=rule.say,
                grants=rule.grants,
                at_most=rule.at_most,
                line=_line_of(file, (*path, "user", i)),
            )
            for i, rule in enumerate(part.user)
        ],
        ways=[_alternative_picture(file, at, task, expect) for expect, at in expects],
    )


def _alternative_picture(
    file: YamlFile, at: ValuePath, task: Task, expect: Expect
) -> shapes.AlternativePicture:
    calls = [
        _call_picture(call, _line_of(file, (*at, "calls", i)), task)
        for i, call in enumerate(expect.calls or ())
    ]
    limits = _limit_pictures(file, at, expect)
    if expect.calls == []:
        limits = [
            shapes.LimitPicture(text="no tool is to be called", line=_line_of(file, at)),
            *limits,
        ]
    named = {call.name for call in expect.calls or ()}
    order = [[step for step in named_steps(chain) if step in named] for chain in expect.order]
    return shapes.AlternativePicture(calls=calls, order=order, limits=limits)


def _call_picture(call: ExpectedCall, line: int, task: Task) -> shapes.CallPicture:
    args = []
    for name, spec in call.args.items():
        description, sources = brief_json(spec), []
        with suppress(MatcherError, PathError):
            matcher: Matcher = compile_matcher(spec)
            description, sources = matcher.description, [s.name for s in matcher.sources]
        args.append(shapes.ArgPicture(name=name, description=description, sources=sources))
    if call.each:
        description = f"each of {ValueSource.of_entry(call.each)}"
        args.append(
            shapes.ArgPicture(
                name=call.each.arg, description=description, sources=[call.each.from_]
            )
        )
    approval = next((a for a in task.approvals if fits_any(call.tool, [a.tool])), None)
    return shapes.CallPicture(
        name=call.name,
        tool=call.tool,
        by=call.by,
        args=args,
        optional=call.optional,
        often=_times_text(call),
        only_args=call.only_args,
        as_approved=call.as_approved,
        after_grant=call.after_grant,
        approval=approval.decision if approval else None,
        line=line,
    )


def _times_text(call: ExpectedCall) -> str | None:
    if call.each:
        return "one for each item"
    if isinstance(call.times, Times):
        return f"{call.times.min} to {call.times.max} times"
    return f"{call.times} times" if call.times and call.times > 1 else None


def _limit_pictures(file: YamlFile, at: ValuePath, expect: Expect) -> list[shapes.LimitPicture]:
    return [
        shapes.LimitPicture(text=text, line=_line_of(file, (*at, *path)), forbids=forbids)
        for path, text, forbids in _texts_of(expect)
    ]


def _texts_of(expect: Expect) -> Iterator[tuple[ValuePath, str, bool]]:
    for i, entry in enumerate(expect.never):
        by = f" by {entry.by}" if isinstance(entry, StageTools) else ""
        yield ("never", i), f"never {glob_of(entry)}{by}", True
    for i, chain in enumerate(expect.order):
        named = {call.name for call in expect.calls or ()}
        # Stages and answers have no box of their own in the drawing.
        if any(isinstance(step, StageStep) or step not in named for step in chain):
            steps = (f"all of {s.by}" if isinstance(s, StageStep) else s for s in chain)
            yield ("order", i), " before ".join(steps), False
    if expect.code and expect.code.matches:
        yield ("code", "matches"), f"the code matches /{expect.code.matches}/", False
    if expect.code and expect.code.never:
        yield ("code", "never"), f"the code never matches /{expect.code.never}/", True
    match expect.others:
        case "forbidden":
            yield ("others",), "no other call", True
        case list():
            yield ("others",), f"other calls only of {', '.join(expect.others)}", True
        case "allowed":
            yield ("others",), "other calls are allowed", False
    for key, most in expect.at_most.model_dump(exclude_none=True).items():
        what = f"{most} times the same call"
        if key != "same_call":
            what = counted_noun(most, _MOST[key])
        yield ("at_most", key), f"at most {what}", True
    for i, glob in enumerate(expect.may_poll):
        yield ("may_poll", i), f"may poll {glob}", False
    for i, answer in enumerate(expect.answer):
        what = "the answer" if answer.by is None else f"what {answer.by} says"
        yield ("answer", i), f"{what} {answer_text(answer)}", False
    for i, state in enumerate(expect.state):
        yield ("state", i), state_text(state), False
    rules = expect.failures
    if rules.recovers:
        text = f"a failure is made up for by {', '.join(rules.recovers.by)}"
        yield ("failures", "recovers"), text, False
    if rules.tells_user:
        yield ("failures", "tells_user"), f"or told to the user: /{rules.tells_user}/", False
    if rules.claims:
        text = f"never claims /{rules.claims}/ without {rules.write}"
        yield ("failures", "claims"), text, True


_MOST = {"calls": "call", "turns": "turn", "questions": "server's question"}


def answer_text(spec: AnswerCheck) -> str:
    """What one demand on the reply asks, in words."""
    if spec.matches is not None:
        return f"matches /{spec.matches}/"
    if spec.not_matches is not None:
        return f"does not match /{spec.not_matches}/"
    if spec.json_ is not None:
        return f"is JSON that fits {brief_json(spec.json_)}"
    if spec.data is not None:
        return f"has in its data {spec.data}: {matcher_text(spec.is_)}"
    if spec.claims_tools is not None:
        return f"names at {spec.claims_tools} exactly the tools called"
    if spec.values is not None:
        return "holds no value from nowhere"
    as_ = f", as a {spec.as_}" if spec.as_ else ""
    in_order = ", in this order" if spec.in_order else ""
    wanted = spec.mentions
    often = "" if spec.at_least is None else f"at least {spec.at_least} of "
    only = ", and no others" if spec.only else ""
    what = brief_json(wanted)
    with suppress(MatcherError, PathError):
        what = str(source_of(wanted)) if is_source(wanted) else what
    return f"mentions {often}{what}{as_}{in_order}{only}"


def state_text(spec: StateCheck) -> str:
    """What one demand on the state asks, in words."""
    of = f"{spec.server or spec.from_}"
    changed = {True: f"what changed in {of}", "gone": f"what went from {of}"}
    where = f"{spec.path} of {changed.get(spec.changed, of)}"
    if isinstance(spec.count, Count):
        low, high = spec.count.min or 0, spec.count.max
        return f"at the end {low}{f' to {high}' if high is not None else ' or more'} at {where}"
    if spec.count is not None:
        return f"at the end {spec.count} at {where}"
    return f"at the end {where} is {matcher_text(spec.is_)}"


def matcher_text(spec: Any) -> str:
    """A matcher in words; as it is written, if it cannot be understood."""
    try:
        return compile_matcher(spec).description
    except (MatcherError, PathError):
        return brief_json(spec)


def _budget_texts(budget: Budget) -> Iterator[str]:
    for key, limit in budget.model_dump(exclude_none=True, exclude={"by"}).items():
        yield f"{key} ≤ {limit:g}"
    for stage, of_stage in budget.by.items():
        for key, limit in of_stage.model_dump(exclude_none=True).items():
            yield f"{key} by {stage} ≤ {limit:g}"


def _truth_picture(truth: TruthLookup) -> str:
    when = "before and after" if truth.when == "both" else truth.when
    return f"{truth.as_}: {truth.tool} {brief_json(truth.args)}, looked up {when} the trial"


def _given_picture(name: str, given: Any) -> Iterator[str]:
    for change in given.change:
        yield f"{name}: {change.op} {change.path} {brief_json(change.value, 40)}"
    for tool in given.answers:
        yield f"{name}/{tool} answers otherwise"


def _fault_picture(fault: Any) -> str:
    where = f"{fault.server or '*'}/{fault.tool or '*'}"
    if fault.do.startswith("model_"):
        where = "the model"
    when = (
        f"call {fault.call}"
        if fault.call
        else f"{fault.rate:.0%} of calls"
        if fault.rate
        else "every call"
    )
    return f"{fault.do.replace('_', ' ')} at {where}, {when}"


def _answer_picture(entry: ServerAnswer) -> str:
    ways = {"decline": "declined", "cancel": "left unanswered", "accept": "agreed to"}
    how = next((words for key, words in ways.items() if getattr(entry, key)), "")
    how = how or f"answered {brief_json(entry.give)}"
    return f"what {entry.server} asks: {matcher_text(entry.if_message)}: {how}"


def _approval_picture(entry: Any) -> str:
    edit = f", edited: {brief_json(entry.edit)}" if entry.edit else ""
    return f"{entry.tool}: {'approved' if entry.decision == 'approve' else 'denied'}{edit}"
