"""The two tracks of a trial as a still picture: the script's calls above, the agent's below."""

from __future__ import annotations

from typing import NamedTuple

from ferox.core.script import Script
from ferox.core.story import Call, read_story
from ferox.formats.result import Result
from ferox.formats.trace import Trace

STEP, LEFT, MOST = 96, 70, 40
"""Pixels between two calls and before the first; calls that are drawn."""
LONGEST_LABEL = 14


class Node(NamedTuple):
    """An expected call: `state` is matched or missing."""

    x: int
    label: str
    state: str
    why: str


class Bar(NamedTuple):
    """A call of the agent's: `role` is matched, attempt or extra."""

    x: int
    label: str
    role: str
    wrong_arguments: bool
    failed: bool


class Join(NamedTuple):
    """From an expected call to the one that answers it, or tried to; `crossed`: out of order."""

    top: int
    bottom: int
    attempt: bool
    crossed: bool


class TracksPicture(NamedTuple):
    """The picture, and the same in words."""

    width: int
    nodes: list[Node]
    bars: list[Bar]
    joins: list[Join]
    left_out: int
    words: str


def draw_tracks(trace: Trace, result: Result, script: Script) -> TracksPicture:
    """Lay out a trial's tracks, a step for each call."""
    calls = read_story(trace).calls
    shown = calls[:MOST]
    places = {call.id: LEFT + STEP * i for i, call in enumerate(shown)}
    names = _expected_names(script, result)
    missing = {one["name"]: one["why"] for one in result["missing"]}
    tops = {name: LEFT + STEP * i for i, name in enumerate(names)}
    nodes = [_make_node(name, tops[name], result, missing) for name in names]
    wrong = {
        id
        for check in result["checks"]
        if check["family"] == "arguments" and check["passed"] is False
        for id in check["calls"]
    }
    late = _late_calls(result)
    role_of = {id: "matched" for ids in result["matched"].values() for id in ids}
    role_of |= {id: "attempt" for ids in result["attempts"].values() for id in ids}
    bars = [
        _make_bar(call, places[call.id], role_of.get(call.id, "extra"), wrong) for call in shown
    ]
    joins = [
        Join(tops[name], places[id], attempt=attempt, crossed=not attempt and id in late)
        for attempt, found in ((False, result["matched"]), (True, result["attempts"]))
        for name, ids in found.items()
        for id in ids
        if id in places and name in tops
    ]
    return TracksPicture(
        width=LEFT + STEP * max(len(names), len(shown), 1),
        nodes=nodes,
        bars=bars,
        joins=joins,
        left_out=len(calls) - len(shown),
        words=_in_words(nodes, bars),
    )


def _late_calls(result: Result) -> set[str]:
    """The calls that came before what should have been answered first; not those whose neighbour
    was never called."""
    name_of = {id: name for name, ids in result["matched"].items() for id in ids}
    found = set()
    for check in result["checks"]:
        if check["family"] != "order" or check["passed"] is not False or len(check["calls"]) < 2:
            continue
        last = check["calls"][-1]
        if check["id"].endswith(f".{name_of.get(last)}"):
            found.add(last)
    return found


def _expected_names(script: Script, result: Result) -> list[str]:
    """The expected calls of the alternatives that were judged, those that were optional and not
    made left out."""
    parts = script.with_alternatives(result["alternatives"]).parts
    listed = [expected.name for part in parts for expected in part.expected]
    missing = {one["name"] for one in result["missing"]}
    return [n for n in dict.fromkeys(listed) if n in result["matched"] or n in missing][:MOST]


def _make_node(name: str, x: int, result: Result, missing: dict[str, str]) -> Node:
    state = "missing" if name in missing else "matched"
    return Node(x, _fitted_label(name), state, missing.get(name, "").replace("_", " "))


def _make_bar(call: Call, x: int, role: str, wrong: set[str]) -> Bar:
    label = _fitted_label(call.tool.split("/", 1)[1])
    return Bar(x, label, role, wrong_arguments=call.id in wrong, failed=call.failed)


def _fitted_label(text: str) -> str:
    return text if len(text) <= LONGEST_LABEL else f"{text[: LONGEST_LABEL - 1]}…"


def _in_words(nodes: list[Node], bars: list[Bar]) -> str:
    expected = ", ".join(f"{node.label} ({node.state})" for node in nodes) or "no call"
    made = ", ".join(_bar_words(bar) for bar in bars) or "no call"
    return f"Expected: {expected}. Made: {made}."


def _bar_words(bar: Bar) -> str:
    more = ["failed"] * bar.failed + ["wrong arguments"] * bar.wrong_arguments
    return f"{bar.label} ({', '.join([bar.role, *more])})"
