"""What can be left out of a trial's task, offer and instructions."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator
from typing import Any, Literal, NamedTuple

from ferox.core.script import expected_tools
from ferox.formats.suite import Given, Suite, Task, UserRule
from ferox.formats.trace import Trace
from ferox.runs.snapshot import Snapshot

Kind = Literal["tool", "rule", "part", "given", "line"]
NOUNS: dict[Kind, tuple[str, str]] = {
    "tool": ("tool", "tools"),
    "rule": ("rule of the user", "rules of the user"),
    "part": ("part", "parts"),
    "given": ("given", "givens"),
    "line": ("line of the instructions", "lines of the instructions"),
}


class Piece(NamedTuple):
    """One thing that can be left out: its kind, where it stands, and how it is told."""

    kind: Kind
    place: tuple[Any, ...]
    words: str


def pieces_of(snapshot: Snapshot, trace: Trace, part: int | None) -> list[Piece]:
    """The pieces of a trial's snapshot, which holds one task and one agent. Tools that the script
    expects stay, for without them it would fail for another reason; of a task with parts those up
    to the check's own stay, by which checks are numbered."""
    suite, task, agent = the_only(snapshot)
    wanted = set(expected_tools(task))
    tools = sorted(a for a in trace["tools"] if a.split("/")[0] in suite.servers)
    found = [Piece("tool", (a,), a) for a in tools if a not in wanted]
    if task.parts and part is not None:
        found += [
            Piece("part", (n,), f"part {n + 1}: {one.say}")
            for n, one in enumerate(task.parts)
            if n > part
        ]
    for place, rules in [(None, task.user), *((n, p.user) for n, p in enumerate(task.parts or ()))]:
        found += [
            Piece("rule", (place, n), f"/{rule.if_reply.matches}/: {rule.say}")
            for n, rule in enumerate(rules)
        ]
    found += _givens(task)
    lines = snapshot.instructions.get(agent, "").splitlines()
    found += [Piece("line", (n,), line.strip()) for n, line in enumerate(lines) if line.strip()]
    return found


def _givens(task: Task) -> Iterator[Piece]:
    for server, given in task.given.items():
        for n, change in enumerate(given.change):
            yield Piece("given", (server, n), f"{server}: {change.op} {change.path}")
        for tool in given.answers:
            yield Piece("given", (server, tool), f"{server}: answers of {tool}")


def the_only(snapshot: Snapshot) -> tuple[Suite, Task, str]:
    """The suite, task and agent of a snapshot that has one of each."""
    (suite,) = snapshot.suites.values()
    (task,), (agent,) = suite.tasks, snapshot.agents
    return suite, task, agent


def with_pieces(snapshot: Snapshot, pieces: Collection[Piece], kept: Collection[Piece]) -> Snapshot:
    """A trial's snapshot with only some of its pieces."""
    gone: dict[Kind, set[tuple[Any, ...]]] = defaultdict(set)
    for piece in {*pieces} - {*kept}:
        gone[piece.kind].add(piece.place)
    suite, task, agent = the_only(snapshot)
    changed = _without(task, gone)
    if gone["tool"]:
        changed = changed.model_copy(update={"offer": _offer(suite, task, pieces, gone["tool"])})
    lines = snapshot.instructions.get(agent, "").splitlines(keepends=True)
    instructions = "".join(line for n, line in enumerate(lines) if (n,) not in gone["line"])
    return snapshot.model_copy(
        update={
            "suites": {suite.suite: suite.model_copy(update={"tasks": [changed]})},
            "instructions": {agent: instructions},
        }
    )


def _without(task: Task, gone: dict[Kind, set[tuple[Any, ...]]]) -> Task:
    update: dict[str, Any] = {}
    if gone["given"]:
        given = {s: _without_given(s, one, gone["given"]) for s, one in task.given.items()}
        update["given"] = {s: one for s, one in given.items() if one.change or one.answers}
    if gone["rule"] and task.user:
        update["user"] = _rules(task.user, None, gone["rule"])
    if task.parts and (gone["part"] or gone["rule"]):
        update["parts"] = [
            part.model_copy(update={"user": _rules(part.user, n, gone["rule"])})
            for n, part in enumerate(task.parts)
            if (n,) not in gone["part"]
        ]
    return task.model_copy(update=update)


def _rules(rules: list[UserRule], place: int | None, gone: set[tuple[Any, ...]]) -> list[UserRule]:
    return [rule for n, rule in enumerate(rules) if (place, n) not in gone]


def _without_given(server: str, given: Given, gone: set[tuple[Any, ...]]) -> Given:
    left: dict[str, Any] = {
        "change": [one for n, one in enumerate(given.change) if (server, n) not in gone],
        "answers": {t: one for t, one in given.answers.items() if (server, t) not in gone},
    }
    return Given(**{name: value for name, value in left.items() if value})


def _offer(
    suite: Suite, task: Task, pieces: Collection[Piece], gone: set[tuple[Any, ...]]
) -> dict[str, list[str]]:
    """The tools that are left, by server."""
    left = {piece.place[0] for piece in pieces if piece.kind == "tool"} - {one for (one,) in gone}
    left |= set(expected_tools(task))
    offer: dict[str, list[str]] = {server: [] for server in suite.servers}
    for address in sorted(left):
        server, tool = address.split("/", 1)
        if server in offer:
            offer[server].append(tool)
    return offer
