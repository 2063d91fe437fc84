"""What the families share: the script, the story, and which call answers what."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from ferox.core.json_values import found, nodes
from ferox.core.matchers import ABSENT, Situation
from ferox.core.matching import Matching, match
from ferox.core.script import Copy, Expected, Script
from ferox.core.story import Call, Story, fits_any
from ferox.formats.result import Check, Family


def check(
    family: Family, id: str, passed: bool | None, message: str, calls: Iterable[Call] = ()
) -> Check:
    """One criterion with its evidence."""
    return {
        "family": family,
        "id": id,
        "passed": passed,
        "message": message,
        "calls": [c.id for c in calls],
    }


def share(held: int, all_: int) -> float | None:
    """The part that holds, to 6 decimals; None if there was nothing to test."""
    return round(held / all_, 6) if all_ else None


def share_held(checks: list[Check]) -> float | None:
    """The part of the checks that passed, remarks aside."""
    decided = [c["passed"] for c in checks if c["passed"] is not None]
    return share(sum(decided), len(decided))


Pick = Callable[[Any, str], list[Any]]
"""Values at a path of a result."""


def _items(value: Any, path: str) -> list[Any]:
    """Its nodes, and of an only node that is a list its elements."""
    hits = nodes(value, path)
    return hits[0] if len(hits) == 1 and isinstance(hits[0], list) else hits


@dataclass
class Evidence:
    """A trial being scored."""

    script: Script
    story: Story
    matching: Matching = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.copies = list(self.script.copies)
        self.matching = match(self.copies, self.story.calls, self._fit, self._count_from)
        self._match_each()

    def _match_each(self) -> None:
        """Calls expected for every item of a result, once the others are matched.

        They are matched in the same way with the calls that are left. A source that is
        unmatched, or has no items, expects none.
        """
        made: dict[Expected, list[Copy]] = {}
        for expected in self.script.expected:
            each = expected.spec.each
            if each is None:
                continue
            values = self.source(each.from_, each.path, pick=_items) or []
            made[expected] = [Copy(expected.for_item(value), 0) for value in values]
        if not made:
            return
        taken = {id(call) for call in self.matching.values()}
        left = [call for call in self.story.calls if id(call) not in taken]
        more = [copy for copies in made.values() for copy in copies]
        self.matching = {**self.matching, **match(more, left, self._fit, self._count_from)}
        plain = {e: [c for c in self.copies if c.expected is e] for e in self.script.expected}
        self.copies = [c for e in self.script.expected for c in made.get(e, plain[e])]

    def situation(self, call: Call, matching: Matching | None = None) -> Situation:
        """What a matcher may look at when it judges an argument of a call."""
        under = self.matching if matching is None else matching
        return Situation(
            self.script.clock,
            lambda name, path: self.source(name, path, under),
            "\n".join(text for at, text in self.story.user_words if at <= call.start),
            lambda: self._texts_before(call.start),
        )

    def _texts_before(self, start: int) -> list[str]:
        return [c.text for c in self.story.calls if c.end is not None and c.end <= start]

    def source(
        self, name: str, path: str, matching: Matching | None = None, pick: Pick = found
    ) -> list[Any] | None:
        """The values of a call or a truth; None for an optional call not made.

        `pick` takes them from each result: by default all that a `from` may be.
        """
        if name in self.script.truths or name not in self.script.by_name:
            truth = self.story.trace.get("truth", {}).get(name)
            return pick(truth["result"], path) if truth else []
        under = self.matching if matching is None else matching
        calls = [call for copy, call in under.items() if copy.expected.name == name]
        if not calls and self.script.by_name[name].optional:
            return None
        return [value for call in calls for value in pick(call.result, path)]

    def _fit(self, copy: Copy, call: Call) -> tuple[int, int]:
        matchers = copy.expected.plain_args
        if not matchers:
            return 1, 1
        at = self.situation(call, {})
        held = sum(m.holds(call.args.get(k, ABSENT), at) for k, m in matchers.items())
        return held, len(matchers)

    def _count_from(self, matching: Matching) -> int:
        return sum(
            m.holds(call.args.get(k, ABSENT), self.situation(call, matching))
            for copy, call in matching.items()
            for k, m in copy.expected.from_args.items()
        )

    @cached_property
    def pairs(self) -> list[tuple[Copy, Call]]:
        """Matched copies with their calls, in list order."""
        return [(c, self.matching[c]) for c in self.copies if c in self.matching]

    @cached_property
    def matched(self) -> dict[str, list[Call]]:
        """Matched calls by the expected call's name."""
        by_name: dict[str, list[Call]] = {}
        for copy, call in self.pairs:
            by_name.setdefault(copy.expected.name, []).append(call)
        return by_name

    @cached_property
    def missing(self) -> list[Copy]:
        """Required copies that no call answers."""
        return [c for c in self.copies if c.required and c not in self.matching]

    def calls_of(self, expected: Expected) -> list[Call]:
        """The calls that answer an expected call."""
        return self.matched.get(expected.name, [])

    @cached_property
    def attempts(self) -> dict[str, list[Call]]:
        """Failed tries at an expected call, by its name: neither matched nor extra."""
        taken = {call: copy for copy, call in self.pairs}
        by_name: dict[str, list[Call]] = {}
        for call in self.story.calls:
            if call in taken or not call.failed:
                continue
            same_tool = [c for c in taken if c.tool == call.tool]
            later = [c for c in same_tool if c.index > call.index]
            failed_before = [c for c in same_tool if c.index < call.index and c.failed]
            owner = min(later, key=lambda c: c.index, default=None) or max(
                failed_before, key=lambda c: c.index, default=None
            )
            if owner:
                by_name.setdefault(taken[owner].expected.name, []).append(call)
        return by_name

    @cached_property
    def extra(self) -> list[Call]:
        """The calls that count in X: unmatched, no attempt, not allowed; and all `never` calls."""
        expect = self.script.task.expect
        others = self.others
        no_extra = {id(call) for _, call in self.pairs}
        no_extra |= {id(call) for calls in self.attempts.values() for call in calls}

        def counts(call: Call) -> bool:
            if fits_any(call.tool, expect.never):
                return True
            if id(call) in no_extra or others in (None, "allowed"):
                return False
            return not (isinstance(others, list) and fits_any(call.tool, others))

        return [call for call in self.story.calls if counts(call)]

    @cached_property
    def others(self) -> str | list[str] | None:
        """How unmatched calls are treated; None if the script lists no calls and says nothing."""
        expect = self.script.task.expect
        if expect.others is not None:
            return expect.others
        if expect.calls is None:
            return None
        return "counted" if expect.calls else "forbidden"

    @property
    def others_forbidden(self) -> bool:
        """Whether an extra call fails by itself."""
        return self.others == "forbidden" or isinstance(self.others, list)
