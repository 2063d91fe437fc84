"""What the families share: the script, the story, and which call answers what."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from typing import Any

from ferox.core.clock import Clock
from ferox.core.json_values import brief_json
from ferox.core.matcher import ABSENT, MatchContext, Matcher
from ferox.core.matching import Matching, match_calls
from ferox.core.script import Copy, Expected, PartScript, Script
from ferox.core.story import Call, Story, Turn, fits_any, is_stage, to_micros
from ferox.core.value_sources import ValueSource
from ferox.formats.result import Check, Family
from ferox.formats.suite import StageTools
from ferox.formats.trace import QuestionEvent


def make_check(
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


def share_passed(held: int, all_: int) -> float | None:
    """The part that holds, to 6 decimals; None if there was nothing to test."""
    return round(held / all_, 6) if all_ else None


def share_held(checks: list[Check]) -> float | None:
    """The part of the checks that passed, remarks aside."""
    decided = [c["passed"] for c in checks if c["passed"] is not None]
    return share_passed(sum(decided), len(decided))


NOT_LOOKED_UP = ("protocol_error", "timeout", "unknown_tool")
"""Errors by which a truth could not be looked up; one that the tool itself gave is an answer."""
Pick = Callable[[ValueSource, Any], list[Any]]
"""What a source takes of a result: `ValueSource.values`, `nodes` or `items`."""


def _picked_alternative(
    calls: list[Call], source: ValueSource, expected: Expected, pick: Pick
) -> list[Any] | None:
    if not calls and expected.is_optional:
        return None
    return [value for call in calls for value in pick(source, call.result)]


def forbids(entry: str | StageTools, call: Call) -> bool:
    """Whether an entry of `never` is about a call, as far as it was seen who made it."""
    if isinstance(entry, str):
        return fits_any(call.tool, [entry])
    return fits_any(call.tool, [entry.tool]) and is_stage(call.by, entry.by)


_clock = lru_cache(maxsize=256)(Clock)
"""Many traces share one clock, and its zone's rules take a while to read."""


@dataclass
class PartEvidence:
    """One part of a trial: its script, and what happened between its opening and the next.

    `begins` and `ends` are microseconds; a part that never opened has neither calls nor
    turns. Matching, attempts and extra calls are a part's own.
    """

    trial: Evidence
    number: int
    script: PartScript
    begins: int
    ends: float
    matching: Matching = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.copies = list(self.script.copies)
        self.calls = [c for c in self.trial.story.calls if self.contains_time(c.start)]
        first = self.trial.story.first_turn_at
        self.at_start = [c for c in self.trial.story.calls if c.start < first and not self.number]
        """Calls before the user's first words: they answer no expectation."""

    def contains_time(self, at: int) -> bool:
        """Whether a moment lies in this part."""
        return self.begins <= at < self.ends

    def match_calls(self) -> None:
        """Find which call answers which expected call; earlier parts have been matched."""
        self.matching = match_calls(self.copies, self.calls, self._pair_value, self._count_from)
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
            source = ValueSource.of_entry(each)
            values = self._part_source_values(source, self.matching, ValueSource.items) or []
            made[expected] = [Copy(expected.for_item(value), 0) for value in values]
        if not made:
            return
        taken = {id(call) for call in self.matching.values()}
        left = [call for call in self.calls if id(call) not in taken]
        more = [copy for copies in made.values() for copy in copies]
        self.matching = {
            **self.matching,
            **match_calls(more, left, self._pair_value, self._count_from),
        }
        plain = {e: [c for c in self.copies if c.expected is e] for e in self.script.expected}
        self.copies = [c for e in self.script.expected for c in made.get(e, plain[e])]

    def _pair_value(self, copy: Copy, call: Call) -> tuple[int, int]:
        matchers, stage = copy.expected.plain_args, copy.expected.spec.by
        held = total = 0
        if stage is not None and call.by is not None:
            held, total = int(is_stage(call.by, stage)), 1
        if matchers:
            at = self.trial.match_context(call)
            held += sum(m.holds_for(call.args.get(k, ABSENT), at) for k, m in matchers.items())
            total += len(matchers)
        return (held, total) if total else (1, 1)

    def _count_from(self, matching: Matching) -> int:
        return sum(
            m.holds_for(call.args.get(k, ABSENT), self._match_context(call, matching))
            for copy, call in matching.items()
            for k, m in copy.expected.from_args.items()
        )

    def _match_context(self, call: Call, matching: Matching) -> MatchContext:
        at = self.trial.match_context(call)
        return replace(at, sources=lambda source: self._part_source_values(source, matching))

    def _part_source_values(
        self, source: ValueSource, matching: Matching, pick: Pick = ValueSource.values
    ) -> list[Any] | None:
        """As the trial's, with this part's calls under a matching that is not settled yet."""
        part, expected = self.trial.script.by_name.get(source.name, (None, None))
        if part != self.number or expected is None:
            return self.trial.source_values(source, pick)
        calls = [call for copy, call in matching.items() if copy.expected.name == source.name]
        return _picked_alternative(calls, source, expected, pick)

    @cached_property
    def turns(self) -> list[Turn]:
        """The part's turns."""
        return [t for t in self.trial.story.turns if self.contains_time(t.start)]

    @cached_property
    def matched_pairs(self) -> list[tuple[Copy, Call]]:
        """Matched copies with their calls, in list order."""
        return [(c, self.matching[c]) for c in self.copies if c in self.matching]

    @cached_property
    def missing_copies(self) -> list[Copy]:
        """Required copies that no call answers."""
        return [c for c in self.copies if c.is_required and c not in self.matching]

    @cached_property
    def unseen_copies(self) -> list[Copy]:
        """The missing copies of which nobody can say whether they were called."""
        return [c for c in self.missing_copies if self.trial.story.may_be_unseen(c.tool)]

    @cached_property
    def failed_attempts(self) -> dict[str, list[Call]]:
        """Failed tries at an expected call, by its name: neither matched nor extra."""
        taken = {call: copy for copy, call in self.matched_pairs}
        by_name: dict[str, list[Call]] = {}
        for call in self.calls:
            if not call.failed or call in taken:
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
    def extra_calls(self) -> list[Call]:
        """The calls that count in X: unmatched, no attempt, not allowed; and all `never` calls."""
        never = [*self.script.expect.never, *self.trial.script.whole.never]
        others = self.rule_for_others
        no_extra = {id(call) for _, call in self.matched_pairs}
        no_extra |= {id(call) for calls in self.failed_attempts.values() for call in calls}
        matched_tools = {call.tool for _, call in self.matched_pairs}

        def counts(call: Call) -> bool:
            if any(forbids(entry, call) for entry in never):
                return True
            if id(call) in no_extra or others in (None, "allowed"):
                return False
            if call.tool in matched_tools and "outcomes" in call.unseen:
                return False  # it may have failed, and be an attempt
            return not (isinstance(others, list) and fits_any(call.tool, others))

        early = [c for c in self.at_start if any(forbids(entry, c) for entry in never)]
        return early + [call for call in self.calls if counts(call)]

    @cached_property
    def replaced_copies(self) -> list[tuple[Copy, Call]]:
        """Missing copies, each with the extra call that was chosen in its place.

        That is a missing and an extra call in the same gap. A gap lies between two neighbouring
        matched pairs, in list order for the missing and in time for the extra; several in one gap
        are paired in order.
        """
        pairs = self.matched_pairs
        places = {copy: i for i, copy in enumerate(self.copies)}

        def gap_of_missing(copy: Copy) -> tuple[int | None, int | None]:
            before = [c.index for p, c in pairs if places[p] < places[copy]]
            after = [c.index for p, c in pairs if places[p] > places[copy]]
            return (before[-1] if before else None, after[0] if after else None)

        def gap_of_extra(call: Call) -> tuple[int | None, int | None]:
            before = [c.index for _, c in pairs if c.index < call.index]
            after = [c.index for _, c in pairs if c.index > call.index]
            return (max(before, default=None), min(after, default=None))

        extras = [(gap_of_extra(c), c) for c in self.extra_calls if c not in self.at_start]
        found: list[tuple[Copy, Call]] = []
        for copy in self.missing_copies:
            if copy in self.unseen_copies:
                continue
            gap = gap_of_missing(copy)
            call = next((c for g, c in extras if g == gap), None)
            if call:
                extras = [(g, c) for g, c in extras if c is not call]
                found.append((copy, call))
        return found

    @cached_property
    def rule_for_others(self) -> str | list[str] | None:
        """How unmatched calls are treated; None if the script lists no calls and says nothing."""
        expect = self.script.expect
        if expect.others is not None:
            return expect.others
        if expect.calls is None:
            return None
        return "counted" if expect.calls else "forbidden"

    @property
    def others_forbidden(self) -> bool:
        """Whether an extra call fails by itself."""
        return self.rule_for_others == "forbidden" or isinstance(self.rule_for_others, list)


@dataclass
class Evidence:
    """A trial being scored: its parts, and what runs over all of them."""

    script: Script
    story: Story

    def __post_init__(self) -> None:
        self.clock: Clock = _clock(self.story.trace["clock"], self.story.trace["zone"])
        self.matched: dict[str, list[Call]] = {}
        """Matched calls by the expected call's name."""
        self.unseen_names: set[str] = set()
        """Names of expected calls of which nobody can say whether they were made: of the parts
        that are matched, which later ones may look back on."""
        self.parts = self._open_parts()
        for part in self.parts:
            part.match_calls()
            self.unseen_names.update(copy.expected.name for copy in part.unseen_copies)
            for copy, call in part.matched_pairs:
                self.matched.setdefault(copy.expected.name, []).append(call)

    def _open_parts(self) -> list[PartEvidence]:
        """The parts, each from its opening turn to the next part's."""
        opened: dict[int, int] = {}
        for turn in self.story.turns:
            opened.setdefault(turn.part, turn.start)
        never = float("inf")
        begins = [opened.get(n, never) for n in range(len(self.script.parts))]
        return [
            PartEvidence(self, n, part, begins=begin, ends=min(begins[n + 1 :], default=never))  # type: ignore[arg-type]
            for n, (part, begin) in enumerate(zip(self.script.parts, begins, strict=True))
        ]

    def match_context(self, call: Call) -> MatchContext:
        """What a matcher may look at when it judges an argument of a call."""
        return MatchContext(
            self.clock,
            self.source_values,
            lambda: "\n".join(text for at, text in self.story.user_words if at <= call.start),
            lambda: self._texts_before(call.start),
        )

    def _texts_before(self, start: int) -> list[str]:
        return [c.result_text for c in self.story.calls if c.end is not None and c.end <= start]

    def source_values(
        self, source: ValueSource, pick: Pick = ValueSource.values
    ) -> list[Any] | None:
        """The values of a call or a truth; None for an optional call not made, or one unseen.

        `pick` takes them from each result: by default all that a `from` may be.
        """
        name = source.name
        if name in self.script.answer_names:
            given = [q.get("data") for q in self.answered(name)]
            return [value for data in given for value in pick(source, data)]
        if name in self.script.truth_names or name not in self.script.by_name:
            truth = self.story.trace.get("truth", {}).get(name)
            return pick(source, truth["result"]) if truth else []
        if name in self.unseen_names:
            return None
        expected = self.script.by_name[name][1]
        return _picked_alternative(self.matched.get(name, []), source, expected, pick)

    def answered(self, name: str) -> list[QuestionEvent]:
        """The questions of servers that an entry of `answers` answered."""
        return [q for q in self.story.questions if q.get("name") == name]

    @cached_property
    def matched_pairs(self) -> list[tuple[Copy, Call]]:
        """Matched copies of all parts with their calls, in list order."""
        return [pair for part in self.parts for pair in part.matched_pairs]

    @cached_property
    def incomplete_names(self) -> frozenset[str]:
        """Names of expected calls of which a required copy is missing."""
        missing = {c.expected.name for part in self.parts for c in part.missing_copies}
        return frozenset(missing) - self.unseen_names

    def describe_matcher(self, matcher: Matcher) -> str:
        """What a matcher demands, with the days and the values that would have held."""
        days = ", ".join(dict.fromkeys(self.clock.day(d).isoformat() for d in matcher.days))
        clock = self.story.trace["clock"], self.story.trace["zone"]
        days = f" ({days} by the trial's clock, {' in '.join(clock)})" if days else ""
        return f"{matcher.description}{days}{self._found_text(matcher)}"

    def _found_text(self, matcher: Matcher) -> str:
        """What each `from` found."""
        parts = []
        for source in matcher.sources:
            name = source.name
            values = self.source_values(source, pick=ValueSource.nodes)
            if name in self.unseen_names:
                parts.append(f"whether {name} was called was not seen")
            elif values is None:
                parts.append(f"{name} was not called, so it must have been seen before")
            elif not values:
                parts.append(f"{name} gave nothing there")
            else:
                parts.append(f"{name} gave {', '.join(brief_json(v) for v in values[:3])}")
        return f": {'; '.join(parts)}" if parts else ""

    def draws_on_unseen(self, matcher: Matcher) -> bool:
        """Whether a value may come from a call of which nobody can say whether it was made."""
        return bool(self.unseen_names & {source.name for source in matcher.sources})

    def is_undecidable(self, matcher: Matcher) -> bool:
        """Whether what a matcher looks at is not told by a trace from elsewhere."""
        unseen = self.story.unseen
        if matcher.looks_back and unseen & {"results", "words", "calls"}:
            return True
        return any(self.is_unseen(source.name) for source in matcher.sources)

    def is_unseen(self, name: str) -> bool:
        """Whether a trace from elsewhere does not tell what a call gave, or a truth was; or a
        truth could not be looked up."""
        if name in self.script.truth_names:
            truth = self.story.trace.get("truth", {}).get(name)
            error = truth.get("error") if truth else None
            if error is not None and error["kind"] in NOT_LOOKED_UP:
                return True
            return "truth" in self.story.unseen and truth is None
        matched = self.matched.get(name, [])
        if any("results" in call.unseen for call in matched):
            return True
        # Of several calls whose failure would not show, which one was the attempt is not told.
        alike = [call for call in self.story.calls if matched and call.tool == matched[0].tool]
        return len(alike) > len(matched) and any("outcomes" in call.unseen for call in alike)

    def may_be_edited(self, call: Call) -> bool:
        """Whether a call may have gone out with other arguments than a trace from elsewhere tells:
        as edited by whoever approved it."""
        approvals = self.script.task.approvals if "approvals" in self.story.unseen else ()
        return any(entry.edit and fits_any(call.tool, [entry.tool]) for entry in approvals)

    def calls_of(self, expected: Expected) -> list[Call]:
        """The calls that answer an expected call."""
        return self.matched.get(expected.name, [])

    @cached_property
    def approved_by(self) -> dict[Call, Any]:
        """The approving ask that each matched call uses up.

        Matched calls take asks in order of time, each the earliest unused one for its tool
        that was decided (t + s) by the call's start.
        """
        left = [a for a in self.story.asks if a.get("decision") == "approve"]
        left.sort(key=lambda a: a["t"])
        taken: dict[Call, Any] = {}
        for call in (
            sorted((c for _, c in self.matched_pairs), key=lambda c: c.index) if left else ()
        ):
            for ask in left:
                decided = to_micros(ask["t"] + (ask.get("s") or 0))
                if ask["tool"] == call.tool and decided <= call.start:
                    taken[call] = ask
                    left.remove(ask)
                    break
        return taken
