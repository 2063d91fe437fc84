"""What a model was shown in one request, put together again from its pieces."""

from __future__ import annotations

from typing import Any

from ferox.core.fault_words import describe_injection
from ferox.core.json_values import canonical_json
from ferox.formats.suite import Task
from ferox.formats.trace import ModelEvent, Trace
from ferox.store.database import Session
from ferox.store.pieces import read_pieces
from ferox.store.traces import read_model_request
from ferox.web.responses import NotThere
from ferox.web.trials import shapes

NOT_KEPT = "not kept: "


def model_request_shape(
    session: Session, trial: int, trace: Trace, task: Task, event_id: str
) -> shapes.ModelRequestShape:
    """A request to a model, beside the request before it of the same voice.

    Raises:
        NotThere: there is no such request, or it was not kept.
    """
    models = [e for e in trace["events"] if e["kind"] == "model"]
    event = next((e for e in models if e.get("id") == event_id), None)
    if event is None:
        raise NotThere(f"there is no request {event_id} to a model in trial {trial}")
    kept = read_model_request(session, trial, event_id)
    if kept is None:
        raise NotThere("what the model was shown was not kept (`keep` in ferox.yaml)")
    place = models.index(event)
    before = next(
        (e for e in reversed(models[:place]) if e.get("voice") == event.get("voice")), None
    )
    earlier = read_model_request(session, trial, before["id"]) if before else None
    hashes = [*_hashes_of(kept), *(_hashes_of(earlier) if earlier else ())]
    pieces = read_pieces(session, [h for h in hashes if _not_kept(h) is None])
    same = _same_start(kept["messages"], earlier["messages"]) if earlier else 0
    tools = _shown_tools(kept, event, trace, pieces)
    before_tools = [pieces.get(h) or {} for h in earlier["tools"]] if earlier else []
    earlier_tools = {str(tool.get("name")) for tool in before_tools}
    names = {tool.name for tool in tools}
    error = event.get("error")
    return shapes.ModelRequestShape(
        id=event_id,
        voice=event.get("voice"),
        t=event["t"],
        s=event.get("s"),
        usage=dict(event.get("usage") or {}) or None,
        error=error["message"] if error else None,
        injected=describe_injection(event.get("fault"), event.get("fault_n"), task.faults),
        interface=kept["interface"],
        messages=[
            shapes.MessageShape(
                body=pieces.get(h), not_kept=_not_kept(h), new=bool(earlier) and n >= same
            )
            for n, h in enumerate(kept["messages"])
        ],
        tools=tools,
        parameters=pieces.get(kept["parameters"]),
        answer=pieces.get(kept["answer"] or ""),
        before=str(before["id"]) if before and earlier else None,
        dropped=len(earlier["messages"]) - same if earlier else 0,
        tools_added=sorted(names - earlier_tools) if earlier else [],
        tools_removed=sorted(earlier_tools - names) if earlier else [],
        not_kept=sum(_not_kept(h) or 0 for h in _hashes_of(kept)),
    )


def _hashes_of(kept: dict[str, Any]) -> list[str]:
    one = [h for h in (kept["parameters"], kept["answer"]) if h]
    return [*kept["messages"], *kept["tools"], *one]


def _not_kept(hashed: str) -> int | None:
    """How many characters of a piece were not kept; None if it was."""
    return int(hashed.removeprefix(NOT_KEPT)) if hashed.startswith(NOT_KEPT) else None


def _same_start(now: list[str], before: list[str]) -> int:
    """How many of the first messages are the same."""
    return next((n for n, (a, b) in enumerate(zip(now, before, strict=False)) if a != b),
                min(len(now), len(before)))  # fmt: skip


def _shown_tools(
    kept: dict[str, Any], event: ModelEvent, trace: Trace, pieces: dict[str, Any]
) -> list[shapes.ShownToolShape]:
    """The tools of a request, in their order, each beside what its server offers."""
    offered = event.get("offered") or []
    shown = []
    for n, hashed in enumerate(kept["tools"]):
        tool = pieces.get(hashed) or {}
        address = offered[n] if n < len(offered) else f"own/{tool.get('name')}"
        served = trace["tools"].get(address) if not address.startswith("own/") else None
        differs = []
        if served is not None and tool:
            name = served.get("name") or address.split("/", 1)[1]
            pairs = (
                ("name", tool["name"], name),
                ("description", (tool["description"] or "").strip(),
                 (served.get("description") or "").strip()),
                ("input", canonical_json(tool["input"]), canonical_json(served.get("input") or {})),
            )  # fmt: skip
            differs = [part for part, a, b in pairs if a != b]
        shown.append(
            shapes.ShownToolShape(
                name=str(tool.get("name") or address.split("/", 1)[1]),
                address=address,
                description=tool.get("description"),
                input=tool.get("input"),
                differs=differs,
                served=dict(served) if served is not None and differs else None,
                not_kept=_not_kept(hashed),
            )
        )
    return shown
