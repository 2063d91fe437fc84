"""Stages: which part of an agent did what, as far as voices and its link tell."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from ferox.core.scoring.evidence import PartEvidence, make_check
from ferox.core.story import Call, Story, fits_any, is_stage, to_micros
from ferox.formats.result import Check
from ferox.formats.suite import StageTools
from ferox.formats.trace import ModelEvent


class StageSpan(NamedTuple):
    """When a stage first and last did something, in microseconds; `end` None: it never ended."""

    start: int
    end: int | None
    calls: list[Call]


def stage_checks(part: PartEvidence) -> list[Check]:
    """`NAME.by`: whether the calls of an expected call were those of the stage that it names."""
    checks = []
    for copy, call in part.matched_pairs:
        stage = copy.expected.spec.by
        if stage is None:
            continue
        passed = None if call.by is None else is_stage(call.by, stage)
        message = f"{call.tool} was called by {call.by}"
        if passed is None:
            message = f"not tested: which stage called {call.tool} was not seen"
        elif not passed:
            message += f", not by {stage}"
        id = f"{copy.expected.name}.by"
        checks.append(make_check("choice", id, passed, message=message, calls=[call]))
    return checks


def never_by_stage(entry: StageTools, made: list[Call]) -> Check:
    """`never.GLOB.by.STAGE`: a tool that one stage must not call."""
    fitting = [call for call in made if fits_any(call.tool, [entry.tool])]
    calls = [call for call in fitting if is_stage(call.by, entry.by)]
    id, what = f"never.{entry.tool}.by.{entry.by}", f"{entry.tool}"
    if calls:
        message = f"{what} was called {len(calls)} × by {entry.by}"
        return make_check("choice", id, False, message=message, calls=calls)
    unknown = [call for call in fitting if call.by is None]
    if unknown:
        message = f"not tested: which stage called {unknown[0].tool} was not seen"
        return make_check("choice", id, None, message=message, calls=unknown)
    return make_check("choice", id, True, f"{what} was never called by {entry.by}")


def stages_seen(story: Story) -> list[str]:
    """The stages that spoke to a model or called a tool, in the order of the trace."""
    voices = [event.get("voice") for event in story.models]
    return list(dict.fromkeys(name for name in (*voices, *(c.by for c in story.calls)) if name))


def stage_models(story: Story, stage: str) -> list[ModelEvent]:
    """A stage's requests to the model."""
    return [event for event in story.models if is_stage(event.get("voice"), stage)]


def stage_span(story: Story, stage: str, part: PartEvidence | None) -> StageSpan | None:
    """All that a stage did, in a part or in the whole trial; None if nothing of it was seen."""
    calls = [call for call in story.calls if is_stage(call.by, stage)]
    spans: list[tuple[int, int | None]] = [(call.start, call.end) for call in calls]
    spans += list(_model_spans(stage_models(story, stage)))
    if part is not None:
        spans = [span for span in spans if part.contains_time(span[0])]
        calls = [call for call in calls if part.contains_time(call.start)]
    if not spans:
        return None
    ends = [end for _, end in spans if end is not None]
    last = max(ends) if len(ends) == len(spans) else None
    return StageSpan(min(start for start, _ in spans), last, calls)


def _model_spans(events: list[ModelEvent]) -> Iterator[tuple[int, int | None]]:
    for event in events:
        seconds = event.get("s")
        end = None if seconds is None else to_micros(event["t"] + seconds)
        yield to_micros(event["t"]), end


def said_by_stage(part: PartEvidence, stage: str) -> ModelEvent | str:
    """The answer in which a stage said its last words in a part, without proposing a call where
    it did so at all; else what is known where it said nothing that was seen."""
    story = part.trial.story
    if not story.trace["model_seam"]:
        return f"not tested: the model's traffic was not seen, so what {stage} said was not"
    events = [
        event
        for event in stage_models(story, stage)
        if event.get("text") and part.contains_time(to_micros(event["t"]))
    ]
    final = [event for event in events if not event.get("proposed")] or events
    if final:
        return final[-1]
    seen = ", ".join(stages_seen(story)) or "none"
    return f"{stage} said nothing in this part; the stages seen were {seen}"
