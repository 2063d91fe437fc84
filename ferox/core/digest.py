"""A trial told in plain text, short enough to paste into a message."""

from __future__ import annotations

from ferox.core.json_values import brief_json
from ferox.core.story import read_story
from ferox.formats.result import FAMILIES, Result
from ferox.formats.trace import Event, Trace


def _quoted_text(text: str | None, limit: int = 160) -> str:
    flat = " ".join((text or "").split())
    return f"“{flat}”" if len(flat) <= limit else f"“{flat[: limit - 1]}…”"


def _event_line(event: Event, names: dict[str, str]) -> str | None:
    at = f"{event['t']:7.2f} s"
    match event["kind"]:
        case "turn":
            return f"{at}  user   {_quoted_text(event.get('text'))}"
        case "reply":
            return f"{at}  agent  {_quoted_text(event.get('text'))}"
        case "ask":
            return f"{at}  ask    {event['tool']} {event.get('decision')}"
        case "question":
            asked = f"{event.get('server') or 'a server'} {_quoted_text(event.get('text'), 80)}"
            return f"{at}  asked  {asked} {event.get('did')}"
        case "call":
            what = f"{event['tool']} {brief_json(event.get('args'), 80)}"
            error = event.get("error")
            if error:
                came = f"{error['kind']}: {_quoted_text(error['message'], 80)}"
            elif event.get("s") is None:
                came = "never answered"
            else:
                came = brief_json(event.get("result"), 80)
            role = names.get(event.get("id", ""), "")
            return f"{at}  call   {what} → {came}{f'  [{role}]' if role else ''}"
        case "end" if event.get("why") != "done":
            return f"{at}  end    {event.get('why')}: {event.get('reason')}"
    return None


def summarize_trial(trace: Trace, result: Result) -> str:
    """What happened, what failed, and the scores, a line each."""
    story = read_story(trace)

    def is_reply(event: Event) -> bool:
        return event["kind"] == "call" and story.is_reply_tool(event["tool"])

    names = {id: f"extra {id}" for id in result["extra"]}
    for kind, found in (("", result["matched"]), ("attempt at ", result["attempts"])):
        names |= {id: f"{kind}{name}" for name, ids in found.items() for id in ids}
    scores = ", ".join(
        f"{family} {'not tested' if value is None else format(value, '.2f')}"
        for family in FAMILIES
        for value in [result["scores"][family]]
    )
    verdict = result["verdict"] if result.get("judged", True) else "not judged"
    wrong = result.get("went_wrong")
    lines = [
        f"{trace['suite']}/{trace['task']} · {trace['agent']} · trial {trace['trial']}: "
        f"{verdict}" + (f" ({result['reason']})" if result["reason"] else ""),
        *([wrong["message"]] if wrong else []),
        scores,
        "",
        *filter(
            None, (_event_line(event, names) for event in trace["events"] if not is_reply(event))
        ),
    ]
    lines += [f"{'':7}    missing {m['name']}: {m['why']}" for m in result["missing"]]
    failed = [c for c in result["checks"] if c["passed"] is False]
    if failed:
        lines += ["", "failed checks:", *(f"  {c['id']}: {c['message']}" for c in failed)]
    return "\n".join(lines) + "\n"
