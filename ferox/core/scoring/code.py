"""What a model wrote as code, of an agent that acts by code."""

from __future__ import annotations

import re

from ferox.core.json_values import brief_json
from ferox.core.scoring.evidence import PartEvidence, make_check
from ferox.core.story import to_micros
from ferox.formats.result import Check
from ferox.formats.trace import ModelEvent
from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern

_FENCED = re.compile(r"```[\w+-]{0,20}[ \t]*\n(.*?)(?:```|\Z)", re.S)
_TAGGED = re.compile(r"<code>(.*?)(?:</code>|\Z)", re.S)


def code_checks(part: PartEvidence) -> list[Check]:
    """`code.matches` and `code.never`, over all the code that was written in a part."""
    rules, story = part.script.expect.code, part.trial.story
    if rules is None:
        return []
    wanted = [("matches", rules.matches), ("never", rules.never)]
    asked = [(key, pattern) for key, pattern in wanted if pattern is not None]
    if not story.trace["model_seam"] or "words" in story.unseen:
        message = "not tested: what the model wrote was not seen"
        return [make_check("choice", f"code.{key}", None, message) for key, _ in asked]
    blocks = [
        block
        for event in story.models
        if part.contains_time(to_micros(event["t"]))
        for block in written_code(event)
    ]
    return [_code_check(key, pattern, "\n".join(blocks)) for key, pattern in asked]


def _code_check(key: str, pattern: str, code: str) -> Check:
    id = f"code.{key}"
    try:
        found = compile_pattern(pattern).first_match(code) if code else None
    except (GivenUp, PatternError) as error:
        return make_check("choice", id, None, f"not tested: {error}")
    if key == "never":
        message = "the code that the model wrote holds nothing that it must not"
        if found is not None:
            message = f"the model wrote {brief_json(found)} in its code, which it must not"
        return make_check("choice", id, found is None, message)
    if not code:
        return make_check("choice", id, False, "the model wrote no code")
    message = f"the model's code {'matches' if found is not None else 'does not match'} /{pattern}/"
    return make_check("choice", id, found is not None, message)


def written_code(event: ModelEvent) -> list[str]:
    """The code in a model's answer: what is fenced or in `<code>` tags in its text, and what
    it proposed as the `code` of a call."""
    text = event.get("text") or ""
    blocks = _TAGGED.findall(text) + _FENCED.findall(text)
    for proposal in event.get("proposed") or ():
        args = proposal["args"]
        if isinstance(args, dict) and isinstance(args.get("code"), str):
            blocks.append(args["code"])
    return [block for block in blocks if block.strip()]
